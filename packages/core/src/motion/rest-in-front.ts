import { largestOf, median } from '../signal/statistics.ts';
import type { Motion } from './motion.ts';
import { angleAt, jointWeights, poseDistance } from './pose-distance.ts';

export const REST_DEFAULTS = Object.freeze({
  /** A pose within this of the rest pose, degrees (weighted RMS), is it: recorders turn feet and hands a little. */
  near: 12,
  /** From it the motion leaps by at least so many times the largest of the changes of pose right behind it, … */
  leap: 4,
  behind: 6,
  /** … on twos and threes, where each is larger, by fewer: by this divided by the frames a pose stands, and no fewer than these; … */
  leapLeast: 1.8,
  longest: 3,
  /** … and by at least so many degrees. */
  least: 8,
  /** So many frames must follow. */
  frames: 8,
  /** Rest poses nearer to each other than this, degrees, are one that is held. */
  same: 0.5,
});

/** A pose that changes by less than this, degrees, is held. */
const HELD = 2e-3;

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
  const changes = changesFrom(motion, count, weights);
  if (changes.length === 0) return count;
  const stands = median(changes.map(({ frames }) => frames));
  const { leap: most, leapLeast, longest } = REST_DEFAULTS;
  // Poses that stand longer are blocking: there the first one may be meant, and its change is as large as any.
  const times = stands > longest ? most : Math.max(leapLeast, most / stands);
  return leap >= times * largestOf(changes.map(({ size }) => size)) ? count : 0;
}

/** A change of pose: how large it is, degrees, and how many frames after the one before. */
interface Change {
  readonly size: number;
  readonly frames: number;
}

/** The first changes of pose from a sample on. */
function changesFrom(motion: Motion, from: number, weights: Float64Array): Change[] {
  const changes: Change[] = [];
  let last = from - 1;
  for (let f = from; f + 1 < motion.frames && changes.length < REST_DEFAULTS.behind; f++) {
    const size = poseDistance(motion, f, f + 1, weights);
    if (size < HELD) continue;
    changes.push({ size, frames: f - last });
    last = f;
  }
  return changes;
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
