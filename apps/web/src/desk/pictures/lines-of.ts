import { lumaOf } from '@ypsigraph/core/track/luma';

/** What is darker than its surroundings by less than this is paper, of 0…255 … */
const PAPER = 9;
/** … and by this much, a line. */
const LINE = 60;
/** Half the width of the surroundings, as a share of the picture's longer side. */
const AROUND = 0.008;
/** Pictures whose lines are kept. */
const KEPT = 24;

/** How lines are drawn. */
interface Drawn {
  readonly colour: string;
  readonly dotted: boolean;
}

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

/** Pictures as nothing but their lines, in one colour on nothing; kept, for they are seen again and again. */
export class LinesOf {
  private readonly known = new Map<string, HTMLCanvasElement>();
  private readonly numbers = new WeakMap<ImageBitmap, number>();
  private count = 0;

  of(bitmap: ImageBitmap, { colour, dotted }: Drawn): HTMLCanvasElement {
    if (!this.numbers.has(bitmap)) this.numbers.set(bitmap, this.count++);
    const key = `${this.numbers.get(bitmap)} ${colour} ${dotted}`;
    const made = this.known.get(key) ?? drawLines(bitmap, { colour, dotted });
    // What was asked for last is let go last.
    this.known.delete(key);
    this.known.set(key, made);
    for (const old of this.known.keys()) {
      if (this.known.size <= KEPT) break;
      this.known.delete(old);
    }
    return made;
  }
}

function drawLines(bitmap: ImageBitmap, { colour, dotted }: Drawn): HTMLCanvasElement {
  const { width, height } = bitmap;
  const canvas = Object.assign(document.createElement('canvas'), { width, height });
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const picture = context.getImageData(0, 0, width, height);
  const mask = lineMask(picture.data, width, height);
  for (let k = 0; k < mask.length; k++)
    picture.data[4 * k + 3] = dotted && (((k % width) >> 2) + ((k / width) >> 2)) % 2 === 1 ? 0 : mask[k]!;
  context.putImageData(picture, 0, 0);
  context.globalCompositeOperation = 'source-in';
  context.fillStyle = colour;
  context.fillRect(0, 0, width, height);
  return canvas;
}
