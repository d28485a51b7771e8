import { Field } from './field.tsx';
import { Select } from './select.tsx';

interface Props {
  readonly label: string;
  readonly names: readonly string[];
  /** Undefined: the first. */
  readonly value: string | undefined;
  readonly onChange: (name: string) => void;
}

/** One of several things that a file holds; nothing where it holds one alone. */
export function WhichOne({ label, names, value, onChange }: Props) {
  if (names.length < 2) return null;
  return (
    <Field label={label}>
      {() => (
        <Select
          label={label}
          value={value ?? names[0]!}
          onChange={onChange}
          options={names.map((name) => ({ value: name, text: name }))}
          className="w-full"
        />
      )}
    </Field>
  );
}
