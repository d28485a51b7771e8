import type { PreparedShot } from './prepared-shot.ts';
import { type Quat, quatAt, rotate, unit } from './quaternion.ts';
import { dot, normalise, reject, type Vec3 } from './vector.ts';

/** Rotation about up by which the hips face away from the rest pose's forward, averaged over the first `frames` samples. */
export function meanHeading(shot: Pick<PreparedShot, 'motion' | 'world' | 'axes' | 'roles'>, frames: number): Quat {
  const { motion, world, axes } = shot;
  const joint = shot.roles.hips ?? 0;
  let sum: Vec3 = [0, 0, 0];
  for (let f = 0; f < frames; f++) {
    const facing = rotate(quatAt(world.rotations, f * motion.joints.length + joint), axes.forward);
    const flat = normalise(reject(facing, axes.up));
    sum = [sum[0] + flat[0], sum[1] + flat[1], sum[2] + flat[2]];
  }
  const half = Math.atan2(dot(sum, axes.left), dot(sum, axes.forward)) / 2;
  const s = Math.sin(half);
  return unit([axes.up[0] * s, axes.up[1] * s, axes.up[2] * s, Math.cos(half)]);
}
