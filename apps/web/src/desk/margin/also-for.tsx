import { useAlike } from '../../api/data.ts';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Mark } from '@ypsigraph/contract/marks';

import { Button } from '../../kit/button.tsx';
import { Dialog } from '../../kit/dialog.tsx';
import { draftOf } from './draft.ts';
import { asPhrase } from './phrases.tsx';

/** A mark that is to be made on another shot too, from the same finding there: what its address carries along. */
export interface TakenAlong {
  /** The shot it is for. */
  readonly shot: string;
  readonly reading: string;
  readonly part: string | null;
  /** The words, with room for the numbers of the shot it is made on. */
  readonly words: string;
  readonly weight: Mark['weight'];
}

/** Whose shots show the same finding. A way leads to each: the mark waits there with that shot's own numbers, and is not made before it was read. */
export function AlsoFor({ mark, shotId }: { mark: Mark; shotId: string }) {
  const [open, setOpen] = useState(false);
  const quote = mark.payload?.quote;
  if (!quote) return null;
  return (
    <>
      <Button
        look="quiet"
        className="!min-h-6 !px-1.5 text-xs"
        title="The same mark for another student’s shot on which the same was found"
        onClick={() => setOpen(true)}
      >
        Also for …
      </Button>
      <Dialog
        open={open}
        onOpenChange={setOpen}
        title="The same on other shots"
        description="Shots of this exercise that wait for you. The mark gets that shot’s own numbers, and you read it before it is made."
      >
        {open && <Others mark={mark} shotId={shotId} onChosen={() => setOpen(false)} />}
      </Dialog>
    </>
  );
}

function Others({ mark, shotId, onChosen }: { mark: Mark; shotId: string; onChosen: () => void }) {
  const { reading, part } = mark.payload!.quote!;
  const { data, error } = useAlike(shotId, reading, part);
  const words = asPhrase(draftOf(mark));
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return <p className="text-graphite">Looking …</p>;
  if (data.length === 0) return <p className="text-graphite">No other waiting shot has this.</p>;
  return (
    <ul className="max-h-[50vh] divide-y divide-edge overflow-y-auto">
      {data.map((own) => (
        <li key={own.shot}>
          <Link
            to={`/desk/${own.shot}`}
            state={{ shot: own.shot, reading, part: own.part, words, weight: mark.weight } satisfies TakenAlong}
            onClick={onChosen}
            className="block rounded-sm px-1 py-1.5 hover:bg-wash"
          >
            <span className="font-semibold">{own.student}</span>{' '}
            <span className="text-xs text-graphite">
              R{own.revision}, {own.stage}, {own.judgement}
            </span>
            <span className="block text-sm">{own.say}</span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
