import { useId } from 'react';
import { INPUT } from '../../kit/field.tsx';
import type { Placed } from './use-clip.ts';

/** The frame of a motion that what came with it begins at. */
export function BeginsAt({ placed: { place, mayMove, move }, what }: { placed: Placed; what: 'clip' | 'sound' }) {
  const id = useId();
  return (
    <label htmlFor={id} className="flex items-center gap-1.5 text-xs">
      {what} from frame
      <input
        id={id}
        type="number"
        step={1}
        min={-1_000_000}
        max={1_000_000}
        disabled={!mayMove}
        value={place.firstLabel}
        className={`${INPUT} frame-number !w-18 !py-0 text-xs`}
        onChange={({ target }) => {
          if (Number.isInteger(target.valueAsNumber)) move({ ...place, firstLabel: target.valueAsNumber });
        }}
      />
    </label>
  );
}
