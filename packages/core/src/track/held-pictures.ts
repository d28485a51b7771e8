import type { Luma } from './luma.ts';

export const HELD_DEFAULTS = Object.freeze({
  /** Side of the blocks in which pictures are compared, pixels of the small picture. */
  block: 8,
  /** A change under this (of 0…255, in the block that changes most, less what all of them do) is none, whatever the shot does … */
  surely: 0.6,
  /** … and one over this is one. */
  changed: 6,
  /** Between the changes of held frames and those of new ones lies a gap this many times wide, or there are no held frames. */
  gap: 2.2,
});

/** Frames of one drawing: labels or samples, both ends counted. */
export interface Exposure {
  readonly from: number;
  readonly to: number;
}

/**
 * How much two pictures differ where they differ most: in each block the root mean square of their difference, smoothed so that grain averages
 * out; the largest of them less the middle one, which is what grain and flicker do everywhere. 0…255.
 *
 * @param before and after: small pictures of one size, some 320 pixels wide
 */
export function pictureChange(before: Luma, after: Luma): number {
  const { width, height } = before;
  const difference = new Float32Array(width * height);
  for (let k = 0; k < difference.length; k++) difference[k] = after.pixels[k]! - before.pixels[k]!;
  const smooth = smoothed(difference, width, height);
  const { block } = HELD_DEFAULTS;
  const [wide, high] = [Math.min(block, width), Math.min(block, height)];
  const [across, down] = [Math.max(1, Math.floor(width / block)), Math.max(1, Math.floor(height / block))];
  const sums = new Float64Array(across * down);
  const squares = new Float64Array(across * down);
  for (let y = 0; y < high * down; y++)
    for (let bx = 0; bx < across; bx++) {
      const own = ((y / high) | 0) * across + bx;
      const from = y * width + bx * block;
      for (let at = from; at < from + wide; at++) {
        const value = smooth[at]!;
        sums[own]! += value;
        squares[own]! += value * value;
      }
    }
  const count = wide * high;
  // A picture that gets lighter as a whole is no new drawing.
  const flicker = middle(sums.map((sum) => sum / count));
  const sizes = squares.map((square, k) =>
    Math.sqrt(Math.max(0, square / count - (2 * flicker * sums[k]!) / count + flicker * flicker)),
  );
  const noise = middle(sizes.slice());
  const most = sizes.reduce((a, b) => Math.max(a, b), 0);
  return Math.max(0, most - noise);
}

/** Each pixel the mean of itself and its eight neighbours; at the edges of itself more than once. */
function smoothed(values: Float32Array, width: number, height: number): Float32Array {
  const rows = new Float32Array(values.length);
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++) {
    const at = y * width;
    for (let x = 0; x < width; x++) {
      const here = at + x;
      rows[here] = (values[x > 0 ? here - 1 : here]! + values[here]! + values[x < width - 1 ? here + 1 : here]!) / 3;
    }
  }
  for (let y = 0; y < height; y++) {
    const above = y > 0 ? -width : 0;
    const under = y < height - 1 ? width : 0;
    for (let at = y * width; at < (y + 1) * width; at++)
      out[at] = (rows[at + above]! + rows[at]! + rows[at + under]!) / 3;
  }
  return out;
}

const middle = (values: Float64Array): number => values.sort()[Math.floor(values.length / 2)] ?? 0;

/**
 * Which frames show the same drawing. Where nothing stands exactly, as behind grain or compression, the changes of a shot fall into two heaps,
 * small ones of frames that are held and large ones of new drawings, with a gap between them; where there is no gap every frame is new.
 *
 * @param changes of each frame from the one before, without the first; see {@link pictureChange}
 * @returns the exposures in order, in samples from 0
 */
export function heldPictures(changes: ArrayLike<number>): Exposure[] {
  const least = changeOfNew(changes);
  const exposures: { from: number; to: number }[] = [{ from: 0, to: 0 }];
  for (let k = 0; k < changes.length; k++)
    if (changes[k]! >= least) exposures.push({ from: k + 1, to: k + 1 });
    else exposures.at(-1)!.to = k + 1;
  return exposures;
}

/** The change from which a frame shows a new drawing. */
function changeOfNew(changes: ArrayLike<number>): number {
  const { surely, changed, gap } = HELD_DEFAULTS;
  const sorted = Float64Array.from(changes).sort();
  let best: number = surely;
  let widest: number = gap;
  for (let k = 0; k + 1 < sorted.length; k++) {
    const [low, high] = [Math.max(sorted[k]!, surely / 2), sorted[k + 1]!];
    // The gap lies where a held frame can still be, and a new one already.
    if (sorted[k]! > changed || high <= surely) continue;
    if (high / low > widest) {
      widest = high / low;
      best = Math.sqrt(low * high);
    }
  }
  return best;
}

/** How a list of exposures goes: the length most of them have, or that they have none in common. */
export function patternOf(exposures: readonly Exposure[]): 'ones' | 'twos' | 'threes' | 'fours' | 'mixed' | 'still' {
  if (exposures.length === 1) return exposures[0]!.to > exposures[0]!.from ? 'still' : 'ones';
  const lengths = exposures.slice(0, -1).map(({ from, to }) => to - from + 1);
  const names = ['ones', 'twos', 'threes', 'fours'] as const;
  const most = names.findIndex((_, k) => lengths.filter((own) => own === k + 1).length >= 0.7 * lengths.length);
  return most < 0 ? 'mixed' : names[most]!;
}

/**
 * Exposures put right by hand: a new drawing begins at a sample, or, where one began there, it is the same as before.
 *
 * @example of 0–1, 2–3 at sample 3: 0–1, 2–2, 3–3; at sample 2: 0–3
 */
export function toggleDrawing(exposures: readonly Exposure[], sample: number): Exposure[] {
  const at = exposures.findIndex(({ from, to }) => sample >= from && sample <= to);
  const own = exposures[at];
  if (!own || sample === 0) return [...exposures];
  const rest = exposures.slice(at + 1);
  if (own.from < sample)
    return [...exposures.slice(0, at), { from: own.from, to: sample - 1 }, { from: sample, to: own.to }, ...rest];
  return [...exposures.slice(0, at - 1), { from: exposures[at - 1]!.from, to: own.to }, ...rest];
}
