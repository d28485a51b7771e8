import type { PencilLine } from '@ypsigraph/contract/marks';
import { type FrameSource, pointIndex } from '../frames/frame-source.ts';
import type { DrawnMark } from './drawn-mark.ts';

/** How far a line that sticks to its mark's point has gone with it at a sample since the mark's first frame, at which it is kept. */
export function wayOfLines(
  source: FrameSource,
  { point, from }: Pick<DrawnMark, 'point' | 'from'>,
  sample: number,
): Place {
  const joint = pointIndex(source, point);
  if (joint < 0) return [0, 0, 0];
  const { points } = source.path(joint);
  const [now, then] = [3 * sample, 3 * source.sampleAt(from)];
  return [points[now]! - points[then]!, points[now + 1]! - points[then + 1]!, points[now + 2]! - points[then + 2]!];
}

type Place = readonly [number, number, number];

/** A place by which a pencil line is pulled: one of its ends, or the middle of its way. */
export interface LineGrip {
  /** The line's place among those of its mark. */
  readonly line: number;
  readonly end: 'start' | 'middle' | 'end';
  readonly at: Place;
}

const SHARES = { start: 0, middle: 0.5, end: 1 } as const;
export const LINE_ENDS = ['start', 'middle', 'end'] as const;

const placeOf = (points: readonly number[], k: number): Place => [
  points[3 * k]!,
  points[3 * k + 1]!,
  points[3 * k + 2]!,
];

/** How far along its own way each point of a line lies, 0 to 1. */
function sharesAlong(points: readonly number[]): number[] {
  const count = points.length / 3;
  const gone = [0];
  for (let k = 1; k < count; k++) {
    const [a, b] = [placeOf(points, k - 1), placeOf(points, k)];
    gone.push(gone[k - 1]! + Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]));
  }
  const all = gone.at(-1)!;
  return gone.map((own, k) => (all > 0 ? own / all : count > 1 ? k / (count - 1) : 0));
}

/** The places by which lines are pulled: of a dot its one place. */
export const lineGrips = (lines: readonly PencilLine[]): LineGrip[] =>
  lines.flatMap(({ points }, line) => {
    const shares = sharesAlong(points);
    return LINE_ENDS.filter((end) => end === 'start' || shares.length > 2 || (end === 'end' && shares.length > 1)).map(
      (end) => {
        const nearest = shares.reduce(
          (best, own, k) => (Math.abs(own - SHARES[end]) < Math.abs(shares[best]! - SHARES[end]) ? k : best),
          0,
        );
        return { line, end, at: placeOf(points, nearest) };
      },
    );
  });

/**
 * A line with one of its grips moved: what lies there goes all the way, what lies at the other end, or at both ends where its middle is moved, stays,
 * and between them it gives softly.
 *
 * @param by how far, in the line's own coordinates
 */
export function pulledLine(line: PencilLine, end: LineGrip['end'], by: Place): PencilLine {
  const from = SHARES[end];
  const reach = Math.max(from, 1 - from);
  return {
    ...line,
    points: sharesAlong(line.points).flatMap((share, k) => {
      const u = Math.min(1, Math.abs(share - from) / reach);
      const weight = line.points.length === 3 ? 1 : 0.5 + 0.5 * Math.cos(Math.PI * u);
      return placeOf(line.points, k).map((value, c) => value + weight * by[c]!);
    }),
  };
}
