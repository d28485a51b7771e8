import { largestOf } from '../signal/statistics.ts';
import type { Motion } from './motion.ts';
import { angleAt, jointWeights, poseDistance } from './pose-distance.ts';

export const REST_DEFAULTS = Object.freeze({
  /** A pose within this of the rest pose, degrees (weighted RMS), is it: recorders turn feet and hands a little. */
  near: 12,
  /** From it the motion leaps by at least so many times the largest of the steps right behind it, … */
  leap: 4,
  behind: 6,
  /** … and by at least so many degrees. */
  least: 8,
  /** So many frames must follow. */
  frames: 8,
  /** Rest poses nearer to each other than this, degrees, are one that is held. */
  same: 0.5,
});

/**
 * Samples at the start of a file that show the rest pose and nothing else, from which the motion leaps into its first own pose: many programs and recorders put
 * one there (common practice). They are no part of what was animated.
 *
 * @returns their number, 0 for none
 */
export function restPosesInFront(motion: Motion): number {
  const weights = jointWeights(motion);
  if (motion.frames < REST_DEFAULTS.frames || fromRest(motion, weights) > REST_DEFAULTS.near) return 0;
  let count = 1;
  while (count < motion.frames && poseDistance(motion, 0, count, weights) < REST_DEFAULTS.same) count++;
  if (motion.frames - count < REST_DEFAULTS.frames) return 0;
  const leap = poseDistance(motion, count - 1, count, weights);
  if (leap < REST_DEFAULTS.least) return 0;
  const behind = Math.min(REST_DEFAULTS.behind, motion.frames - count - 1);
  const steps = Array.from({ length: behind }, (_, k) => poseDistance(motion, count + k, count + k + 1, weights));
  return leap >= REST_DEFAULTS.leap * largestOf(steps) ? count : 0;
}

/** How far the first pose is from the rest pose, in which no joint is turned: weighted RMS over the joints, degrees. */
function fromRest({ joints, rotations }: Motion, weights: Float64Array): number {
  const none = Float64Array.of(0, 0, 0, 1);
  let [sum, all] = [0, 0];
  joints.forEach((_, j) => {
    const angle = angleAt(rotations, 4 * j, none, 0);
    sum += weights[j]! * angle * angle;
    all += weights[j]!;
  });
  return all > 0 ? Math.sqrt(sum / all) : 0;
}
