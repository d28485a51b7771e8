import type { Luma } from './luma.ts';
import { type Patch, sample, weightsOf } from './patch.ts';

/** How a patch lies on a picture: its pixel (u, v) from the middle at (x + xx·u + xy·v, y + yx·u + yy·v). */
export type Warp = [x: number, y: number, xx: number, xy: number, yx: number, yy: number];

/** A patch that is so much lighter or darker than it was, of 0…255, is half as likely the same. */
const LIGHT = 24;
/** Steps after which it is as near as it comes. */
const STEPS = 14;

/** The linear part of a warp that comes after another. */
export function turned(
  [, , xx, xy, yx, yy]: Warp,
  [a, b, c, d]: readonly [number, number, number, number],
): [number, number, number, number] {
  return [xx * a + xy * c, xx * b + xy * d, yx * a + yy * c, yx * b + yy * d];
}

/**
 * Brings a patch to where it is most alike, from a first guess: Gauss–Newton steps on place and linear part, the pixels of both less their mean
 * and made equally strong, so that neither light nor fading matters. The linear part is held back where the pixels say little about it.
 */
export function fit(picture: Luma, patch: Patch, start: Warp): { warp: Warp; likeness: number } {
  const { half, values, slopeX, slopeY, light, size } = patch;
  const side = 2 * half + 1;
  const weights = weightsOf(half);
  const n = values.length;
  // Inverse compositional: the slopes are the patch's own, so that the normal equations are set up once.
  const normal = new Float64Array(36);
  const row = new Float64Array(6);
  for (let v = -half; v <= half; v++)
    for (let u = -half; u <= half; u++) {
      const k = (v + half) * side + u + half;
      jacobian(row, slopeX[k]!, slopeY[k]!, u, v);
      for (let i = 0; i < 6; i++) for (let j = i; j < 6; j++) normal[6 * i + j]! += weights[k]! * row[i]! * row[j]!;
    }
  for (let i = 0; i < 6; i++) for (let j = 0; j < i; j++) normal[6 * i + j] = normal[6 * j + i]!;
  const trace = normal[0]! + normal[7]!;
  normal[0]! += 1e-4 * trace;
  normal[7]! += 1e-4 * trace;
  for (const i of [2, 3, 4, 5]) normal[7 * i]! += 0.02 * trace * half * half * 0.3;
  const seen = new Float64Array(n);
  let warp: Warp = [...start];
  let best: { warp: Warp; likeness: number } = { warp: start, likeness: -1 };
  for (let step = 0; step <= STEPS; step++) {
    let [sum, weight] = [0, 0];
    for (let v = -half; v <= half; v++)
      for (let u = -half; u <= half; u++) {
        const k = (v + half) * side + u + half;
        seen[k] = sample(picture, warp[0] + warp[2] * u + warp[3] * v, warp[1] + warp[4] * u + warp[5] * v);
        sum += weights[k]! * seen[k];
        weight += weights[k]!;
      }
    const mean = sum / weight;
    let [squares, dot] = [0, 0];
    for (let k = 0; k < n; k++) {
      seen[k]! -= mean;
      squares += weights[k]! * seen[k]! ** 2;
      dot += weights[k]! * seen[k]! * values[k]!;
    }
    if (squares < 1e-6) break;
    const likeness = (dot / (Math.sqrt(squares) * size)) * Math.exp(-Math.LN2 * ((mean - light) / LIGHT) ** 2);
    if (likeness > best.likeness) best = { warp: [...warp], likeness };
    if (step === STEPS) break;
    const gain = size / Math.sqrt(squares);
    const right = new Float64Array(6);
    for (let v = -half; v <= half; v++)
      for (let u = -half; u <= half; u++) {
        const k = (v + half) * side + u + half;
        jacobian(row, slopeX[k]!, slopeY[k]!, u, v);
        const off = weights[k]! * (gain * seen[k]! - values[k]!);
        for (let i = 0; i < 6; i++) right[i]! += off * row[i]!;
      }
    const change = solved(normal, right);
    if (!change) break;
    warp = withoutChange(warp, change);
    const [xx, xy, yx, yy] = [warp[2], warp[3], warp[4], warp[5]];
    const area = xx * yy - xy * yx;
    if (!(area > 0.3 && area < 3) || Math.hypot(warp[0] - start[0], warp[1] - start[1]) > half) break;
    if (Math.hypot(change[0]!, change[1]!) < 0.003) break;
  }
  return best;
}

function jacobian(row: Float64Array, gx: number, gy: number, u: number, v: number): void {
  row[0] = gx;
  row[1] = gy;
  row[2] = gx * u;
  row[3] = gx * v;
  row[4] = gy * u;
  row[5] = gy * v;
}

/** The warp behind the inverse of a small change of the patch: W ∘ ΔW⁻¹. */
function withoutChange([x, y, xx, xy, yx, yy]: Warp, d: Float64Array): Warp {
  const [a, b, c, e] = [1 + d[2]!, d[3]!, d[4]!, 1 + d[5]!];
  const area = a * e - b * c;
  const [ia, ib, ic, ie] = [e / area, -b / area, -c / area, a / area];
  const [tx, ty] = [-(ia * d[0]! + ib * d[1]!), -(ic * d[0]! + ie * d[1]!)];
  return [
    x + xx * tx + xy * ty,
    y + yx * tx + yy * ty,
    xx * ia + xy * ic,
    xx * ib + xy * ie,
    yx * ia + yy * ic,
    yx * ib + yy * ie,
  ];
}

/** Solves six equations with six unknowns, symmetric and positive: Cholesky's way. Undefined where they say too little. */
function solved(matrix: Float64Array, right: Float64Array): Float64Array | undefined {
  const l = new Float64Array(36);
  for (let i = 0; i < 6; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[6 * i + j]!;
      for (let k = 0; k < j; k++) sum -= l[6 * i + k]! * l[6 * j + k]!;
      if (i === j) {
        if (sum <= 1e-9) return undefined;
        l[7 * i] = Math.sqrt(sum);
      } else l[6 * i + j] = sum / l[7 * j]!;
    }
  const out = new Float64Array(6);
  for (let i = 0; i < 6; i++) {
    let sum = right[i]!;
    for (let k = 0; k < i; k++) sum -= l[6 * i + k]! * out[k]!;
    out[i] = sum / l[7 * i]!;
  }
  for (let i = 5; i >= 0; i--) {
    let sum = out[i]!;
    for (let k = i + 1; k < 6; k++) sum -= l[6 * k + i]! * out[k]!;
    out[i] = sum / l[7 * i]!;
  }
  return out;
}
