import { Fields, NumberField, STROKE } from './fields.tsx';
import type { MarkKindView } from './mark-kind-view.ts';
import { type Line, labelNow, valueAt } from './traced.ts';

/** Points that a swing past an end is drawn by. */
const BUMP = 12;
/** Frames that a swing the other way first is drawn over at most. */
const BEFORE = 4;

export const OVERSHOOT_VIEW: MarkKindView<'overshoot'> = {
  about: 'past the end of a move, and back',
  sign: <path {...STROKE} d="M-5 3C-2 3-2-4 1-4S3 1 5 0" />,
  Fields({ payload: { wanted }, want }) {
    return (
      <Fields>
        <NumberField label="past its end, %" value={wanted.depth} onChange={(depth) => want({ ...wanted, depth })} />
        <NumberField
          label="for frames"
          value={wanted.frames}
          least={0}
          onChange={(frames) => want({ ...wanted, frames })}
        />
        <NumberField
          label="the other way first, %"
          value={wanted.anticipation}
          onChange={(anticipation) => want({ ...wanted, anticipation })}
        />
      </Fields>
    );
  },
  /** A little the other way, the move, and past its end for so many frames. */
  trace({ measured, wanted }, place, traced) {
    // How far past is measured of a turn.
    if (!traced.trace.startsWith('turn')) return [];
    const [from, to] = [labelNow(place, measured.from), labelNow(place, measured.to)];
    const [start, end] = [valueAt(traced, from), valueAt(traced, to)];
    const travel = end - start;
    const before = Math.min(to - from, BEFORE);
    return [
      ...bump(from - before, before, start, (-wanted.anticipation / 100) * travel),
      [from, start],
      [to, end],
      ...bump(to, wanted.frames, end, (wanted.depth / 100) * travel),
    ];
  },
};

const bump = (first: number, frames: number, level: number, height: number): Line =>
  frames > 0 && height !== 0
    ? Array.from({ length: BUMP + 1 }, (_, k) => [
        first + (k / BUMP) * frames,
        level + height * Math.sin((Math.PI * k) / BUMP),
      ])
    : [];
