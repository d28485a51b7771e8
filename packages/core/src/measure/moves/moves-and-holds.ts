import { jointWeights, poseDistance, poseSteps } from '../../motion/pose-distance.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { type Measured, type Reading, tidy, unmade } from '../reading.ts';

/** Thresholds of section 2, shares of V. */
export const HOLD_DEFAULTS = Object.freeze({
  /** A hold begins where the speed falls under this share of V … */
  begins: 0.08,
  /** … and ends where it passes this one. */
  ends: 0.15,
  /** Shorter rests are part of the move, frames at 24 fps. */
  shortest: 4,
  /** V is the 95th percentile of the speeds over this share of the largest, so that a short move in a long rest counts. */
  counts: 1 / 20,
  percentile: 0.95,
  /** A hold that drifts less, in percent of the move before it, is dead. */
  dead: 0.5,
  /** So is one in which for this share of its frames nothing moves at all: no step over this share of the move before it. */
  frozenFrames: 0.6,
  frozen: 0.0005,
  /** One that drifts more creeps. */
  creeping: 8,
});

/** Something that moves and rests over samples. */
export interface MovingSignal {
  /** Step from each sample to the next, not negative. */
  readonly steps: Float64Array;
  /** The same with its direction, where the signal has one. */
  readonly signed?: Float64Array;
  /** How far apart two samples are. */
  distance(a: number, b: number): number;
}

/** A stretch of samples, both ends included. */
export interface Stretch {
  readonly kind: 'move' | 'hold';
  readonly from: number;
  readonly to: number;
}

/** A scalar signal as one that moves and rests. */
export function scalarSignal(values: Float64Array): MovingSignal {
  const signed = Float64Array.from({ length: Math.max(0, values.length - 1) }, (_, i) => values[i + 1]! - values[i]!);
  return { steps: signed.map(Math.abs), signed, distance: (a, b) => Math.abs(values[b]! - values[a]!) };
}

/** The whole pose as one that moves and rests: degrees of pose distance. */
export function poseSignal({ motion }: PreparedShot): MovingSignal {
  const weights = jointWeights(motion);
  return { steps: poseSteps(motion, weights), distance: (a, b) => poseDistance(motion, a, b, weights) };
}

/**
 * The signal with its speeds as they are at 24 fps: at more frames a second each is the mean over a frame of 24 fps about it, so that what
 * trembles from sample to sample in a recording is neither a move nor the end of a hold.
 */
export function atPlayingSpeed(moving: MovingSignal, fps: number): MovingSignal {
  const reach = Math.round(fps / 24);
  if (reach < 2) return moving;
  const source = moving.signed ?? moving.steps;
  const n = source.length;
  const sums = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) sums[i + 1] = sums[i]! + source[i]!;
  const means = Float64Array.from({ length: n }, (_, i) => {
    const from = Math.max(0, i - Math.floor((reach - 1) / 2));
    const to = Math.min(n, i + Math.floor(reach / 2) + 1);
    return (sums[to]! - sums[from]!) / (to - from);
  });
  return { ...moving, steps: means.map(Math.abs), ...(moving.signed && { signed: means }) };
}

/** V: the speed a signal's moves reach. 0 where nothing moves. */
function fastSpeed(steps: Float64Array): number {
  const largest = steps.reduce((a, b) => Math.max(a, b), 0);
  if (!(largest > 1e-9)) return 0;
  const counted = steps.filter((step) => step > HOLD_DEFAULTS.counts * largest).sort();
  return counted[Math.floor(HOLD_DEFAULTS.percentile * (counted.length - 1))]!;
}

/**
 * Samples at which a move turns straight into one the other way: its direction reverses while the speed on both sides stays over
 * 0.15 V, so that between two moves there is no hold at all. A swing past the end, smaller than half of the move it belongs to, is none.
 */
export function turnsWithoutHold(moving: MovingSignal, { from, to }: Stretch): number[] {
  const { signed, steps } = moving;
  if (!signed) return [];
  const least = HOLD_DEFAULTS.ends * fastSpeed(steps);
  const bends = [from];
  for (let k = from + 1; k < to; k++) if (signed[k - 1]! * signed[k]! < 0) bends.push(k);
  bends.push(to);
  return bends.slice(1, -1).filter((at, k) => {
    if (!(steps[at - 1]! >= least && steps[at]! >= least)) return false;
    const [before, after] = [moving.distance(bends[k]!, at), moving.distance(at, bends[k + 2]!)];
    return Math.min(before, after) >= 0.5 * Math.max(before, after);
  });
}

/**
 * Cuts a signal into moves and holds, with hysteresis: a hold begins where the speed falls under 0.08 V and ends where it passes
 * 0.15 V. Rests that are too short belong to the move they lie in.
 *
 * @param least shortest hold, frames at 24 fps
 * @returns stretches in order, each beginning where the one before ends; empty where nothing moves
 */
export function movesAndHolds(moving: MovingSignal, fps: number, least: number = HOLD_DEFAULTS.shortest): Stretch[] {
  const { steps } = atPlayingSpeed(moving, fps);
  const n = steps.length;
  const V = fastSpeed(steps);
  if (V === 0) return [];
  const shortest = Math.max(2, Math.round(least * (fps / 24)));
  const holds: { from: number; to: number }[] = [];
  let start = -1;
  for (let i = 0; i < n; i++) {
    if (start < 0 && steps[i]! < HOLD_DEFAULTS.begins * V) start = i;
    else if (start >= 0 && steps[i]! > HOLD_DEFAULTS.ends * V) {
      holds.push({ from: start, to: i });
      start = -1;
    }
  }
  if (start >= 0) holds.push({ from: start, to: n });
  const stretches: Stretch[] = [];
  let at = 0;
  for (const { from, to } of holds.filter((hold) => hold.to - hold.from >= shortest)) {
    if (from > at) stretches.push({ kind: 'move', from: at, to: from });
    stretches.push({ kind: 'hold', from, to });
    at = to;
  }
  if (at < n) stretches.push({ kind: 'move', from: at, to: n });
  return stretches;
}

export const MOVE_IDS = ['move.frames', 'hold.frames', 'hold.drift', 'hold.kind'] as const;

/** How far a move goes; one that comes back to where it began, as far as it got. */
export function travelOf(moving: MovingSignal, { from, to }: Stretch): number {
  let farthest = 0;
  for (let s = from + 1; s <= to; s++) farthest = Math.max(farthest, moving.distance(from, s));
  const net = moving.distance(from, to);
  return net < farthest / 2 ? farthest : net;
}

/** `move.frames`, `hold.frames`, `hold.drift` and `hold.kind` of a signal: one reading an occurrence. */
export function measureMoves(shot: PreparedShot, moving: MovingSignal, part?: string): Measured {
  const where = part === undefined ? {} : { part };
  if (shot.motion.frames < 6)
    return unmade('move.frames', `it needs 6 frames or more, the shot has ${shot.motion.frames}`, part);
  const stretches = movesAndHolds(moving, shot.fps);
  if (stretches.length === 0) return unmade('move.frames', 'nothing moves', part);
  const readings: Reading[] = [];
  const playing = atPlayingSpeed(moving, shot.fps);
  stretches.forEach(({ kind, from, to }, k) => {
    const span = { from: labelOf(shot, from), to: labelOf(shot, to) };
    const frames = [span.from, span.to];
    if (kind === 'move') {
      readings.push({
        id: 'move.frames',
        ...where,
        value: to - from,
        unit: 'frames',
        frames,
        detail: { ...span, travel: tidy(travelOf(moving, stretches[k]!)) },
      });
      for (const sample of turnsWithoutHold(playing, stretches[k]!)) {
        const at = labelOf(shot, sample);
        const note = 'two moves with no hold between them';
        readings.push({
          id: 'hold.kind',
          ...where,
          value: 'creeping',
          unit: '–',
          frames: [at],
          detail: { from: at, to: at },
          note,
        });
      }
      return;
    }
    readings.push({ id: 'hold.frames', ...where, value: to - from, unit: 'frames', frames, detail: span });
    const before = stretches[k - 1];
    if (!before) return;
    let farthest = 0;
    for (let s = from + 1; s <= to; s++) farthest = Math.max(farthest, moving.distance(from, s));
    const travel = Math.max(travelOf(moving, before), 1e-9);
    const drift = (100 * farthest) / travel;
    // A move that eases in leaves a drift at the start of its hold, frozen or not.
    const still = moving.steps.subarray(from, to).filter((step) => step <= HOLD_DEFAULTS.frozen * travel).length;
    const frozen = still >= Math.max(HOLD_DEFAULTS.shortest, HOLD_DEFAULTS.frozenFrames * (to - from));
    const name = frozen || drift < HOLD_DEFAULTS.dead ? 'dead' : drift > HOLD_DEFAULTS.creeping ? 'creeping' : 'moving';
    readings.push({ id: 'hold.drift', ...where, value: tidy(drift), unit: '%', frames, detail: span });
    readings.push({ id: 'hold.kind', ...where, value: name, unit: '–', frames, detail: span });
  });
  return { readings, unmade: [] };
}
