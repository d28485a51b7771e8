import type { Luma } from '../track/luma.ts';
import { type Box, movingBox } from '../track/moving-box.ts';
import { type Alignment, alignRows } from './frame-map.ts';
import type { PoseRows } from './pose-features.ts';
import type { Span } from './what-has-no-counterpart.ts';

export const LIKENESS_DEFAULTS = Object.freeze({
  /** Cells across and down in which pictures are held against each other. */
  across: 32,
  down: 18,
  /** How far a cell looks to its neighbours, so that a line a little beside another is near it: times they are smoothed. */
  smoothed: 2,
  /** A cell whose lightness changes by less than this over its shot, of 0…255, shows nothing but grain. */
  grain: 4,
});

/** Pictures of a shot in order, all of one size; small ones will do. */
export interface PictureShow {
  readonly pictures: readonly Luma[];
  /** Label of the first. */
  readonly first: number;
}

/**
 * Maps every frame of one clip to another's by the likeness of their pictures, with both ends free: by dynamic time warping as of poses. What stands still
 * in a shot tells nothing about when and is taken out, so that another background, paper or light makes no difference. Where they are more alike so, only what
 * moves is held against what moves, as large on the one as on the other, so that another framing makes none either.
 *
 * @returns the alignment, or why none can be made
 */
export function alignPictures(a: PictureShow, b: PictureShow): Alignment | string {
  const whole = [pictureRows(a.pictures), pictureRows(b.pictures)] as const;
  if (whole.some(isStill)) return 'nothing moves on the pictures';
  const [p, q] = [movingBox(a.pictures), movingBox(b.pictures)];
  const framed = p && q ? [[pictureRows(a.pictures, p), pictureRows(b.pictures, q)] as const] : [];
  const spanOf = ({ pictures, first }: PictureShow): Span => ({ first, frames: pictures.length });
  return alignRows(spanOf(a), spanOf(b), [whole, ...framed]);
}

const isStill = ({ rows }: PoseRows): boolean => rows.every((value) => value === 0);

const WHOLE: Box = { left: 0, top: 0, right: 1, bottom: 1 };

/**
 * Pictures as rows that can be compared: how much lighter or darker each cell is than it usually is in this shot, as a share of what all of them are.
 * @param box what of the pictures is looked at
 */
export function pictureRows(pictures: readonly Luma[], box = WHOLE): PoseRows {
  const { across, down, smoothed, grain } = LIKENESS_DEFAULTS;
  const width = across * down;
  const count = pictures.length;
  const rows = new Float64Array(width * count);
  pictures.forEach((picture, f) => {
    let cells = cellMeans(picture, box, across, down);
    for (let k = 0; k < smoothed; k++) cells = smooth(cells, across, down);
    rows.set(cells, f * width);
  });
  const column = new Float64Array(count);
  let squares = 0;
  for (let cell = 0; cell < width; cell++) {
    for (let f = 0; f < count; f++) column[f] = rows[f * width + cell]!;
    column.sort();
    const usual = column[count >> 1]!;
    const changes = column[count - 1]! - column[0]! >= grain;
    for (let f = 0; f < count; f++) {
      const at = f * width + cell;
      rows[at] = changes ? rows[at]! - usual : 0;
      squares += rows[at] ** 2;
    }
  }
  const size = Math.sqrt(squares / Math.max(1, count));
  if (size > 0) for (let k = 0; k < rows.length; k++) rows[k]! /= size;
  return { rows, width, count, columns: [] };
}

function cellMeans({ width, height, pixels }: Luma, box: Box, across: number, down: number): Float64Array {
  const sums = new Float64Array(across * down);
  const counts = new Float64Array(across * down);
  const [columns, rows] = [cellsOf(box.left, box.right, width, across), cellsOf(box.top, box.bottom, height, down)];
  for (let y = rows.from; y < rows.to; y++) {
    const row = rows.cell[y - rows.from]! * across;
    for (let x = columns.from; x < columns.to; x++) {
      const cell = row + columns.cell[x - columns.from]!;
      sums[cell]! += pixels[y * width + x]!;
      counts[cell]!++;
    }
  }
  return sums.map((sum, k) => sum / Math.max(1, counts[k]!));
}

/** The pixels of a line that lie within a stretch of it, told as shares, and which of so many cells each belongs to. */
function cellsOf(
  from: number,
  to: number,
  size: number,
  cells: number,
): { from: number; to: number; cell: Uint16Array } {
  const [first, last] = [Math.floor(from * size), Math.min(size, Math.ceil(to * size))];
  const cellAt = (k: number): number => Math.floor((((k + 0.5) / size - from) * cells) / (to - from));
  const cell = Uint16Array.from({ length: last - first }, (_, k) =>
    Math.min(cells - 1, Math.max(0, cellAt(first + k))),
  );
  return { from: first, to: last, cell };
}

/** Each cell half itself and half its four neighbours; at the edges itself for those it lacks. */
function smooth(cells: Float64Array, across: number, down: number): Float64Array {
  const out = new Float64Array(cells.length);
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++) {
      const at = y * across + x;
      const beside =
        cells[x > 0 ? at - 1 : at]! +
        cells[x < across - 1 ? at + 1 : at]! +
        cells[y > 0 ? at - across : at]! +
        cells[y < down - 1 ? at + across : at]!;
      out[at] = cells[at]! / 2 + beside / 8;
    }
  return out;
}
