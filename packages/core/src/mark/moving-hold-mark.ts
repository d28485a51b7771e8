import { HOLD_DRIFT, HOLD_KIND, judgeRest, measureMoves } from '../measure/moves/moves-and-holds.ts';
import { atPlayingSpeed, type MovingSignal } from '../measure/moves/moving-signal.ts';
import { isMove, stretchesOf, travelOf } from '../measure/moves/stretches.ts';
import { roundTo4 } from '../measure/reading.ts';
import { type PreparedShot, sampleAt } from '../motion/prepared-shot.ts';
import { frames, percent } from '../say/words.ts';
import { isWithin, nearestSpan, overlap, placedSignal } from './place.ts';
import { LABEL, PERCENT } from './number-shape.ts';
import type { Labels, MarkTool } from './mark-tool.ts';
import { sideOf } from './side.ts';

export interface MeasuredHold extends Labels {
  /** Percent of the move before it; null where no move comes before, or it turns round without a hold. */
  readonly drift: number | null;
  readonly kind: 'dead' | 'moving' | 'creeping';
}
export interface WantedHold extends Labels {
  readonly drift: number;
}

/** A drift within so many percent of the move before is as wanted; a hold a frame longer or shorter too. */
const NEAR = 2;
/** A drift to ask for where there is none to keep: enough to live, too little to creep. */
const ALIVE = 3;
/** Frames a look needs to read, at 24 fps (common practice). */
const READS = 12;

const KINDS = { dead: 'it is dead', moving: 'it moves', creeping: 'it creeps' } as const;

/**
 * What moves on where somebody wants it to rest: an arm at the end of its swing. Judged as the hold it should be, against the move that comes
 * before it, or round the loop against the last; of a frame alone nothing can be said.
 */
function restThatIsWanted(shot: PreparedShot, moving: MovingSignal, { from, to }: Labels): MeasuredHold | null {
  const stretch = { from: sampleAt(shot, from), to: sampleAt(shot, to) };
  if (stretch.to <= stretch.from) return null;
  const moves = stretchesOf(moving, shot.fps).filter(isMove);
  const before = moves.findLast((move) => move.to <= (stretch.from + stretch.to) / 2) ?? moves.at(-1);
  if (!before) return null;
  const { drift, kind } = judgeRest(moving, atPlayingSpeed(moving, shot.fps), stretch, travelOf(moving, before));
  return { from, to, drift: roundTo4(drift), kind };
}

/** A rest that is not a freeze: where it lies, and how much it drifts. */
export const MOVING_HOLD_MARK: MarkTool<'moving hold', MeasuredHold, WantedHold> = {
  kind: 'moving hold',
  numbers: {
    measured: {
      from: LABEL,
      to: LABEL,
      drift: { ...PERCENT, nullable: true },
      kind: { is: 'one of', words: ['dead', 'moving', 'creeping'] },
    },
    wanted: { from: LABEL, to: LABEL, drift: PERCENT },
  },
  spans: 'as measured',
  measure(shot, place) {
    if (!isWithin(shot, place) || shot.exposures.blocking || shot.motion.frames < 6) return null;
    const moving = placedSignal(shot, place);
    const { readings } = measureMoves(shot, moving);
    const spanOf = ({ detail: { from, to } }: { detail: Labels }): Labels => ({
      from: Math.round(from),
      to: Math.round(to),
    });
    const drifts = HOLD_DRIFT.among(readings);
    const holds = HOLD_KIND.among(readings).map((reading): MeasuredHold => {
      const span = spanOf(reading);
      const drift = drifts.find((other) => spanOf(other).from === span.from && spanOf(other).to === span.to);
      return { ...span, drift: drift?.value ?? null, kind: reading.value };
    });
    const near = nearestSpan(holds, place);
    return near && overlap(near, place) > 0 ? near : restThatIsWanted(shot, moving, place);
  },
  propose: ({ from, to, kind, drift }, place) => ({
    from: kind === 'creeping' && to === from ? place.from : from,
    to: kind === 'creeping' && to === from ? Math.max(place.to, place.from + READS) : to,
    drift: kind === 'moving' && drift !== null ? Math.round(drift) : ALIVE,
  }),
  say(measured, wanted) {
    const told = measured && (measured.to === measured.from ? 'it turns round without a hold' : KINDS[measured.kind]);
    const drifts = measured?.drift == null ? '' : `, drifting by ${percent(measured.drift)} of the move before`;
    const lasts = measured && measured.to > measured.from ? `, for ${frames(measured.to - measured.from)}` : '';
    return {
      now: measured ? `${told}${drifts}${lasts}` : '',
      wanted: wanted
        ? `a hold from ${wanted.from} to ${wanted.to} that drifts by ${percent(wanted.drift)} of the move before`
        : '',
    };
  },
  distance(measured, wanted) {
    const length = Math.abs(measured.to - measured.from - (wanted.to - wanted.from)) - 1;
    const drift = Math.abs((measured.drift ?? 100) - wanted.drift) - NEAR;
    return drift > 0 || length <= 0
      ? { distance: drift, unit: '% of the move', side: sideOf((measured.drift ?? 100) - wanted.drift) }
      : { distance: length, unit: 'frames', side: sideOf(measured.to - measured.from - (wanted.to - wanted.from)) };
  },
};
