import type { Motion } from './motion.ts';
import { sampled } from '../signal/sampled.ts';

/**
 * Weight of each joint in pose distances: the rest length of all that hangs from it, so that the spine counts more than a finger.
 * Sums to 1. A joint from which nothing hangs counts a thousandth of the whole, so that it is not lost altogether.
 */
export function jointWeights(motion: Pick<Motion, 'joints'>): Float64Array {
  const hanging = new Float64Array(motion.joints.length);
  for (let j = motion.joints.length - 1; j >= 0; j--) {
    const joint = motion.joints[j]!;
    for (const end of joint.ends) hanging[j]! += Math.hypot(...end);
    if (joint.parent >= 0) hanging[joint.parent]! += hanging[j]! + Math.hypot(...joint.offset);
  }
  const total = hanging.reduce((a, b) => a + b, 0) || 1;
  const floored = hanging.map((h) => Math.max(h / total, 0.001));
  const sum = floored.reduce((a, b) => a + b, 0);
  return floored.map((h) => h / sum);
}

const DEGREES = 180 / Math.PI;

/** Angle in degrees between two local rotations of flat arrays, each given by its first index. */
export function angleAt(a: Float64Array, i: number, b: Float64Array, k: number): number {
  const ax = a[i]!,
    ay = a[i + 1]!,
    az = a[i + 2]!,
    aw = a[i + 3]!;
  const bx = b[k]!,
    by = b[k + 1]!,
    bz = b[k + 2]!,
    bw = b[k + 3]!;
  const w = aw * bw + ax * bx + ay * by + az * bz;
  const x = aw * bx - ax * bw - ay * bz + az * by;
  const y = aw * by + ax * bz - ay * bw - az * bx;
  const z = aw * bz - ax * by + ay * bx - az * bw;
  return 2 * DEGREES * Math.atan2(Math.sqrt(x * x + y * y + z * z), Math.abs(w));
}

/**
 * Pose distance d: root mean square over joints of the angle between local rotations, weighted; degrees.
 * @param a sample of the first pose, 0-based
 * @param b sample of the second pose
 */
export function poseDistance(motion: Motion, a: number, b: number, weights = jointWeights(motion)): number {
  const count = motion.joints.length;
  let sum = 0;
  for (let j = 0; j < count; j++) {
    const angle = angleAt(motion.rotations, 4 * (a * count + j), motion.rotations, 4 * (b * count + j));
    sum += weights[j]! * angle * angle;
  }
  return Math.sqrt(sum);
}

/** Pose distance of every frame to the next: N − 1 values, degrees. */
export function poseSteps(motion: Motion, weights = jointWeights(motion)): Float64Array {
  return sampled(Math.max(0, motion.frames - 1), (i) => poseDistance(motion, i, i + 1, weights));
}
