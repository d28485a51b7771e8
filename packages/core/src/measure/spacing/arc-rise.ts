import type { PointPath } from './point-path.ts';

/** An arc flatter than this, in percent of its chord, is flat. */
export const FLAT_UNDER = 3;
/** A chord shorter than this share of the way has no arc over it. */
const LEAST_CHORD = 0.1;

/**
 * `arc.rise`: how far the path between two samples bows from its chord, in percent of the chord, positive on the side of `side`
 * (up, or left in the plane of view).
 *
 * @example a half circle over its diameter rises 50 %
 * @returns NaN where it ends about where it began: its chord is under a tenth of its way
 */
export function arcRise(path: PointPath, from: number, to: number, side: readonly [number, number, number]): number {
  const at = (i: number): [number, number, number] => [
    path.points[3 * i]!,
    path.points[3 * i + 1]!,
    path.points[3 * i + 2]!,
  ];
  const a = at(from);
  const b = at(to);
  const chord = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
  const length = Math.hypot(...chord);
  let way = 0;
  for (let i = from; i < to; i++) {
    const [p, q] = [at(i), at(i + 1)];
    way += Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
  }
  if (!(length > LEAST_CHORD * way)) return NaN;
  let largest = 0;
  for (let i = from + 1; i < to; i++) {
    const p = at(i);
    const v = [p[0] - a[0], p[1] - a[1], p[2] - a[2]] as const;
    const t = (v[0] * chord[0] + v[1] * chord[1] + v[2] * chord[2]) / (length * length);
    const off = [v[0] - t * chord[0], v[1] - t * chord[1], v[2] - t * chord[2]] as const;
    const size = Math.hypot(...off);
    const sign = off[0] * side[0] + off[1] * side[1] + off[2] * side[2] < 0 ? -1 : 1;
    if (size > Math.abs(largest)) largest = sign * size;
  }
  return (100 * largest) / length;
}
