import { lumaOf } from '@ypsigraph/core/track/luma';

/** What is darker than its surroundings by less than this is paper, of 0…255 … */
const PAPER = 9;
/** … and by this much, a line. */
const LINE = 60;
/** Half the width of the surroundings, as a share of the picture's longer side. */
const AROUND = 0.008;
/**
 * Which pixels of a picture are lines: how far each is darker than what lies around it. So a pencil's stroke is one, and so is the edge of whatever is
 * painted, on its darker side; paper, evenly painted surfaces and a light that falls off are none.
 *
 * @param pixels four bytes a pixel: red, green, blue, opacity
 * @returns one byte a pixel: 0 none, 255 a line
 */
export function lineMask(pixels: Uint8ClampedArray, width: number, height: number): Uint8ClampedArray {
  const { pixels: light } = lumaOf(pixels, width, height);
  const around = meansAround(light, width, height, Math.max(2, Math.round(AROUND * Math.max(width, height))));
  const mask = new Uint8ClampedArray(light.length);
  for (let k = 0; k < mask.length; k++) mask[k] = (255 * (around[k]! - light[k]! - PAPER)) / (LINE - PAPER);
  return mask;
}

/** The mean of the square around each pixel, by sums over all that lies above and to the left. */
function meansAround(values: Uint8Array, width: number, height: number, reach: number): Float32Array {
  const wide = width + 1;
  const sums = new Float64Array(wide * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      row += values[y * width + x]!;
      sums[(y + 1) * wide + x + 1] = sums[y * wide + x + 1]! + row;
    }
  }
  const means = new Float32Array(values.length);
  for (let y = 0; y < height; y++) {
    const [top, foot] = [Math.max(0, y - reach), Math.min(height, y + reach + 1)];
    for (let x = 0; x < width; x++) {
      const left = x > reach ? x - reach : 0;
      const right = x + reach + 1 < width ? x + reach + 1 : width;
      const sum =
        sums[foot * wide + right]! - sums[top * wide + right]! - sums[foot * wide + left]! + sums[top * wide + left]!;
      means[y * width + x] = sum / ((foot - top) * (right - left));
    }
  }
  return means;
}
