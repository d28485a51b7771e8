import type { Quat } from '../../motion/quaternion.ts';
import { dot, type Vec3 } from '../../motion/vector.ts';

/** The shortest turn that brings one direction onto another. */
export function shortestTurn(a: Vec3, b: Vec3): Quat {
  const w = 1 + dot(a, b);
  if (w < 1e-9) return [1, 0, 0, 0];
  const q: Quat = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0], w];
  const size = Math.hypot(...q);
  return [q[0] / size, q[1] / size, q[2] / size, q[3] / size];
}
