import { Check, ChevronDown } from 'lucide-react';
import { Select as Radix } from 'radix-ui';

interface Props<T extends string> {
  readonly label: string;
  readonly value: T | undefined;
  readonly onChange: (value: T) => void;
  readonly options: readonly { readonly value: T; readonly text: string }[];
  readonly placeholder?: string;
  readonly className?: string;
}

export function Select<T extends string>({ label, value, onChange, options, placeholder, className = '' }: Props<T>) {
  return (
    <Radix.Root {...(value !== undefined && { value })} onValueChange={(chosen) => onChange(chosen as T)}>
      <Radix.Trigger
        aria-label={label}
        className={`inline-flex min-h-7 items-center justify-between gap-2 rounded-md border border-edge-strong bg-sheet px-2 py-0.5 text-sm hover:bg-wash ${className}`}
      >
        <span className="truncate">
          <Radix.Value placeholder={placeholder} />
        </span>
        <Radix.Icon>
          <ChevronDown size={13} />
        </Radix.Icon>
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          position="popper"
          sideOffset={3}
          className="z-[60] max-h-[min(22rem,var(--radix-select-content-available-height))] overflow-hidden rounded-md border border-edge-strong bg-sheet shadow-[0_6px_20px_rgb(var(--shadow)/0.2)]"
        >
          <Radix.Viewport className="p-1">
            {options.map((option) => (
              <Radix.Item
                key={option.value}
                value={option.value}
                className="flex items-center gap-2 rounded-sm px-2 py-1 text-sm outline-none data-[highlighted]:bg-wash"
              >
                <span className="w-3.5">
                  <Radix.ItemIndicator>
                    <Check size={13} />
                  </Radix.ItemIndicator>
                </span>
                <Radix.ItemText>{option.text}</Radix.ItemText>
              </Radix.Item>
            ))}
          </Radix.Viewport>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
