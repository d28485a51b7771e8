import { HOLDING } from '../../motion/kinds.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { frames, percent, span } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { type Measured, type Reading, refuse, type Span, roundTo4 } from '../reading.ts';
import { atPlayingSpeed, type MovingSignal } from './moving-signal.ts';
import { isMove, stretchesOf, travelOf } from './stretches.ts';

const MOVES = 'something that moves and rests, over 6 frames or more';

export const MOVE_FRAMES = describeReading({
  id: 'move.frames',
  holds: holding<number, Span & { travel: number; anticipates: number; settles: number }>(),
  name: 'length of a move',
  unit: 'frames',
  needs: MOVES,
  kinds: HOLDING,
  time: true,
  mark: 'timing',
  thrownBy: { strayFrame: true },
  say: ({ value, detail }, part) => `${part} moves for ${frames(value)}, ${span(detail)}`,
});
const HOLD_FRAMES = describeReading({
  id: 'hold.frames',
  holds: holding<number, Span & { cut?: true }>(),
  name: 'length of a hold',
  unit: 'frames',
  needs: MOVES,
  kinds: HOLDING,
  time: true,
  mark: 'moving hold',
  flags: { cut: 'cut by an end of the shot' },
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, detail }, part) => `${part} holds for ${frames(value)}, ${span(detail)}`,
});
export const HOLD_DRIFT = describeReading({
  id: 'hold.drift',
  holds: holding<number, Span>(),
  name: 'drift in a hold',
  unit: '%',
  needs: MOVES,
  kinds: HOLDING,
  mark: 'moving hold',
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, detail }, part) =>
    `in its hold ${span(detail)} ${part} drifts by ${percent(value)} of the move before`,
});
export const HOLD_KIND = describeReading({
  id: 'hold.kind',
  holds: holding<'dead' | 'moving' | 'creeping', Span & { betweenMoves?: true }>(),
  name: 'kind of hold',
  unit: '–',
  needs: MOVES,
  kinds: HOLDING,
  mark: 'moving hold',
  values: ['dead', 'moving', 'creeping'],
  explains: { 'hold.drift': 'of the same part and frames', 'ease.in': 'of the same part and frames' },
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, detail }, part) =>
    detail.betweenMoves
      ? `${part} turns round at frame ${Math.round(detail.from)} without a hold: it creeps from move to move`
      : value === 'moving'
        ? `${part} keeps a moving hold ${span(detail)}`
        : value === 'dead'
          ? `nothing moves in the hold of ${part} ${span(detail)}: it is dead`
          : `${part} never stops in its hold ${span(detail)}: it creeps`,
});

export const MOVES_AND_HOLDS = [MOVE_FRAMES, HOLD_FRAMES, HOLD_DRIFT, HOLD_KIND] as const;

export const HOLD_DEFAULTS = Object.freeze({
  /** A hold that drifts less, in percent of the move before it, is dead. */
  dead: 0.5,
  /** So is one in which for this share of its frames nothing moves at all: no step over this share of the move before it. */
  frozenFrames: 0.6,
  frozen: 3e-5,
  frozenLeast: 4,
  /** One that drifts more creeps. */
  creeping: 8,
});

/** Readings of the moves and holds of a signal. */
export function measureMoves(shot: PreparedShot, moving: MovingSignal, part?: string): Measured {
  const where = part === undefined ? {} : { part };
  if (shot.motion.frames < 6)
    return refuse(MOVES_AND_HOLDS, `it needs 6 poses or more, the shot has ${shot.motion.frames}`, part);
  const stretches = stretchesOf(moving, shot.fps);
  if (stretches.length === 0) return refuse(MOVES_AND_HOLDS, 'nothing moves', part);
  const playing = atPlayingSpeed(moving, shot.fps);
  const readings: Reading[] = [];
  stretches.forEach((stretch, k) => {
    const detail = { from: labelOf(shot, stretch.from), to: labelOf(shot, stretch.to) };
    const more = { ...where, frames: [detail.from, detail.to] };
    if (isMove(stretch)) {
      const travel = roundTo4(travelOf(moving, stretch));
      const anticipates = framesIn(shot, stretch.from - stretch.begins);
      const settles = framesIn(shot, stretch.rests - stretch.to);
      readings.push(
        MOVE_FRAMES.of(detail.to - detail.from, { ...more, detail: { ...detail, travel, anticipates, settles } }),
      );
      if (stretch.afterNoHold)
        readings.push(
          HOLD_KIND.of('creeping', {
            ...where,
            frames: [detail.from],
            detail: { from: detail.from, to: detail.from, betweenMoves: true },
          }),
        );
      return;
    }
    // The shot’s own ends cut a hold: it may have lasted longer.
    const cut = stretch.from === 0 || stretch.to === shot.motion.frames - 1;
    readings.push(HOLD_FRAMES.of(detail.to - detail.from, { ...more, detail: { ...detail, ...(cut && { cut }) } }));
    const before = stretches.slice(0, k).findLast(isMove);
    if (!before) return;
    const { drift, kind } = judgeRest(moving, playing, stretch, travelOf(moving, before));
    readings.push(HOLD_DRIFT.of(roundTo4(drift), { ...more, detail }), HOLD_KIND.of(kind, { ...more, detail }));
  });
  const told = new Set(readings.map(({ id }) => id));
  const silent = MOVES_AND_HOLDS.filter(({ id }) => !told.has(id));
  const why = told.has(HOLD_FRAMES.id) ? 'no move comes before its hold' : 'it never rests';
  return { readings, unmade: refuse(silent, why, part).unmade };
}

/** What a rest is: how far it drifts, in percent of the move before it, and what that makes of it. */
export interface JudgedRest {
  readonly drift: number;
  readonly kind: 'dead' | 'moving' | 'creeping';
}

/**
 * Judges a stretch of a signal as a rest, whether it was found to be one or is wanted to be one.
 *
 * @param playing the signal as it is played, see `atPlayingSpeed`
 * @param stretch samples, both within
 * @param before travel of the move before it, in the signal's unit
 */
export function judgeRest(moving: MovingSignal, playing: MovingSignal, stretch: Span, before: number): JudgedRest {
  const travel = Math.max(before, 1e-9);
  const drift = (100 * farthestIn(moving, stretch)) / travel;
  const steps = playing.steps.subarray(stretch.from, stretch.to);
  const still = steps.filter((step) => step <= HOLD_DEFAULTS.frozen * travel).length;
  const frozen = still >= Math.max(HOLD_DEFAULTS.frozenLeast, HOLD_DEFAULTS.frozenFrames * steps.length);
  if (frozen || drift < HOLD_DEFAULTS.dead) return { drift, kind: 'dead' };
  return { drift, kind: drift > HOLD_DEFAULTS.creeping ? 'creeping' : 'moving' };
}

function farthestIn(moving: MovingSignal, { from, to }: Span): number {
  let farthest = 0;
  for (let s = from + 1; s <= to; s++) farthest = Math.max(farthest, moving.distance(from, s));
  return farthest;
}
