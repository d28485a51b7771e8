import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { partners } from './mirror.ts';

/**
 * How far the joints of one pose are from those of another's mirror, both seen from their hips: root mean square, %L. What is carried at one
 * side has no mirror and is left out; 0 where there are no hips to see from.
 *
 * @param a sample of the first pose
 * @param b sample of the pose that is mirrored in the figure's plane of symmetry
 * @example the contact of a good walk and the one half a cycle later give 0
 */
export function posesOffMirror(shot: PreparedShot, a: number, b: number): number {
  const { hips } = shot.roles;
  if (hips === undefined) return 0;
  const partner = partners(shot);
  const n = shot.motion.joints.length;
  const { left } = shot.axes;
  const p = shot.world.positions;
  let sum = 0;
  let count = 0;
  for (let joint = 0; joint < n; joint++) {
    if (partner[joint]! < 0) continue;
    const own = (c: number): number => p[3 * (a * n + joint) + c]! - p[3 * (a * n + hips) + c]!;
    const other = (c: number): number => p[3 * (b * n + partner[joint]!) + c]! - p[3 * (b * n + hips) + c]!;
    const across = other(0) * left[0] + other(1) * left[1] + other(2) * left[2];
    for (let c = 0; c < 3; c++) sum += (own(c) - (other(c) - 2 * across * left[c]!)) ** 2;
    count++;
  }
  return (100 * Math.sqrt(sum / Math.max(1, count))) / shot.scale.legLength;
}
