import { X } from 'lucide-react';
import { Dialog as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props {
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
  readonly title: string;
  readonly description?: string;
  readonly wide?: boolean;
  readonly children: ReactNode;
}

/** A sheet of paper laid over the page. */
export function Dialog({ open, onOpenChange, title, description, wide = false, children }: Props) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-[rgb(var(--shadow)/0.35)]" />
        <Radix.Content
          {...(description ? {} : { 'aria-describedby': undefined })}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[90vh] w-[92vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-lg border border-edge-strong bg-sheet p-5 shadow-[0_12px_40px_rgb(var(--shadow)/0.25)] ${wide ? 'max-w-3xl' : 'max-w-lg'}`}
        >
          <div className="mb-3 flex items-start justify-between gap-4">
            <div>
              <Radix.Title className="text-xl">{title}</Radix.Title>
              {description && <Radix.Description className="mt-0.5 text-graphite">{description}</Radix.Description>}
            </div>
            <Radix.Close aria-label="Close" className="rounded-md p-1 hover:bg-wash">
              <X size={16} />
            </Radix.Close>
          </div>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
