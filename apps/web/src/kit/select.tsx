import { useRef } from 'react';

interface Props<T extends string> {
  readonly label: string;
  readonly value: T | undefined;
  readonly onChange: (value: T) => void;
  readonly options: readonly { readonly value: T; readonly text: string }[];
  readonly placeholder?: string;
  readonly className?: string;
  /** Chosen from by pointer it gives the keys back to the page: where single letters do something, they are not to choose on. */
  readonly givesBack?: boolean;
}

/** One of several: the browser's own list, which every hand and every reader of screens knows. */
export function Select<T extends string>({
  label,
  value,
  onChange,
  options,
  placeholder,
  className = '',
  givesBack = false,
}: Props<T>) {
  const pointed = useRef(false);
  return (
    <select
      aria-label={label}
      className={`min-h-7 truncate rounded-md border border-edge-strong bg-sheet px-1.5 py-0.5 hover:bg-wash ${/\btext-/.test(className) ? '' : 'text-sm'} ${className}`}
      value={value ?? ''}
      onPointerDown={() => (pointed.current = true)}
      onKeyDown={() => (pointed.current = false)}
      onChange={(event) => {
        onChange(event.target.value as T);
        if (givesBack && pointed.current) event.target.blur();
      }}
    >
      {value === undefined && (
        <option value="" disabled hidden>
          {placeholder ?? ''}
        </option>
      )}
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.text}
        </option>
      ))}
    </select>
  );
}
