import { ANTICIPATION, measureMoveEnds, OVERSHOOT, OVERSHOOT_FRAMES, SWINGS } from '../measure/moves/move-ends.ts';
import { frames, percent } from '../say/words.ts';
import { isWithin, nearestSpan, overlap, placedTurn } from './place.ts';
import { LABEL, LENGTH, PERCENT } from './number-shape.ts';
import type { Labels, MarkTool } from './mark-tool.ts';
import { sideOf } from './side.ts';

export interface MeasuredOvershoot extends Labels {
  /** How far past its end, percent of the move. */
  readonly depth: number;
  readonly frames: number;
  readonly swings: number;
  /** How far the other way first, percent of the move. */
  readonly anticipation: number;
}
export interface WantedOvershoot {
  readonly depth: number;
  readonly frames: number;
  readonly anticipation: number;
}

/** An overshoot within so many percent of the move of the one that is wanted is as deep. */
const NEAR = 2;

/** Frames a swing past the end lasts on: a mark on it stands there. */
const BEHIND = 8;

const tell = (depth: number, length: number, anticipation: number): string => {
  const past = depth < 0.5 ? 'it stops dead at its end' : `${percent(depth)} past its end, for ${frames(length)}`;
  return anticipation < 0.5 ? past : `${percent(anticipation)} the other way first, ${past}`;
};

/** The end of a move: how far past it, for how long, and how far the other way before. */
export const OVERSHOOT_MARK: MarkTool<'overshoot', MeasuredOvershoot, WantedOvershoot> = {
  kind: 'overshoot',
  numbers: {
    measured: {
      from: LABEL,
      to: LABEL,
      depth: PERCENT,
      frames: LENGTH,
      swings: LENGTH,
      anticipation: PERCENT,
    },
    wanted: { depth: PERCENT, frames: LENGTH, anticipation: PERCENT },
  },
  spans: 'as measured',
  measure(shot, place) {
    if (!isWithin(shot, place) || shot.exposures.blocking) return null;
    const turn = placedTurn(shot, { point: place.point ?? shot.motion.joints[shot.roles.head ?? -1]?.name ?? null });
    if (!turn || turn.length < 6) return null;
    const { readings } = measureMoveEnds(shot, turn, 'asked');
    const spanOf = ({ detail: { from, to } }: { detail: Labels }): Labels => ({
      from: Math.round(from),
      to: Math.round(to),
    });
    const moves = OVERSHOOT.among(readings).map(spanOf);
    const reach = BEHIND * (shot.fps / 24);
    const move = nearestSpan(
      moves.map((span) => ({ ...span, to: span.to + reach })),
      place,
    );
    if (!move || overlap(move, place) <= 0) return null;
    const span = { from: move.from, to: move.to - reach };
    const own = (kind: Pick<typeof OVERSHOOT, 'among'>): number =>
      kind.among(readings).find((reading) => spanOf(reading).from === span.from && spanOf(reading).to === span.to)
        ?.value ?? 0;
    return {
      ...span,
      depth: own(OVERSHOOT),
      frames: own(OVERSHOOT_FRAMES),
      swings: own(SWINGS),
      anticipation: own(ANTICIPATION),
    };
  },
  propose: ({ depth, frames: length, anticipation }) => ({
    depth: Math.round(depth),
    frames: Math.round(length),
    anticipation: Math.round(anticipation),
  }),
  say: (measured, wanted) => ({
    now: measured
      ? `${tell(measured.depth, measured.frames, measured.anticipation)}${measured.swings > 1 ? `, and ${measured.swings} swings before it rests` : ''}`
      : '',
    wanted: wanted ? tell(wanted.depth, wanted.frames, wanted.anticipation) : '',
  }),
  distance: (measured, wanted) => ({
    distance: Math.max(
      Math.abs(measured.depth - wanted.depth) - NEAR,
      Math.abs(measured.anticipation - wanted.anticipation) - NEAR,
    ),
    unit: '% of the move',
    side: sideOf(measured.depth - wanted.depth),
  }),
};
