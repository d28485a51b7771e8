import type { Motion } from './motion.ts';
import { jointWeights, poseDistance, poseSteps } from './pose-distance.ts';
import { JITTER_DEFAULTS, jitterOf } from './jitter.ts';
import { median } from '../signal/statistics.ts';

/** `repeat`: the last sample repeats the first, T = N − 1. `follow`: the last comes just before the first, T = N. */
export type Loop = 'none' | 'repeat' | 'follow';

/** Thresholds of loop detection. */
export const LOOP_DEFAULTS = Object.freeze({
  /** `repeat` when the last pose is nearer the first than this share of the median step. */
  repeatWithin: 0.25,
  /** `follow` when the step from last to first lies between these multiples of the mean of the steps beside it. */
  followFrom: 0.25,
  followTo: 2.5,
  /** A step under this share of the large ones (95th percentile) is rest; this many at both ends make the shot no loop. */
  restUnder: 0.08,
  restFrames: 4,
});

/**
 * Finds a shot's loop habit from its poses. A shot at rest at both ends starts and ends in the same pose without being a loop. What every
 * joint trembles by from frame to frame is taken out of the distances first.
 *
 * @param legs joints of the legs, where there is a walk to close
 */
export function detectLoop(motion: Motion, legs: readonly number[] = []): Loop {
  const n = motion.frames;
  if (n < 6) return 'none';
  const noise = poseNoise(motion);
  const whole = habitBy(motion, jointWeights(motion), noise);
  // Of a walk whose arms do not come back the legs say whether it does.
  if (whole === 'repeat' || legs.length === 0) return whole;
  const weights = new Float64Array(motion.joints.length);
  for (const joint of legs) weights[joint] = 1 / legs.length;
  return habitBy(motion, weights, noise) === 'repeat' ? 'repeat' : whole;
}

/** The habit by some joints' weights. */
function habitBy(motion: Motion, weights: Float64Array, noise: number): Loop {
  const n = motion.frames;
  const beyond = (distance: number): number => Math.sqrt(Math.max(0, distance ** 2 - noise ** 2));
  const steps = poseSteps(motion, weights).map(beyond);
  const middle = median(steps);
  const large = Float64Array.from(steps).sort()[Math.floor(0.95 * (steps.length - 1))]!;
  if (!(large > 1e-6)) return 'none';
  const { restFrames, restUnder } = LOOP_DEFAULTS;
  const still = (from: number, to: number): boolean => steps.slice(from, to).every((step) => step < restUnder * large);
  if (n > 3 * restFrames && still(0, restFrames) && still(steps.length - restFrames, steps.length)) return 'none';
  const wrap = beyond(poseDistance(motion, n - 1, 0, weights));
  if (wrap < LOOP_DEFAULTS.repeatWithin * middle) return 'repeat';
  const beside = (steps[0]! + steps[steps.length - 1]!) / 2;
  // Recordings often begin with one frame of a calibration pose: the step after it is no measure of the motion.
  const usual = wrap < LOOP_DEFAULTS.followTo * large;
  return usual && wrap > LOOP_DEFAULTS.followFrom * beside && wrap < LOOP_DEFAULTS.followTo * beside
    ? 'follow'
    : 'none';
}

/** Pose distance that trembling alone makes between two frames, degrees. */
function poseNoise(motion: Motion): number {
  const jitter = jitterOf(motion);
  // Each of the two poses is off about three axes.
  return jitter > JITTER_DEFAULTS.from ? jitter * Math.sqrt(6) : 0;
}

/** Whether the last pose is the first one again. */
export const closes = (motion: Motion): boolean =>
  motion.frames > 2 && poseDistance(motion, 0, motion.frames - 1) < 0.05;

/** A cycle shorter than this, frames, is not looked for within a longer loop. */
const SHORTEST_CYCLE = 6;

/**
 * How many times the same cycle is there within a loop: the most, up to eight, for which every pose is the pose one cycle later, to within a
 * quarter of the mean step on average.
 */
export function cyclesWithin(motion: Motion, period: number): number {
  const weights = jointWeights(motion);
  for (let k = 8; k >= 2; k--) {
    const cycle = period / k;
    if (!Number.isInteger(cycle) || cycle < SHORTEST_CYCLE) continue;
    let sum = 0;
    let step = 0;
    let isPeriodic = true;
    for (let i = 0; i < period && isPeriodic; i++) {
      sum += poseDistance(motion, i, (i + cycle) % period, weights);
      step += poseDistance(motion, i, (i + 1) % period, weights);
      // Most shots are told apart from a repetition by their first few poses.
      isPeriodic = i < 4 || sum <= 4 * LOOP_DEFAULTS.repeatWithin * step;
    }
    if (isPeriodic && step > 0 && sum <= LOOP_DEFAULTS.repeatWithin * step) return k;
  }
  return 1;
}

/** Period T in frames of a shot of `frames` samples; for no loop the number of samples. */
export const loopPeriod = (loop: Loop, frames: number): number => (loop === 'repeat' ? frames - 1 : frames);
