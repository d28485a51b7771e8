import { Slot } from 'radix-ui';
import type { ButtonHTMLAttributes, ReactNode } from 'react';

const LOOKS = {
  plain: 'border-edge-strong bg-sheet hover:bg-wash text-ink',
  quiet: 'border-transparent bg-transparent hover:bg-wash text-ink',
  strong: 'border-ink bg-ink text-sheet hover:opacity-90',
  instructor: 'border-instructor bg-instructor text-sheet hover:opacity-90',
  student: 'border-student bg-student text-sheet hover:opacity-90',
} as const;

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  readonly look?: keyof typeof LOOKS;
  readonly asChild?: boolean;
  /** Drawn as pressed; for buttons that turn something on and off. */
  readonly on?: boolean;
  readonly children: ReactNode;
}

export function Button({ look = 'plain', asChild = false, on, className = '', ...rest }: Props) {
  const Tag = asChild ? Slot.Root : 'button';
  const pressed = on === undefined ? {} : { 'aria-pressed': on };
  const state = on ? 'border-ink bg-wash font-semibold' : LOOKS[look];
  return (
    <Tag
      {...(asChild ? {} : { type: 'button' })}
      {...pressed}
      className={`inline-flex min-h-7 items-center justify-center gap-1.5 rounded-md border px-2.5 py-0.5 text-sm whitespace-nowrap disabled:opacity-45 ${state} ${className}`}
      {...rest}
    />
  );
}
