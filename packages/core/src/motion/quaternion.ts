import { angleBetweenDirections, cross, length, normalise, reject, type Vec3 } from './vector.ts';

/** A rotation as a unit quaternion x, y, z, w. */
export type Quat = readonly [number, number, number, number];

export const IDENTITY: Quat = [0, 0, 0, 1];

const RADIANS = Math.PI / 180;

/** Hamilton product: the rotation `b` followed, in the outer frame, by `a`. */
export const multiply = (a: Quat, b: Quat): Quat => [
  a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
  a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
  a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
  a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2],
];

/** The inverse of a unit quaternion. */
export const conjugate = (q: Quat): Quat => [-q[0], -q[1], -q[2], q[3]];

/** Rotation by `degrees` about the unit vector `axis`, right-handed. */
export function axisAngle(axis: Vec3, degrees: number): Quat {
  const half = (degrees * RADIANS) / 2;
  const s = Math.sin(half);
  return [axis[0] * s, axis[1] * s, axis[2] * s, Math.cos(half)];
}

export const rotateX = (degrees: number): Quat => axisAngle([1, 0, 0], degrees);
export const rotateY = (degrees: number): Quat => axisAngle([0, 1, 0], degrees);
export const rotateZ = (degrees: number): Quat => axisAngle([0, 0, 1], degrees);

/** The vector turned by the rotation. */
export function rotate(q: Quat, v: Vec3): Vec3 {
  const [x, y, z, w] = q;
  const tx = 2 * (y * v[2] - z * v[1]);
  const ty = 2 * (z * v[0] - x * v[2]);
  const tz = 2 * (x * v[1] - y * v[0]);
  return [v[0] + w * tx + y * tz - z * ty, v[1] + w * ty + z * tx - x * tz, v[2] + w * tz + x * ty - y * tx];
}

/** Angle between two rotations, degrees, 0 to 180. Accurate for small angles, unlike the arc cosine of a dot product. */
export function angleBetween(a: Quat, b: Quat): number {
  const [x, y, z, w] = multiply(conjugate(a), b);
  return (2 * Math.atan2(Math.sqrt(x * x + y * y + z * z), Math.abs(w))) / RADIANS;
}

/** The quaternion scaled to length 1. */
export function unit(q: Quat): Quat {
  const n = Math.hypot(q[0], q[1], q[2], q[3]) || 1;
  return [q[0] / n, q[1] / n, q[2] / n, q[3] / n];
}

/** Spherical interpolation from `a` (u = 0) to `b` (u = 1) along the shorter way. */
export function slerp(a: Quat, b: Quat, u: number): Quat {
  let d = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const sign = d < 0 ? -1 : 1;
  d = Math.min(1, Math.abs(d));
  const theta = Math.acos(d);
  if (theta < 1e-7) return unit([0, 1, 2, 3].map((k) => a[k]! * (1 - u) + sign * b[k]! * u) as unknown as Quat);
  const ka = Math.sin((1 - u) * theta) / Math.sin(theta);
  const kb = (sign * Math.sin(u * theta)) / Math.sin(theta);
  return [a[0] * ka + b[0] * kb, a[1] * ka + b[1] * kb, a[2] * ka + b[2] * kb, a[3] * ka + b[3] * kb];
}

/** The quaternion at position `k` (counted in quaternions) of a flat array. */
export const quatAt = (array: Float64Array, k: number): Quat => [
  array[4 * k]!,
  array[4 * k + 1]!,
  array[4 * k + 2]!,
  array[4 * k + 3]!,
];

/** The point at position `k` (counted in points) of a flat array. */
export const vec3At = (array: Float64Array, k: number): Vec3 => [array[3 * k]!, array[3 * k + 1]!, array[3 * k + 2]!];

/** The rotation that carries the coordinate axes onto three unit vectors square to each other (right-handed). */
export function fromBasis(x: Vec3, y: Vec3, z: Vec3): Quat {
  const trace = x[0] + y[1] + z[2];
  if (trace > 0) {
    const s = 2 * Math.sqrt(trace + 1);
    return [(y[2] - z[1]) / s, (z[0] - x[2]) / s, (x[1] - y[0]) / s, s / 4];
  }
  if (x[0] > y[1] && x[0] > z[2]) {
    const s = 2 * Math.sqrt(1 + x[0] - y[1] - z[2]);
    return [s / 4, (y[0] + x[1]) / s, (z[0] + x[2]) / s, (y[2] - z[1]) / s];
  }
  if (y[1] > z[2]) {
    const s = 2 * Math.sqrt(1 + y[1] - x[0] - z[2]);
    return [(y[0] + x[1]) / s, s / 4, (z[1] + y[2]) / s, (z[0] - x[2]) / s];
  }
  const s = 2 * Math.sqrt(1 + z[2] - x[0] - y[1]);
  return [(z[0] + x[2]) / s, (z[1] + y[2]) / s, s / 4, (x[1] - y[0]) / s];
}

/** Product of any number of rotations, the first outermost. */
export const compose = (...rotations: Quat[]): Quat => rotations.reduce(multiply, IDENTITY);

/** The rotation mirrored in the plane square to the X axis. */
export const mirrorX = (q: Quat): Quat => [q[0], -q[1], -q[2], q[3]];

/** The rotation by the smallest angle that carries one direction onto another. */
export function shortestTurn(from: Vec3, to: Vec3): Quat {
  const angle = angleBetweenDirections(from, to);
  const axis = cross(from, to);
  if (length(axis) > 1e-12 * length(from) * length(to)) return axisAngle(normalise(axis), angle);
  if (angle < 90) return [0, 0, 0, 1];
  // The other way round: about any axis across.
  const [x, y, z] = from;
  const across: Vec3 = Math.abs(x) < Math.abs(y) || Math.abs(x) < Math.abs(z) ? [1, 0, 0] : [0, 1, 0];
  return axisAngle(normalise(reject(across, normalise(from))), 180);
}
