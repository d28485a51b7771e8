import { lumaOf } from '@ypsigraph/core/track/luma';
import { lineMask } from './lines-of.ts';

/** A stroke at least this strong, of 0…255, keeps what is outside from flowing in. */
const STROKE = 56;
/** Strokes are made wider by so many pixels each way, so that a gap in an outline lets nothing through. */
const GAP = 2;

/**
 * What of a picture is figure: everything that is not reached from its edge without crossing a stroke, or what is on the other side of the picture’s
 * brightness than its edge is. So a drawing in outline is filled, and a painted figure stays as it is.
 *
 * @param pixels four bytes a pixel: red, green, blue, opacity
 * @returns one byte a pixel: 0 paper, 255 figure
 */
export function outlineMask(pixels: Uint8ClampedArray, width: number, height: number): Uint8ClampedArray {
  const { pixels: light } = lumaOf(pixels, width, height);
  const strokes = lineMask(pixels, width, height);
  const split = threshold(light);
  const edge = edgeLight(light, width, height);
  const wall = new Uint8Array(light.length);
  for (let k = 0; k < wall.length; k++) wall[k] = strokes[k]! > STROKE || light[k]! > split !== edge > split ? 1 : 0;
  const closed = grown(wall, width, height, GAP);
  const outside = reached(closed, width, height);
  // What was made wider is taken back: paper beside an outline is paper.
  const paper = grown(outside, width, height, GAP);
  const mask = new Uint8ClampedArray(light.length);
  for (let k = 0; k < mask.length; k++) mask[k] = paper[k] && !wall[k] ? 0 : 255;
  return mask;
}

/** The brightness that parts a picture's light from its dark best: the largest variance between the two (Otsu 1979, from memory). */
export function threshold(light: Uint8Array): number {
  const counts = new Float64Array(256);
  for (const value of light) counts[value]!++;
  let all = 0;
  counts.forEach((count, value) => (all += value * count));
  let [below, sum, best, at] = [0, 0, -1, 127];
  for (let value = 0; value < 255; value++) {
    below += counts[value]!;
    sum += value * counts[value]!;
    const above = light.length - below;
    if (below === 0 || above === 0) continue;
    const between = below * above * (sum / below - (all - sum) / above) ** 2;
    if (between > best) [best, at] = [between, value];
  }
  return at;
}

/** How bright the picture usually is along its edge. */
function edgeLight(light: Uint8Array, width: number, height: number): number {
  const values: number[] = [];
  for (let x = 0; x < width; x++) values.push(light[x]!, light[(height - 1) * width + x]!);
  for (let y = 0; y < height; y++) values.push(light[y * width]!, light[y * width + width - 1]!);
  values.sort((a, b) => a - b);
  return values[values.length >> 1]!;
}

/** What is set, made wider by so many pixels across and down. */
function grown(set: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const across = new Uint8Array(set.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let d = -reach; d <= reach && !across[y * width + x]; d++)
        if (x + d >= 0 && x + d < width && set[y * width + x + d]) across[y * width + x] = 1;
  const both = new Uint8Array(set.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let d = -reach; d <= reach && !both[y * width + x]; d++)
        if (y + d >= 0 && y + d < height && across[(y + d) * width + x]) both[y * width + x] = 1;
  return both;
}

/** What is reached from the picture's edge without crossing what is set. */
function reached(wall: Uint8Array, width: number, height: number): Uint8Array {
  const seen = new Uint8Array(wall.length);
  const queue: number[] = [];
  const visit = (k: number): void => {
    if (seen[k] || wall[k]) return;
    seen[k] = 1;
    queue.push(k);
  };
  for (let x = 0; x < width; x++) {
    visit(x);
    visit((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    visit(y * width);
    visit(y * width + width - 1);
  }
  while (queue.length > 0) {
    const k = queue.pop()!;
    const x = k % width;
    if (x > 0) visit(k - 1);
    if (x + 1 < width) visit(k + 1);
    if (k >= width) visit(k - width);
    if (k + width < wall.length) visit(k + width);
  }
  return seen;
}
