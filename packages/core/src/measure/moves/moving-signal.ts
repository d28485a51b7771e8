import { jointWeights, poseDistance, poseSteps } from '../../motion/pose-distance.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { sampled } from '../../signal/sampled.ts';

/** Something that moves and rests over samples. */
export interface MovingSignal {
  /** Step from each sample to the next, not negative. */
  readonly steps: Float64Array;
  /** The same with its direction, where the signal has one. */
  readonly signed?: Float64Array;
  /** How far apart two samples are. */
  distance(a: number, b: number): number;
}

/** A scalar signal as one that moves and rests. */
export function scalarSignal(values: Float64Array): MovingSignal {
  const signed = sampled(Math.max(0, values.length - 1), (i) => values[i + 1]! - values[i]!);
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
  const means = sampled(n, (i) => {
    const from = Math.max(0, i - Math.floor((reach - 1) / 2));
    const to = Math.min(n, i + Math.floor(reach / 2) + 1);
    return (sums[to]! - sums[from]!) / (to - from);
  });
  return { ...moving, steps: means.map(Math.abs), ...(moving.signed && { signed: means }) };
}
