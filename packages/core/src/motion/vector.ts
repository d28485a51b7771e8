/** A point or direction: x, y, z in the file's units and axes. */
export type Vec3 = readonly [number, number, number];

export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scale = (a: Vec3, k: number): Vec3 => [a[0] * k, a[1] * k, a[2] * k];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
/** Length of a vector. By a root of squares: `Math.hypot` guards against overflow, which no figure comes near, and takes ten times as long. */
export const length = (a: Vec3): number => Math.sqrt(a[0] * a[0] + a[1] * a[1] + a[2] * a[2]);
export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** The vector scaled to length 1; a zero vector stays zero. */
export function normalise(a: Vec3): Vec3 {
  const n = length(a);
  return n > 0 ? scale(a, 1 / n) : [0, 0, 0];
}

/** What is left of `a` once its part along the unit vector `axis` is taken out. */
export function reject(a: Vec3, axis: Vec3): Vec3 {
  const d = dot(a, axis);
  return [a[0] - axis[0] * d, a[1] - axis[1] * d, a[2] - axis[2] * d];
}

/** The angle between two directions of any length, degrees, 0 to 180. Accurate for small angles, unlike the arc cosine of a dot product. */
export const angleBetweenDirections = (a: Vec3, b: Vec3): number =>
  (Math.atan2(length(cross(a, b)), dot(a, b)) * 180) / Math.PI;
