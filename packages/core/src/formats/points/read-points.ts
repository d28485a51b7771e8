import { csvParseRows } from 'd3-dsv';
import type { PointTrack, PointTracks } from '../../motion/point-tracks.ts';
import { FormatError, LIMITS } from '../format-error.ts';

export interface PointsOptions {
  /** Frames a second: a table of points does not say. */
  readonly fps: number;
  /** Which way y grows in the file; pictures count from their top. */
  readonly y?: 'down' | 'up';
  /** Label of the first frame, instead of the lowest in the file. */
  readonly firstFrame?: number;
}

/** Most points of one table. */
const MOST_POINTS = 500;
const COLUMNS = ['frame', 'point', 'x', 'y'] as const;

/** Whether a file is a table of points, by the columns that it names. */
export function isPointTable(bytes: Uint8Array): boolean {
  const [head = ''] = new TextDecoder().decode(bytes.subarray(0, 1_000)).split('\n', 1);
  const names = namesIn(head.split(','));
  return COLUMNS.every((name) => names.includes(name));
}

const namesIn = (head: readonly string[]): string[] =>
  head.map((name) => name.replaceAll('"', '').trim().toLowerCase());

/**
 * Reads points followed on pictures from a table with the columns `frame, point, x, y` and, where it has it, `sure` (0 to 1), in any order and
 * any case; other columns are left alone. Comma-separated as RFC 4180 has it. A frame a point has no row for is one where nobody placed it.
 *
 * @throws FormatError that says which line, which column, what was expected
 */
export function readPoints(text: string, { fps, y = 'down', firstFrame }: PointsOptions): PointTracks {
  if (text.length > LIMITS.bytes) throw new FormatError('the table is larger than 64 MB');
  const [head, ...rows] = csvParseRows(text.replace(/^\uFEFF/, ''));
  if (!head) throw new FormatError('the table is empty; expected the columns frame, point, x, y', 1);
  const names = namesIn(head);
  const at = Object.fromEntries(COLUMNS.map((name) => [name, names.indexOf(name)])) as Record<
    (typeof COLUMNS)[number],
    number
  >;
  const missing = COLUMNS.filter((name) => at[name] < 0);
  if (missing.length > 0)
    throw new FormatError(`the table has no column ${missing.join(', ')}; expected frame, point, x, y`, 1);
  const sureAt = names.indexOf('sure');
  const found = new Map<string, Map<number, readonly [number, number, number]>>();
  let low = Infinity;
  let high = -Infinity;
  rows.forEach((row, k) => {
    const line = k + 2;
    if (row.length === 1 && row[0]!.trim() === '') return;
    const number = (column: number, name: string): number => {
      const cell = (row[column] ?? '').trim();
      const value = cell === '' || cell.length > LIMITS.number ? NaN : Number(cell);
      if (!Number.isFinite(value) || Math.abs(value) > LIMITS.value)
        throw new FormatError(`expected a number for ${name}, found “${cell.slice(0, 20)}”`, line);
      return value;
    };
    const frame = number(at.frame, 'frame');
    if (!Number.isInteger(frame)) throw new FormatError(`expected a whole frame, found ${frame}`, line);
    const name = (row[at.point] ?? '').trim();
    if (name === '') throw new FormatError('the point has no name', line);
    if (name.length > LIMITS.name) throw new FormatError('the point’s name is longer than 200 characters', line);
    const confidence = sureAt < 0 || (row[sureAt] ?? '').trim() === '' ? 1 : number(sureAt, 'sure');
    if (confidence < 0 || confidence > 1) throw new FormatError(`expected 0 to 1 for sure, found ${confidence}`, line);
    const own = found.get(name) ?? new Map<number, readonly [number, number, number]>();
    if (own.has(frame)) throw new FormatError(`the point “${name}” is there twice at frame ${frame}`, line);
    const up = y === 'down' ? -1 : 1;
    own.set(frame, [number(at.x, 'x'), up * number(at.y, 'y'), confidence]);
    found.set(name, own);
    if (found.size > MOST_POINTS) throw new FormatError(`more than ${MOST_POINTS} points`, line);
    low = Math.min(low, frame);
    high = Math.max(high, frame);
  });
  if (found.size === 0) throw new FormatError('the table has no points', 2);
  const frames = high - low + 1;
  if (frames > LIMITS.frames || frames * found.size > LIMITS.poses)
    throw new FormatError(`frames ${low} to ${high} are more than can be read`);
  const points = [...found].map(([name, own]): PointTrack => {
    const places = new Float64Array(2 * frames).fill(NaN);
    const confidence = new Float64Array(frames);
    for (const [frame, [px, py, known]] of own) {
      places[2 * (frame - low)] = px;
      places[2 * (frame - low) + 1] = py;
      confidence[frame - low] = known;
    }
    return { name, places, confidence };
  });
  return { fps, firstFrame: firstFrame ?? low, frames, points };
}
