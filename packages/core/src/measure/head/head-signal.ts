import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate } from '../../motion/quaternion.ts';
import { cross, dot, normalise, reject, type Vec3 } from '../../motion/vector.ts';

/** Where the head faces on average over the shot, level; and to its left. */
export interface HeadFacing {
  readonly forward: Vec3;
  readonly left: Vec3;
  /** Turn away from there at each sample, degrees, positive to the left; goes on over half a circle. */
  readonly turn: Float64Array;
}

/** How the head turns about up. Undefined where the head is not known. */
export function headFacing({ motion, world, roles, axes }: PreparedShot): HeadFacing | undefined {
  const joint = roles.head;
  if (joint === undefined) return undefined;
  const n = motion.joints.length;
  const facings = Array.from({ length: motion.frames }, (_, f) =>
    normalise(reject(rotate(quatAt(world.rotations, f * n + joint), axes.forward), axes.up)),
  );
  const sum = facings.reduce<[number, number, number]>((s, v) => [s[0] + v[0], s[1] + v[1], s[2] + v[2]], [0, 0, 0]);
  const forward = Math.hypot(...sum) > 1e-6 * motion.frames ? normalise(sum) : axes.forward;
  const left = cross(axes.up, forward);
  const turn = new Float64Array(motion.frames);
  facings.forEach((facing, f) => {
    const raw = (Math.atan2(dot(facing, left), dot(facing, forward)) * 180) / Math.PI;
    turn[f] = f === 0 ? raw : raw + 360 * Math.round((turn[f - 1]! - raw) / 360);
  });
  return { forward, left, turn };
}
