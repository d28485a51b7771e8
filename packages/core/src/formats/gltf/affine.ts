import { fromBasis, type Quat, unit, vec3At } from '../../motion/quaternion.ts';
import type { Vec3 } from '../../motion/vector.ts';

/** An affine transform: the first three rows of a 4 × 4 matrix, column by column as glTF has them: three columns of axes, then where the origin goes. */
export type Affine = Float64Array<ArrayBuffer>;

export const affine = (): Affine => Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0);

/** From a matrix of 16 numbers, column by column; its last row is 0, 0, 0, 1 in everything glTF allows. */
export const fromMatrix = (m: ArrayLike<number>, at = 0): Affine =>
  Float64Array.of(
    ...[0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14].map((k) => m[at + k]!), // prettier-ignore
  );

/** A scale, then a turn, then a move (Khronos, *glTF 2.0 Specification*, section 3.6.2.1: T · R · S). */
export function compose(move: ArrayLike<number>, turn: ArrayLike<number>, size: ArrayLike<number>, into: Affine): void {
  const [x, y, z, w] = [turn[0]!, turn[1]!, turn[2]!, turn[3]!];
  const [sx, sy, sz] = [size[0]!, size[1]!, size[2]!];
  into[0] = (1 - 2 * (y * y + z * z)) * sx;
  into[1] = 2 * (x * y + z * w) * sx;
  into[2] = 2 * (x * z - y * w) * sx;
  into[3] = 2 * (x * y - z * w) * sy;
  into[4] = (1 - 2 * (x * x + z * z)) * sy;
  into[5] = 2 * (y * z + x * w) * sy;
  into[6] = 2 * (x * z + y * w) * sz;
  into[7] = 2 * (y * z - x * w) * sz;
  into[8] = (1 - 2 * (x * x + y * y)) * sz;
  into[9] = move[0]!;
  into[10] = move[1]!;
  into[11] = move[2]!;
}

/** a · b: first b, then a. `into` may be neither of them. */
export function multiply(a: Affine, b: Affine, into: Affine): Affine {
  for (let column = 0; column < 4; column++)
    for (let row = 0; row < 3; row++) {
      let sum = column === 3 ? a[9 + row]! : 0;
      for (let k = 0; k < 3; k++) sum += a[3 * k + row]! * b[3 * column + k]!;
      into[3 * column + row] = sum;
    }
  return into;
}

export const product = (a: Affine, b: Affine): Affine => multiply(a, b, affine());

/** The other way round; undefined where it flattens everything. */
export function inverse(m: Affine): Affine | undefined {
  const [a, b, c, d, e, f, g, h, i, x, y, z] = m as unknown as number[] as [
    ...[number, number, number, number, number, number],
    ...[number, number, number, number, number, number],
  ];
  const det = determinant(m);
  if (!(Math.abs(det) > 1e-30) || !Number.isFinite(det)) return undefined;
  const own = [
    ...[e * i - f * h, c * h - b * i, b * f - c * e],
    ...[f * g - d * i, a * i - c * g, c * d - a * f],
    ...[d * h - e * g, b * g - a * h, a * e - b * d],
  ].map((value) => value / det);
  const moved = [0, 1, 2].map((row) => -(own[row]! * x + own[3 + row]! * y + own[6 + row]! * z));
  return Float64Array.of(...own, ...moved);
}

/** How much larger a volume is afterwards; negative where it is mirrored. */
export const determinant = (m: Affine): number =>
  m[0]! * (m[4]! * m[8]! - m[5]! * m[7]!) -
  m[3]! * (m[1]! * m[8]! - m[2]! * m[7]!) +
  m[6]! * (m[1]! * m[5]! - m[2]! * m[4]!);

export const originOf = (m: Affine): Vec3 => [m[9]!, m[10]!, m[11]!];

const STEPS = 30;

/**
 * The turn in a transform, whatever it scales: the orthogonal part of its polar decomposition, by Newton's iteration (Higham 1986, *Computing the
 * polar decomposition*), as a quaternion. A transform that mirrors has none; its other half is given.
 */
export function turnOf(m: Affine): Quat {
  let own = Float64Array.from(m);
  own.fill(0, 9);
  if (determinant(own) < 0) for (let k = 0; k < 9; k++) own[k] = -own[k]!;
  for (let step = 0; step < STEPS; step++) {
    const back = inverse(own);
    if (!back) break;
    // The inverse's transpose, row by row where the inverse is column by column.
    const next = affine();
    let off = 0;
    for (let column = 0; column < 3; column++)
      for (let row = 0; row < 3; row++) {
        const k = 3 * column + row;
        next[k] = (own[k]! + back[3 * row + column]!) / 2;
        off = Math.max(off, Math.abs(next[k] - own[k]!));
      }
    own = next;
    if (off < 1e-14) break;
  }
  return unit(fromBasis(vec3At(own, 0), vec3At(own, 1), vec3At(own, 2)));
}
