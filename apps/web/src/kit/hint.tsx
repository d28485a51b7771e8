import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';

/** A word about a control, and the key that does the same. */
export function Hint({
  text,
  shortcut,
  side = 'bottom',
  children,
}: {
  text: string;
  shortcut?: string;
  side?: 'bottom' | 'right' | 'top';
  children: ReactNode;
}) {
  return (
    <Tooltip.Root delayDuration={350}>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side={side}
          sideOffset={6}
          className="z-[70] max-w-64 rounded-md bg-ink px-2 py-1 text-xs text-sheet"
        >
          {text}
          {shortcut && <kbd className="ml-2 rounded-sm border border-sheet/40 px-1 font-mono">{shortcut}</kbd>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
