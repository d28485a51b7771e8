import { useState } from 'react';
import type { Mark, MarkEvent } from '@ypsigraph/contract/marks';
import { useMarkHistory } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { day } from '../../kit/when.ts';

const WHAT: Readonly<Record<MarkEvent['what'], string>> = {
  made: 'made',
  changed: 'changed',
  sent: 'sent',
  answered: 'answered',
  open: 'opened again',
  cleared: 'cleared',
  waived: 'waived',
  placed: 'moved',
  archived: 'deleted',
};

/** Who did what with a mark, and when: folded away until somebody asks. */
export function MarkHistory({ mark }: { mark: Mark }) {
  const [open, setOpen] = useState(false);
  const { data: events, error } = useMarkHistory(open ? mark.id : undefined);
  return (
    <>
      <Button look="quiet" className="!min-h-6 px-1.5 text-xs" aria-expanded={open} onClick={() => setOpen(!open)}>
        History
      </Button>
      {open && (
        <ol className="order-last w-full border-l border-edge pl-2 text-2xs text-graphite" data-testid="history">
          {error && <li role="alert">{error.message}</li>}
          {events?.map(({ what, author, at }, k) => (
            <li key={k}>
              {WHAT[what]} by {author.name}, {day(at)}
            </li>
          ))}
        </ol>
      )}
    </>
  );
}
