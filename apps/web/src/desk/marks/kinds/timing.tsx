import { Fields, FramesFields, NumberField, STROKE } from './fields.tsx';
import type { MarkKindView } from './mark-kind-view.ts';
import { labelNow, valueAt } from './traced.ts';

/** Frames of a stretch that are drawn on the trace at most. */
const MOST = 400;

export const TIMING_VIEW: MarkKindView<'timing'> = {
  about: 'when something happens, or how long it takes',
  sign: <path {...STROKE} d="M-4-4V4M4-4V4M-4 0H4" />,
  Fields({ payload: { wanted }, want, draft }) {
    return (
      <Fields>
        {draft.from === draft.to ? (
          <NumberField label="wanted at" value={wanted.from} onChange={(from) => want({ from, to: from })} />
        ) : (
          <FramesFields from={{ label: 'wanted from', value: wanted.from }} to={wanted.to} onChange={want} />
        )}
      </Fields>
    );
  },
  /** The stretch as it is, on the frames it should take. */
  trace({ measured, wanted }, place, traced) {
    if (traced.trace === 'speed' || measured.to === measured.from || wanted.to === wanted.from) return [];
    const pace = (wanted.to - wanted.from) / (measured.to - measured.from);
    return Array.from({ length: Math.min(MOST, measured.to - measured.from) + 1 }, (_, k) => [
      wanted.from + k * pace,
      valueAt(traced, labelNow(place, measured.from + k)),
    ]);
  },
  frames: { read: ({ wanted }) => wanted, write: (labels) => labels },
};
