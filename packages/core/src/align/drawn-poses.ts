import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { PoseRows } from './pose-features.ts';

/**
 * Samples at which a shot that is worked in held poses (on twos, in blocking) shows a new one; undefined where every frame may have a pose of
 * its own. A hold in the midst of a smooth shot is a part of it.
 */
export function drawnFrames({ exposures }: Pick<PreparedShot, 'exposures'>): readonly number[] | undefined {
  const { blocking, stride, lengths } = exposures;
  if (!blocking && stride <= 1) return undefined;
  const starts: number[] = [];
  lengths.reduce((at, length) => (starts.push(at), at + length), 0);
  return starts;
}

/**
 * The rows of a shot in held poses as if it went evenly from each pose to the next, so that a frame within a hold has its own place beside a smooth
 * revision: a pose that is held from 9 to 16 is that of 9, and 13 is halfway to the next. The last pose stays as it is.
 */
export function betweenPoses(poses: PoseRows, drawn: readonly number[] | undefined): PoseRows {
  if (!drawn) return poses;
  const { width } = poses;
  const rows = poses.rows.slice();
  for (let k = 0; k + 1 < drawn.length; k++) {
    const [from, to] = [drawn[k]!, drawn[k + 1]!];
    for (let f = from + 1; f < to; f++) {
      const t = (f - from) / (to - from);
      for (let c = 0; c < width; c++)
        rows[width * f + c] = (1 - t) * poses.rows[width * from + c]! + t * poses.rows[width * to + c]!;
    }
  }
  return { ...poses, rows };
}

type Pairs = readonly (readonly [i: number, j: number])[];

/** Fewest pairs that tell whether a part is off. */
const FEWEST = 3;

/** Of pairs of samples those at which both shots show a pose that was made, to within half a frame: what lies between says nothing of the poses. */
export function wherePosesAreDrawn(
  pairs: Pairs,
  a: readonly number[] | undefined,
  b: readonly number[] | undefined,
): Pairs {
  if (!a && !b) return pairs;
  const [first, second] = [a && new Set(a), b && new Set(b)];
  const both = pairs.filter(([i, j]) => (!first || first.has(i)) && (!second || second.has(Math.round(j))));
  return both.length >= FEWEST ? both : pairs;
}

/**
 * A map that was found on {@link betweenPoses}, with only its places at drawn poses kept: what lies between them was never seen, so the map goes on
 * evenly there. Behind the last drawn pose it goes on as it did before, to the end of the other at most.
 *
 * @param map one pair a sample of the first, the second's rising
 * @param count samples of the second
 * @param nearest where in the first a pose of the second lies nearest to, near a place
 */
export function evenBetween(
  map: Pairs,
  a: readonly number[] | undefined,
  b: readonly number[] | undefined,
  count: number,
  nearest: (j: number, about: number) => number,
): [number, number][] {
  const [first, last] = [map[0]!, map.at(-1)!];
  const within = (i: number): boolean => i > first[0] && i < last[0];
  const found = a
    ? a.filter(within).map((i) => map[i - first[0]]!)
    : (b ?? []).flatMap((j) => (j > first[1] && j < last[1] ? [[nearest(j, reaches(map, j)), j] as const] : []));
  let reached = first[0];
  const anchors = found.filter(([i]) => {
    const goesOn = i > reached && i < last[0];
    if (goesOn) reached = i;
    return goesOn;
  });
  const before = anchors.at(-1);
  if (!before) return map.map(([i, j]) => [i, j]);
  const slope = (before[1] - first[1]) / (before[0] - first[0]);
  const end = Math.min(count - 1, Math.max(last[1], before[1] + slope * (last[0] - before[0])));
  const places = [first, ...anchors, [last[0], end] as const];
  let k = 0;
  return map.map(([i]) => {
    while (k + 2 < places.length && places[k + 1]![0] <= i) k++;
    const [from, to] = [places[k]!, places[k + 1]!];
    return [i, to[0] === from[0] ? to[1] : from[1] + ((to[1] - from[1]) * (i - from[0])) / (to[0] - from[0])];
  });
}

/** Where, between samples of the first, a map reaches a place in the second. */
function reaches(map: Pairs, j: number): number {
  const k = Math.max(
    1,
    map.findIndex((pair) => pair[1] >= j),
  );
  const [from, to] = [map[k - 1]!, map[k]!];
  return to[1] > from[1] ? from[0] + (j - from[1]) / (to[1] - from[1]) : to[0];
}
