import type { PreparedShot } from '../motion/prepared-shot.ts';
import { rowDistance, comparablePoses, type PoseRows } from './pose-features.ts';
import type { AlignmentNote } from './alignment-notes.ts';
import { changedParts, stayedShare } from './changed-parts.ts';
import { betweenPoses, drawnFrames, evenBetween, wherePosesAreDrawn } from './drawn-poses.ts';
import { WORTH_A_WORD, endNotes, inverted, type Span, middleNotes, stretchesOf } from './what-has-no-counterpart.ts';
import { sameWithin, typicalDistance, warp, WARP_DEFAULTS, type WarpedPath } from './warp.ts';

export const ALIGN_DEFAULTS = Object.freeze({
  /** A mirrored path is taken where it costs less than this share of the plain one, and that one is no match. */
  mirrored: 0.5,
  mirroredFrom: 0.04,
  /** Another way to hold two clips against each other is taken where they are apart by less than this share in it. */
  instead: 0.75,
  /** What a frame away from the path costs, in squares of what trembling makes of a pose. */
  stay: 0.25,
  /** Another path is taken where so much more of the body, of all of it 1, stays as it was. */
  moreStays: 0.1,
  /** Poses nearer to each other than this share of two that have nothing to do with each other are one. */
  same: 0.02,
});

/** One frame of the first shot and where it is in the second: labels, the second with a fraction. */
export type FrameMap = readonly (readonly [a: number, b: number])[];

/** How two revisions of a shot belong together. */
export interface Alignment {
  /** One pair a frame of the first that has a counterpart, never going back. */
  readonly map: FrameMap;
  /** Parts that moved otherwise, once their frames lie on each other. */
  readonly parts: readonly string[];
  /** What is different as a whole: mirrored, cut, only some parts changed. */
  readonly notes: readonly AlignmentNote[];
}

/**
 * Maps every frame of one revision to another's, whichever way the figures face, whichever axis is up, whatever their names, size and rest
 * pose. Both ends are free: what was cut, or put in front, has no counterpart and is said. Poses that are held, as in blocking, count where they are
 * first shown: between them the map goes on evenly. Between frames the map is refined by projecting
 * each pose on the way between two of the other's.
 *
 * @returns the alignment, or why none can be made
 */
export function alignShots(a: PreparedShot, b: PreparedShot): Alignment | string {
  const [n, m] = [a.played.motion.frames, b.played.motion.frames];
  if (n < 2 || m < 2) return 'it needs 2 frames or more of each';
  const poses = comparablePoses(a, b);
  if (!poses) return 'the two have no joint in common, by name or by role';
  const why = tooUnlike(n, m);
  if (why) return why;
  const drawn = [drawnFrames(a), drawnFrames(b)] as const;
  const found = bestPath(a, b, poses, drawn);
  const { rows, notes } = found;
  const warped = onWhatStayed(found, drawn);
  // What has changed tells nothing about when: the map is refined on the parts that stayed.
  const coarse = changedParts(wherePosesAreDrawn(warped.path, ...drawn), rows.a, rows.b);
  const tells = coarse.only || warped !== found.warped;
  const stayed = (part: string): boolean => !tells || !coarse.parts.includes(part);
  const [one, two] = [ofParts(rows.a, stayed), ofParts(rows.b, stayed)];
  const refined = refinedMap(warped, one, two);
  const nearest = (j: number, about: number): number => refine(two, j, one, about);
  const map = drawn[0] || drawn[1] ? evenBetween(refined, ...drawn, m, nearest) : refined;
  const within = stretchesOf(map, one, two);
  const isThere = ([i]: readonly [number, number]): boolean =>
    !within.gone.some(({ from, to }) => i >= from && i <= to);
  const there = map.filter(isThere);
  // Held against each other where the one with fewer frames has them: between them nobody knows how it goes.
  const { parts, only } =
    m < n
      ? changedParts(wherePosesAreDrawn(inverted(there), drawn[1], drawn[0]), rows.b, rows.a)
      : changedParts(wherePosesAreDrawn(there, ...drawn), rows.a, rows.b);
  const [first, second] = [spanOf(a), spanOf(b)];
  return {
    map: inLabels(map, first, second),
    parts,
    notes: [
      ...notes,
      ...endNotes(map, first, second),
      ...middleNotes(within, first, second),
      ...(only ? [{ what: 'only these changed', parts } as const] : []),
    ],
  };
}

type Drawn = readonly [readonly number[] | undefined, readonly number[] | undefined];

/** A path through two shots, and the rows it leads through, as their files have them. */
interface Found {
  readonly warped: WarpedPath;
  readonly rows: { readonly a: PoseRows; readonly b: PoseRows };
  readonly notes: readonly AlignmentNote[];
  /** The path that some parts alone would take. */
  readonly onParts: (counts: (part: string) => boolean) => WarpedPath;
}

/** Parts that a path is told from alone where all of them together do not agree. */
const ALONE: readonly ((part: string) => boolean)[] = [
  (part) => part === 'hips' || part.startsWith('leg.'),
  (part) => part === 'spine' || part === 'head',
  (part) => part.startsWith('arm.'),
];

/**
 * The path on which most of the body stays as it was. What moves otherwise in one part, later arms or wider ones, pulls the path of all parts off by a
 * frame or two, and then every part seems to have changed: where some parts alone, or the even path, leave more of the body as it was, theirs is taken.
 */
function onWhatStayed({ warped, rows, onParts }: Found, drawn: Drawn): WarpedPath {
  const near = ALIGN_DEFAULTS.same * typicalDistance(rows.a, rows.b);
  const sameFrames = ({ path }: WarpedPath): number =>
    path.filter(([i, j]) => {
      const low = Math.min(rows.b.count - 2, Math.floor(j));
      return Math.sqrt(awayFrom(rows.a, i, rows.b, low, j - low)) < near;
    }).length;
  const share = ({ path }: WarpedPath): number => stayedShare(wherePosesAreDrawn(path, ...drawn), rows.a, rows.b);
  const most = 1 - ALIGN_DEFAULTS.moreStays;
  let best = { warped, share: share(warped) };
  const even = (): WarpedPath => ({ ...warped, path: evenPath(rows.a.count, rows.b.count) });
  for (const other of [even, ...ALONE.map((counts) => () => onParts(counts))]) {
    if (best.share > most) break;
    const own = other();
    // Where frames were taken out or put in, the others are the same ones: they stay so.
    const keeps = haveSameEnds(own, warped) && sameFrames(own) >= sameFrames(warped);
    const stays = keeps ? share(own) : 0;
    if (stays > best.share + ALIGN_DEFAULTS.moreStays) best = { warped: own, share: stays };
  }
  return best.warped;
}

/** Whether two paths leave the same frames without a counterpart. */
const haveSameEnds = (one: WarpedPath, other: WarpedPath): boolean =>
  [0, -1].every((end) => one.path.at(end)!.every((sample, k) => sample === other.path.at(end)![k]));

const evenPath = (n: number, m: number): WarpedPath['path'] =>
  Array.from({ length: n }, (_, i) => [i, (i * (m - 1)) / (n - 1)] as const);

/** The path through two shots, as they are or the second mirrored. */
function bestPath(
  a: PreparedShot,
  b: PreparedShot,
  poses: NonNullable<ReturnType<typeof comparablePoses>>,
  drawn: Drawn,
): Found {
  const ends = heldEnds(a, b);
  const first = betweenPoses(poses.a, drawn[0]);
  const warpedTo = (second: PoseRows, notes: AlignmentNote[] = []): Found => {
    const rows = betweenPoses(second, drawn[1]);
    return {
      warped: warpWithin(first, rows, ends),
      rows: { a: asInFile(first), b: asInFile(rows) },
      notes,
      onParts: (counts) => warpWithin(ofParts(first, counts), ofParts(rows, counts), ends),
    };
  };
  const plain = warpedTo(poses.b);
  const little = plain.warped.path.length < Math.min(poses.a.count, poses.b.count) / 2;
  if (!little && plain.warped.unlike <= ALIGN_DEFAULTS.mirroredFrom) return plain;
  // Without a body nothing says which axis is up.
  const instead =
    a.roles.hips === undefined
      ? warpedTo(comparablePoses(a, b, 'other')!.b)
      : warpedTo(poses.mirrored, [{ what: 'mirrored' }]);
  const better = instead.warped.unlike < ALIGN_DEFAULTS.mirrored * plain.warped.unlike;
  return better || instead.warped.path.length > 2 * plain.warped.path.length ? instead : plain;
}

const spanOf = ({ firstFrame, played }: PreparedShot): Span => ({ first: firstFrame, frames: played.motion.frames });

/**
 * The same of two shots of which nothing is known but how like each frame of one is to each of the other.
 *
 * @param seen ways in which the two can be held against each other; one is taken instead of those before it where the two are much more alike in it
 * @returns the alignment, which says of no part whether it changed; or why none can be made
 */
export function alignRows(a: Span, b: Span, seen: readonly (readonly [PoseRows, PoseRows])[]): Alignment | string {
  if (a.frames < 2 || b.frames < 2) return 'it needs 2 frames or more of each';
  const why = tooUnlike(a.frames, b.frames);
  if (why) return why;
  const all = seen.map((rows) => ({ rows, warped: warp(...rows) }));
  const best = all.reduce((one, other) =>
    other.warped.unlike < ALIGN_DEFAULTS.instead * one.warped.unlike ? other : one,
  );
  const map = refinedMap(best.warped, ...best.rows);
  return { map: inLabels(map, a, b), parts: [], notes: endNotes(map, a, b) };
}

const tooUnlike = (n: number, m: number): string | undefined =>
  n > 4 * WARP_DEFAULTS.slope * m || m > 4 * WARP_DEFAULTS.slope * n
    ? `one is more than ${4 * WARP_DEFAULTS.slope} times as long as the other`
    : undefined;

const inLabels = (map: readonly (readonly [number, number])[], a: Span, b: Span): FrameMap =>
  map.map(([i, j]) => [a.first + i, b.first + Math.round(1e3 * j) / 1e3]);

/** Frames that only hold the first or the last pose longer than the other revision does: in front of a, of b, behind a, behind b. */
interface HeldEnds {
  readonly front: readonly [a: number, b: number];
  readonly behind: readonly [a: number, b: number];
}

function heldEnds(a: PreparedShot, b: PreparedShot): HeldEnds {
  const more = (p: number | undefined, q: number | undefined): [number, number] => {
    const extra = (p ?? 1) - (q ?? 1);
    return Math.abs(extra) < WORTH_A_WORD ? [0, 0] : extra > 0 ? [extra, 0] : [0, -extra];
  };
  const [p, q] = [a.exposures, b.exposures];
  // In blocking every pose is held, and a pose that is held longer is retimed.
  if (p.blocking || q.blocking || p.stride > 1 || q.stride > 1) return { front: [0, 0], behind: [0, 0] };
  const front = more(p.lengths[0], q.lengths[0]);
  const behind = more(p.lengths.at(-1), q.lengths.at(-1));
  // Frames were put there, and nothing was retimed, where they make the whole difference.
  const longer = a.played.motion.frames - b.played.motion.frames;
  const made = front[0] + behind[0] - front[1] - behind[1];
  return longer === made ? { front, behind } : { front: [0, 0], behind: [0, 0] };
}

/** The path through what is left of both once held ends are set aside. */
function warpWithin(a: PoseRows, b: PoseRows, { front, behind }: HeldEnds): WarpedPath {
  const inner = (rows: PoseRows, from: number, less: number): PoseRows => {
    const count = Math.max(2, rows.count - from - less);
    return { ...rows, count, rows: rows.rows.subarray(from * rows.width, (from + count) * rows.width) };
  };
  const warped = warp(inner(a, front[0], behind[0]), inner(b, front[1], behind[1]));
  return { ...warped, path: warped.path.map(([i, j]) => [i + front[0], j + front[1]] as const) };
}

/** The path as one pair a sample of the first, between samples of the second. */
function refinedMap({ path }: WarpedPath, a: PoseRows, b: PoseRows): [number, number][] {
  const map: [number, number][] = [];
  const [first, last] = [path[0]!, path.at(-1)!];
  let k = 0;
  let reached = first[1];
  for (let i = first[0]; i <= last[0]; i++) {
    while (k + 1 < path.length && path[k + 1]![0] <= i) k++;
    const [from, to] = [path[k]!, path[Math.min(k + 1, path.length - 1)]!];
    const coarse = to[0] === from[0] ? from[1] : from[1] + ((to[1] - from[1]) * (i - from[0])) / (to[0] - from[0]);
    const isEnd =
      (i === first[0] && first[0] === 0 && first[1] === 0) ||
      (i === last[0] && last[0] === a.count - 1 && last[1] === b.count - 1);
    reached = Math.max(reached, isEnd ? coarse : refine(a, i, b, coarse));
    map.push([i, reached]);
  }
  return map;
}

/** The rows as the file has them: smoothed, a faster revision would be another. */
const asInFile = ({ played, ...poses }: PoseRows): PoseRows => (played ? { ...poses, ...played } : poses);

/** The rows with the columns of other parts at 0, so that they tell nothing. */
function ofParts(poses: PoseRows, counts: (part: string) => boolean): PoseRows {
  const left = poses.columns.filter(({ part }) => !counts(part));
  if (left.length === 0 || left.length === poses.columns.length) return poses;
  const rows = poses.rows.slice();
  for (const { at, width } of left)
    for (let f = 0; f < poses.count; f++) rows.fill(0, f * poses.width + at, f * poses.width + at + width);
  return { ...poses, rows };
}

/**
 * The place, between samples, of the second's way that lies nearest to a pose: within two samples of where the path has it,
 * beside a hold on either side of it.
 */
function refine(a: PoseRows, i: number, b: PoseRows, coarse: number): number {
  const start = Math.max(0, Math.min(b.count - 2, Math.floor(coarse)));
  // Where nothing moves, or only trembles, every place is as near as every other: then it stays where the path has it.
  let best = { at: coarse, cost: awayFrom(a, i, b, start, coarse - start) };
  // A pose that trembles lies nearest to one place or another by chance: it pays for going away from the path.
  const stay = ALIGN_DEFAULTS.stay * sameWithin(a, b) ** 2;
  for (let j = movesBefore(b, Math.floor(coarse)); j < movesBehind(b, Math.ceil(coarse)); j++) {
    const t = project(a, i, b, j);
    if (t === undefined) continue;
    const cost = awayFrom(a, i, b, j, t) + stay * (j + t - coarse) ** 2;
    if (cost < best.cost - 1e-12) best = { at: j + t, cost };
  }
  return best.at;
}

/** Samples to each side in which a pose is looked for, those not counted in which nothing moves; and how many of these at most. */
const NEAR = 2;
const LONGEST_HOLD = 240;

const stands = (b: PoseRows, j: number): boolean => rowDistance(b, j, b, j + 1) < 1e-7;

/** The sample from which on a place is looked for before another. */
function movesBefore(b: PoseRows, from: number): number {
  let j = Math.min(from, b.count - 1);
  for (let moved = 0, k = 0; j > 0 && moved < NEAR && k < LONGEST_HOLD; k++) if (!stands(b, --j)) moved++;
  return j;
}

/** The sample up to which it is looked for behind. */
function movesBehind(b: PoseRows, from: number): number {
  let j = from;
  for (let moved = 0, k = 0; j < b.count - 1 && moved < NEAR && k < LONGEST_HOLD; k++) if (!stands(b, j++)) moved++;
  return j;
}

/** Share of the way from a pose to the next at which it is nearest; undefined where the two are the same. */
function project(a: PoseRows, i: number, b: PoseRows, j: number): number | undefined {
  let along = 0;
  let size = 0;
  for (let k = 0; k < a.width; k++) {
    const start = b.rows[b.width * j + k]!;
    const step = b.rows[b.width * (j + 1) + k]! - start;
    along += (a.rows[a.width * i + k]! - start) * step;
    size += step * step;
  }
  return size > 1e-14 ? Math.min(1, Math.max(0, along / size)) : undefined;
}

function awayFrom(a: PoseRows, i: number, b: PoseRows, j: number, t: number): number {
  let sum = 0;
  for (let k = 0; k < a.width; k++) {
    const start = b.rows[b.width * j + k]!;
    const step = b.rows[b.width * (j + 1) + k]! - start;
    sum += (a.rows[a.width * i + k]! - start - t * step) ** 2;
  }
  return sum;
}

/** Where a label of the first shot is in the second, between the map's frames by a straight line; beyond it, and without one, by the same step. */
export function mapLabel(map: FrameMap, label: number): number {
  const first = map[0];
  const last = map.at(-1);
  if (!first || !last) return label;
  if (label <= first[0]) return first[1] + (label - first[0]);
  if (label >= last[0]) return last[1] + (label - last[0]);
  const k = label - first[0];
  const [low, high] = [map[Math.floor(k)]!, map[Math.ceil(k)]!];
  return low[1] + (high[1] - low[1]) * (k - Math.floor(k));
}
