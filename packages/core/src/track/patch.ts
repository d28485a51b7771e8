import type { Luma } from './luma.ts';

/** A place on a picture in its pixels, from the upper left corner; a pixel's centre is at .5. */
export interface PicturePlace {
  readonly x: number;
  readonly y: number;
}

/** A patch of a picture with its slopes, brightness less its mean. */
export interface Patch {
  readonly half: number;
  readonly values: Float64Array;
  readonly slopeX: Float64Array;
  readonly slopeY: Float64Array;
  /** Mean brightness. */
  readonly light: number;
  /** Root of the weighted sum of squares. */
  readonly size: number;
}

/** A patch whose pixels differ less than this (standard deviation of 0…255) has nothing to hold on to. */
const PLAIN = 4;
/** Half the side of the patch of the first look, on the smallest picture. */
const SMALL_HALF = 4;

/** Brightness between pixels, bilinear; beyond the edge that of the edge. */
export function sample({ width, height, pixels }: Luma, x: number, y: number): number {
  const [right, low] = [width - 1, height - 1];
  const px = x < 0.5 ? 0 : x > right + 0.5 ? right : x - 0.5;
  const py = y < 0.5 ? 0 : y > low + 0.5 ? low : y - 0.5;
  const x0 = px | 0;
  const y0 = py | 0;
  const at = y0 * width + x0;
  const across = x0 < right ? 1 : 0;
  const down = y0 < low ? width : 0;
  const u = px - x0;
  const top = pixels[at]! + u * (pixels[at + across]! - pixels[at]!);
  const under = pixels[at + down]! + u * (pixels[at + down + across]! - pixels[at + down]!);
  return top + (py - y0) * (under - top);
}

/** What is near the point counts more than the edge of the patch. */
const WEIGHTS = new Map<number, Float64Array>();
export function weightsOf(half: number): Float64Array {
  const known = WEIGHTS.get(half);
  if (known) return known;
  const side = 2 * half + 1;
  const own = new Float64Array(side * side);
  for (let v = -half; v <= half; v++)
    for (let u = -half; u <= half; u++)
      own[(v + half) * side + u + half] = Math.exp(-(u * u + v * v) / (2 * (0.55 * half) ** 2));
  WEIGHTS.set(half, own);
  return own;
}

/** The patch about a place; undefined where there is nothing to hold on to. */
export function patchAt(picture: Luma, { x, y }: PicturePlace, half: number): Patch | undefined {
  const side = 2 * half + 1;
  const weights = weightsOf(half);
  const values = new Float64Array(side * side);
  const slopeX = new Float64Array(side * side);
  const slopeY = new Float64Array(side * side);
  let [sum, weight] = [0, 0];
  for (let v = -half; v <= half; v++)
    for (let u = -half; u <= half; u++) {
      const k = (v + half) * side + u + half;
      values[k] = sample(picture, x + u, y + v);
      slopeX[k] = (sample(picture, x + u + 1, y + v) - sample(picture, x + u - 1, y + v)) / 2;
      slopeY[k] = (sample(picture, x + u, y + v + 1) - sample(picture, x + u, y + v - 1)) / 2;
      sum += weights[k]! * values[k];
      weight += weights[k]!;
    }
  let squares = 0;
  for (let k = 0; k < values.length; k++) {
    values[k]! -= sum / weight;
    squares += weights[k]! * values[k]! ** 2;
  }
  if (Math.sqrt(squares / weight) < PLAIN) return undefined;
  return { half, values, slopeX, slopeY, light: sum / weight, size: Math.sqrt(squares) };
}

/** A small patch, turned, less its mean: for the first look. */
export function cutTurned(picture: Luma, x: number, y: number, angle: number): Float64Array | undefined {
  const side = 2 * SMALL_HALF + 1;
  const out = new Float64Array(side * side);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  let sum = 0;
  for (let v = -SMALL_HALF; v <= SMALL_HALF; v++)
    for (let u = -SMALL_HALF; u <= SMALL_HALF; u++) {
      const value = sample(picture, x + c * u + s * v, y - s * u + c * v);
      out[(v + SMALL_HALF) * side + u + SMALL_HALF] = value;
      sum += value;
    }
  let squares = 0;
  for (let k = 0; k < out.length; k++) {
    out[k]! -= sum / out.length;
    squares += out[k]! ** 2;
  }
  if (squares < 1) return undefined;
  const size = Math.sqrt(squares);
  return out.map((v) => v / size);
}

/** Normalised cross-correlation of a small patch with the pixels about a place, whole pixels apart. */
export function likenessOf({ width, height, pixels }: Luma, cut: Float64Array, x: number, y: number): number {
  const [cx, cy] = [Math.round(x - 0.5), Math.round(y - 0.5)];
  const side = 2 * SMALL_HALF + 1;
  if (cx < 0 || cy < 0 || cx >= width || cy >= height) return -1;
  let [sum, squares, dot] = [0, 0, 0];
  for (let v = 0; v < side; v++) {
    const py = cy + v - SMALL_HALF;
    const row = (py < 0 ? 0 : py >= height ? height - 1 : py) * width;
    for (let u = 0; u < side; u++) {
      const at = cx + u - SMALL_HALF;
      const value = pixels[row + (at < 0 ? 0 : at >= width ? width - 1 : at)]!;
      sum += value;
      squares += value * value;
      dot += value * cut[v * side + u]!;
    }
  }
  const spread = squares - (sum * sum) / (side * side);
  return spread < 1 ? 0 : dot / Math.sqrt(spread);
}
