import type { Luma } from './luma.ts';

export const MOVING_DEFAULTS = Object.freeze({
  /** A place whose lightness goes up and down by this much over the shot, of 0…255, has something that moves. */
  moves: 28,
  /** So small a share of all such places may lie outside on each side: grain, and a letter that flickers. */
  stray: 0.01,
});

/** A box on a picture, as shares of its width and height, from its upper left. */
export interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/**
 * Where on a clip something moves, over all of the pictures given. Behind a moving camera everything does.
 *
 * @param pictures small pictures of one size, spread over the clip; two or more
 * @returns undefined where nothing moves
 *
 * @example a dot that goes from the left edge to the middle of the picture: left 0, right about 0.5
 */
export function movingBox(pictures: readonly Luma[]): Box | undefined {
  const [first] = pictures;
  if (!first || pictures.length < 2) return undefined;
  const { width, height } = first;
  const { moves, stray } = MOVING_DEFAULTS;
  const columns = new Float64Array(width);
  const rows = new Float64Array(height);
  let count = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let [low, high] = [Infinity, -Infinity];
      for (const { pixels } of pictures) {
        const value = pixels[y * width + x]!;
        if (value < low) low = value;
        if (value > high) high = value;
      }
      if (high - low < moves) continue;
      columns[x]!++;
      rows[y]!++;
      count++;
    }
  if (count === 0) return undefined;
  const [left, right] = endsOf(columns, stray * count);
  const [top, bottom] = endsOf(rows, stray * count);
  return { left: left / width, right: right / width, top: top / height, bottom: bottom / height };
}

/** The first bin, and the one behind the last, of all but so much at either end. */
function endsOf(bins: Float64Array, less: number): [number, number] {
  const from = (order: readonly number[]): number => {
    let gone = 0;
    return order.find((k) => (gone += bins[k]!) > less)!;
  };
  const order = [...bins.keys()];
  return [from(order), from([...order].reverse()) + 1];
}
