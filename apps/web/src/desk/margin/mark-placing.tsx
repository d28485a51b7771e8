import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import type { MarkPlacing } from '@ypsigraph/contract/alignments';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { refreshCarried } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { type PlacedMark, placingWords } from '../marks/placed-marks.ts';

/** Where a mark of an earlier revision lies on the one on the desk, with what puts it right by hand. */
export function MarkPlacingLine({
  mark,
  revision,
  canPlace,
}: {
  mark: PlacedMark;
  revision: string;
  canPlace: boolean;
}) {
  const [open, setOpen] = useState(false);
  const words = placingWords(mark);
  const place = (to: MarkPlacing['place']): void =>
    void attempt(async () => {
      const body: MarkPlacing = { revision, place: to };
      await refreshCarried(revision, await call(ROUTES.placeMark, { id: mark.id }, body));
      setOpen(false);
    });
  if (words === '' && !canPlace) return null;
  return (
    <div className="mt-0.5 flex flex-wrap items-center gap-x-1.5 text-2xs text-graphite" data-testid="placing">
      {words}
      {canPlace && !open && (
        <Button look="quiet" className="!min-h-6 !px-1 text-2xs" onClick={() => setOpen(true)}>
          Move
        </Button>
      )}
      {open && <Frames mark={mark} onPlace={place} />}
    </div>
  );
}

function Frames({ mark, onPlace }: { mark: PlacedMark; onPlace: (place: MarkPlacing['place']) => void }) {
  const [from, setFrom] = useState(mark.from);
  const [to, setTo] = useState(mark.to);
  const field = (label: string, value: number, set: (value: number) => void) => (
    <label className="flex items-center gap-1">
      {label}
      <input
        type="number"
        step={1}
        value={Number.isNaN(value) ? '' : value}
        className={`${INPUT} frame-number !w-14 !px-1 !py-0 text-2xs`}
        onChange={({ target }) => set(target.valueAsNumber)}
      />
    </label>
  );
  const right = Number.isInteger(from) && Number.isInteger(to) && from <= to;
  return (
    <form
      className="flex flex-wrap items-center gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (right) onPlace({ from, to });
      }}
    >
      {field('from', from, setFrom)}
      {field('to', to, setTo)}
      <Button type="submit" className="!min-h-6 px-1.5 text-2xs" disabled={!right}>
        Put here
      </Button>
      {mark.placing.by === 'hand' && (
        <Button look="quiet" className="!min-h-6 px-1.5 text-2xs" onClick={() => onPlace(null)}>
          Where its frames are
        </Button>
      )}
    </form>
  );
}
