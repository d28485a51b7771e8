import type { Luma } from './luma.ts';
import { pictureChange } from './held-pictures.ts';

export const SHIFT_DEFAULTS = Object.freeze({
  /** Side of the blocks that are looked for in the other picture, and how far, in pixels. */
  block: 12,
  reach: 14,
  /** A block is looked for where its lightness changes by this much from pixel to pixel on average, of 0…255, whichever way one goes: else it fits in many places. */
  textured: 5,
  /** So many such blocks are needed … */
  least: 4,
  /** … of which this share has gone the same way … */
  agree: 0.75,
  /** … and which lie apart by this share of the picture's width: one thing that goes by is no camera. */
  spread: 0.2,
  /** Pixels within which two have gone the same way. */
  same: 1.5,
  /** Steps in which the way is told to a fraction of a pixel, at most. */
  steps: 8,
});

/** How far what is seen on one picture has gone on the next: x to the right, y down, pixels. */
export interface Shift {
  readonly x: number;
  readonly y: number;
}

/**
 * How far a camera has gone between two pictures that show the same: the way that blocks all over the picture have gone. Where things go different ways, or
 * what goes is one thing before empty paper, it is no camera, and nothing is told.
 *
 * @param before and after: small pictures of one size, some 320 pixels wide
 */
export function cameraShift(before: Luma, after: Luma): Shift | undefined {
  const [a, b] = [blurred(before), blurred(after)];
  const blocks = texturedBlocks(a);
  const { least, agree, spread, same } = SHIFT_DEFAULTS;
  if (blocks.length < least) return undefined;
  const shifts = blocks.map((block) => ({ block, shift: shiftOf(a, b, block) }));
  const middle = (of: (shift: Shift) => number): number =>
    shifts.map(({ shift }) => of(shift)).sort((p, q) => p - q)[shifts.length >> 1]!;
  const [x, y] = [middle((shift) => shift.x), middle((shift) => shift.y)];
  const along = shifts.filter(({ shift }) => Math.abs(shift.x - x) <= same && Math.abs(shift.y - y) <= same);
  if (along.length < agree * shifts.length) return undefined;
  const columns = along.map(({ block }) => block.x);
  if (Math.max(...columns) - Math.min(...columns) < spread * a.width) return undefined;
  return refined(before, after, { x, y });
}

interface Block {
  readonly x: number;
  readonly y: number;
}

/** Each pixel the mean of itself and its eight neighbours: a line that lies between pixels is as dark as one that does not. */
function blurred({ width, height, pixels }: Luma): Luma {
  const out = new Uint8Array(pixels);
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1; x + 1 < width; x++) {
      const at = y * width + x;
      let sum = 0;
      for (let v = -width; v <= width; v += width) sum += pixels[at + v - 1]! + pixels[at + v]! + pixels[at + v + 1]!;
      out[at] = sum / 9;
    }
  return { width, height, pixels: out };
}

/** Blocks that fit in one place only, away from the edges: corners (J. Shi and C. Tomasi, *Good Features to Track*, 1994). */
function texturedBlocks({ width, height, pixels }: Luma): Block[] {
  const { block, reach, textured } = SHIFT_DEFAULTS;
  const found: Block[] = [];
  for (let by = reach; by + block + reach < height; by += block)
    for (let bx = reach; bx + block + reach < width; bx += block) {
      let [xx, xy, yy] = [0, 0, 0];
      for (let y = by; y < by + block; y++)
        for (let x = bx; x < bx + block; x++) {
          const at = y * width + x;
          const [dx, dy] = [pixels[at + 1]! - pixels[at]!, pixels[at + width]! - pixels[at]!];
          xx += dx * dx;
          xy += dx * dy;
          yy += dy * dy;
        }
      // The smaller of the two ways in which it changes.
      const least = (xx + yy - Math.sqrt((xx - yy) ** 2 + 4 * xy * xy)) / 2;
      if (least >= (textured * block) ** 2) found.push({ x: bx, y: by });
    }
  return found;
}

/** Where a block of one picture lies on the other: the whole step that fits best. */
function shiftOf(a: Luma, b: Luma, { x: bx, y: by }: Block): Shift {
  const { block, reach } = SHIFT_DEFAULTS;
  const { width } = a;
  let best = { x: 0, y: 0 };
  let least = Infinity;
  for (let sy = -reach; sy <= reach; sy++)
    for (let sx = -reach; sx <= reach; sx++) {
      let sum = 0;
      for (let y = by; y < by + block && sum < least; y++) {
        const row = y * width;
        const other = (y + sy) * width + sx;
        for (let x = bx; x < bx + block; x++) {
          const d = a.pixels[row + x]! - b.pixels[other + x]!;
          sum += d < 0 ? -d : d;
        }
      }
      if (sum < least) [least, best] = [sum, { x: sx, y: sy }];
    }
  return best;
}

/** The same to a fraction of a pixel: the least squares of the difference, by the pictures' own slopes (B. D. Lucas and T. Kanade, 1981). */
function refined(before: Luma, after: Luma, { x: startX, y: startY }: Shift): Shift {
  const { width, height, pixels } = before;
  let [x, y] = [startX, startY];
  for (let step = 0; step < SHIFT_DEFAULTS.steps; step++) {
    const own = shifted(after, { x, y });
    const edge = 2 + Math.ceil(Math.max(Math.abs(x), Math.abs(y)));
    let [xx, xy, yy, xd, yd] = [0, 0, 0, 0, 0];
    for (let v = edge; v < height - edge; v++)
      for (let u = edge; u < width - edge; u++) {
        const at = v * width + u;
        const gx = (pixels[at + 1]! - pixels[at - 1]! + own[at + 1]! - own[at - 1]!) / 4;
        const gy = (pixels[at + width]! - pixels[at - width]! + own[at + width]! - own[at - width]!) / 4;
        const d = own[at]! - pixels[at]!;
        xx += gx * gx;
        xy += gx * gy;
        yy += gy * gy;
        xd += gx * d;
        yd += gy * d;
      }
    const area = xx * yy - xy * xy;
    if (!(area > 1e-6 * xx * yy)) break;
    const [dx, dy] = [(yy * xd - xy * yd) / area, (xx * yd - xy * xd) / area];
    // Further than a pixel from where the blocks have it, it has gone astray.
    if (Math.abs(x - dx - startX) > 2.5 || Math.abs(y - dy - startY) > 2.5) break;
    [x, y] = [x - dx, y - dy];
    if (Math.abs(dx) + Math.abs(dy) < 0.01) break;
  }
  return { x, y };
}

/** A picture as it would be seen had it not gone by a shift: each pixel from where it has gone to, between four. */
function shifted({ width, height, pixels }: Luma, { x: dx, y: dy }: Shift): Float32Array {
  const out = new Float32Array(width * height);
  const [wholeX, wholeY] = [Math.floor(dx), Math.floor(dy)];
  const [fx, fy] = [dx - wholeX, dy - wholeY];
  for (let v = 0; v < height; v++) {
    const top = v + wholeY < 0 ? 0 : v + wholeY > height - 2 ? height - 2 : v + wholeY;
    for (let u = 0; u < width; u++) {
      const left = u + wholeX < 0 ? 0 : u + wholeX > width - 2 ? width - 2 : u + wholeX;
      const at = top * width + left;
      const upper = pixels[at]! + fx * (pixels[at + 1]! - pixels[at]!);
      const lower = pixels[at + width]! + fx * (pixels[at + width + 1]! - pixels[at + width]!);
      out[v * width + u] = upper + fy * (lower - upper);
    }
  }
  return out;
}

/** How much two pictures differ once a camera's way between them is taken out; see {@link pictureChange}. What one of them does not show any more is left out. */
export function changeBehind(before: Luma, after: Luma, shift: Shift): number {
  // Each goes half the way, so that both are as blurred by lying between pixels.
  const half = { x: shift.x / 2, y: shift.y / 2 };
  const [a, b] = [shifted(blurred(before), { x: -half.x, y: -half.y }), shifted(blurred(after), half)];
  const { width, height } = before;
  const [ex, ey] = [Math.ceil(Math.abs(half.x)) + 1, Math.ceil(Math.abs(half.y)) + 1];
  const inner = (values: Float32Array): Luma => {
    const [w, h] = [width - 2 * ex, height - 2 * ey];
    const pixelsOf = new Uint8Array(w * h);
    for (let v = 0; v < h; v++)
      for (let u = 0; u < w; u++) pixelsOf[v * w + u] = values[(v + ey) * width + u + ex]! + 0.5;
    return { width: w, height: h, pixels: pixelsOf };
  };
  return pictureChange(inner(a), inner(b));
}

/** How much a picture differs from the one before: as it is, and once a camera's way is taken out, where there is one. */
export interface Difference {
  readonly plain: number;
  readonly behind: number | undefined;
  /** How far the camera went; of a picture that shows nothing of it, as far as it went last. */
  readonly shift: Shift | undefined;
}

/** A difference this small needs no camera to explain it, of 0…255. */
const SMALL = 2;
/** A camera that goes by less than this, pixels, stands. */
const STANDS = 0.25;
/** Where only the camera's last way explains a picture, it has to explain it this well: share of the plain difference. */
const EXPLAINS = 0.12;
/** Share of a shot's pictures between which a camera has to have gone, so that it is one. */
const GOES = 0.2;

/** Holds a picture against the one before it. @param last how far the camera went before that, where it did */
export function differenceOf(before: Luma, after: Luma, last?: Shift): Difference {
  const plain = pictureChange(before, after);
  if (plain <= SMALL) return { plain, behind: undefined, shift: undefined };
  const shift = cameraShift(before, after);
  if (shift && Math.hypot(shift.x, shift.y) > STANDS)
    return { plain, behind: changeBehind(before, after, shift), shift };
  const behind = last && changeBehind(before, after, last);
  return { plain, behind: behind !== undefined && behind < EXPLAINS * plain ? behind : undefined, shift: last };
}

/**
 * How much each picture of a shot is a new one, for {@link heldPictures}: behind a camera that goes along, what is other once its way is taken out; so a
 * drawing that is held while the camera goes on is one drawing.
 */
export function changesOf(differences: readonly Difference[]): number[] {
  const gone = differences.filter(({ behind }) => behind !== undefined).length;
  const goes = gone >= GOES * differences.length && gone > 1;
  return differences.map(({ plain, behind }) => (goes && behind !== undefined && behind < plain ? behind : plain));
}
