import { jointWeights } from '../motion/pose-distance.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';

export const ALIGN_DEFAULTS = Object.freeze({
  /** How far a frame may lie from where an even stretch would put it, as a share of the longer shot, and at least so many frames. */
  band: 0.25,
  bandLeast: 16,
  /** Steepest local stretch or squeeze. */
  slope: 4,
  /** Price of leaving the even stretch, in shares of the mean cost, so that a hold is stretched evenly. */
  even: 0.02,
});

/** One frame of the first shot and where it is in the second: labels, the second with a fraction. */
export type FrameMap = readonly (readonly [a: number, b: number])[];

/**
 * Maps every frame of one revision to another's: dynamic time warping on poses (H. Sakoe and S. Chiba, *Dynamic programming algorithm
 * optimization for spoken word recognition*, IEEE Trans. ASSP 26, 1978), in a band about the even stretch, with local slopes from 1/4
 * to 4, refined between frames by projecting each pose on the way between two of the other's.
 *
 * First frames and last frames belong together. Joints are matched by name, else by role.
 *
 * @returns one pair a frame of `a`, never going back; or why no map can be made
 */
export function alignShots(a: PreparedShot, b: PreparedShot): FrameMap | string {
  const pairs = commonJoints(a, b);
  if (pairs.length === 0) return 'the two have no joint in common, by name or by role';
  const [n, m] = [a.motion.frames, b.motion.frames];
  if (n < 2 || m < 2) return 'it needs 2 frames or more of each';
  if (n > ALIGN_DEFAULTS.slope * m || m > ALIGN_DEFAULTS.slope * n)
    return `one is more than ${ALIGN_DEFAULTS.slope} times as long as the other`;
  const weights = weightsOf(a, pairs);
  const left = posesOf(
    a,
    pairs.map(([j]) => j),
    weights,
  );
  const right = posesOf(
    b,
    pairs.map(([, j]) => j),
    weights,
  );
  const path = warp(left, right);
  const map: [number, number][] = [];
  let last = 0;
  for (let i = 0; i < n; i++) {
    const own = path.filter(([k]) => k === i).map(([, j]) => j);
    const at = i === 0 ? 0 : i === n - 1 ? m - 1 : refine(left, right, i, own.length > 0 ? own : [between(path, i)]);
    last = Math.max(last, at);
    map.push([a.firstFrame + i, b.firstFrame + Math.round(1e3 * last) / 1e3]);
  }
  return map;
}

/** Poses of a shot as rows that can be compared: a weighted quaternion a joint, then the root's place. */
interface Poses {
  readonly rows: Float64Array;
  readonly joints: number;
  readonly width: number;
  readonly count: number;
}

type Pair = readonly [a: number, b: number];

function commonJoints(a: PreparedShot, b: PreparedShot): Pair[] {
  const names = new Map(b.motion.joints.map(({ name }, j) => [name.toLowerCase(), j]));
  const byName = a.motion.joints.flatMap(({ name }, j): Pair[] => {
    const other = names.get(name.toLowerCase());
    return other === undefined ? [] : [[j, other]];
  });
  const byRole = Object.entries(a.roles).flatMap(([role, j]): Pair[] => {
    const other = b.roles[role as 'hips'];
    return other === undefined ? [] : [[j!, other]];
  });
  return byName.length >= byRole.length ? byName : byRole;
}

function weightsOf({ motion }: PreparedShot, pairs: readonly Pair[]): Float64Array {
  const all = jointWeights(motion);
  const own = Float64Array.from(pairs, ([j]) => all[j]!);
  const sum = own.reduce((x, y) => x + y, 0);
  return own.map((weight) => weight / sum);
}

/** The place of the root against its first, in leg lengths, counts as half the angle it makes at the end of a leg. */
function posesOf(shot: PreparedShot, joints: readonly number[], weights: Float64Array): Poses {
  const { motion, world, scale } = shot;
  const n = motion.joints.length;
  const root = shot.roles.hips ?? 0;
  const width = 4 * joints.length + 3;
  const rows = new Float64Array(width * motion.frames);
  for (let f = 0; f < motion.frames; f++) {
    joints.forEach((j, k) => {
      const root4 = Math.sqrt(weights[k]!);
      for (let c = 0; c < 4; c++) rows[width * f + 4 * k + c] = root4 * motion.rotations[4 * (f * n + j) + c]!;
    });
    for (let c = 0; c < 3; c++) {
      const from = world.positions[3 * root + c]!;
      rows[width * f + 4 * joints.length + c] =
        (world.positions[3 * (f * n + root) + c]! - from) / (2 * scale.legLength);
    }
  }
  return { rows, joints: joints.length, width, count: motion.frames };
}

/** How far two poses are apart: squared halves of angles, weighted, and squared distance of the roots. */
function apart(a: Poses, i: number, b: Poses, j: number): number {
  const [x, y] = [a.rows, b.rows];
  const [p, q] = [a.width * i, b.width * j];
  let sum = 0;
  const end = 4 * a.joints;
  for (let k = 0; k < end; k += 4) {
    const same =
      x[p + k]! * y[q + k]! +
      x[p + k + 1]! * y[q + k + 1]! +
      x[p + k + 2]! * y[q + k + 2]! +
      x[p + k + 3]! * y[q + k + 3]!;
    const weight =
      x[p + k]! * x[p + k]! +
      x[p + k + 1]! * x[p + k + 1]! +
      x[p + k + 2]! * x[p + k + 2]! +
      x[p + k + 3]! * x[p + k + 3]!;
    // w − (w·cos)² / w = w·sin² of half the angle between.
    sum += weight - (same * same) / Math.max(weight, 1e-12);
  }
  for (let k = end; k < a.width; k++) sum += (x[p + k]! - y[q + k]!) ** 2;
  return Math.max(0, sum);
}

/** Steps of the path: so many frames of one for so many of the other. */
const STEPS = [
  [1, 1],
  [1, 2],
  [2, 1],
  [2, 3],
  [3, 2],
  [1, 3],
  [3, 1],
  [1, 4],
  [4, 1],
] as const;

/** The cheapest way through the band from the first frames to the last: pairs of samples, both rising. */
function warp(a: Poses, b: Poses): [number, number][] {
  const [n, m] = [a.count, b.count];
  const ratio = (m - 1) / (n - 1);
  const reach = Math.max(ALIGN_DEFAULTS.bandLeast, ALIGN_DEFAULTS.band * Math.max(n, m), m - n, n - m);
  const from = (i: number): number => Math.max(0, Math.ceil(i * ratio - reach));
  const to = (i: number): number => Math.min(m - 1, Math.floor(i * ratio + reach));
  const width = Math.min(m, Math.ceil(2 * reach) + 2);
  const cell = (i: number, j: number): number => i * width + (j - from(i));
  const cost = new Float64Array(n * width);
  let sum = 0;
  let cells = 0;
  for (let i = 0; i < n; i++)
    for (let j = from(i); j <= to(i); j++) {
      cost[cell(i, j)] = Math.sqrt(apart(a, i, b, j));
      sum += cost[cell(i, j)]!;
      cells++;
    }
  const even = ALIGN_DEFAULTS.even * (sum / cells);
  const total = new Float64Array(n * width).fill(Infinity);
  const step = new Int8Array(n * width).fill(-1);
  total[cell(0, 0)] = 0;
  for (let i = 1; i < n; i++) {
    for (let j = Math.max(1, from(i)); j <= to(i); j++) {
      const here = cell(i, j);
      STEPS.forEach(([di, dj], s) => {
        const [pi, pj] = [i - di, j - dj];
        if (pi < 0 || pj < 0 || pj < from(pi) || pj > to(pi)) return;
        const before = total[cell(pi, pj)]!;
        if (before === Infinity) return;
        const bend = even * Math.abs(Math.log(dj / di / ratio));
        const value = before + (di + dj) * (cost[here]! + bend);
        if (value < total[here]!) {
          total[here] = value;
          step[here] = s;
        }
      });
    }
  }
  const path: [number, number][] = [];
  let [i, j] = [n - 1, m - 1];
  if (total[cell(i, j)] === Infinity) return Array.from({ length: n }, (_, k) => [k, Math.round(k * ratio)]);
  while (i > 0 || j > 0) {
    path.push([i, j]);
    const [di, dj] = STEPS[step[cell(i, j)]!]!;
    i -= di;
    j -= dj;
  }
  path.push([0, 0]);
  return path.reverse();
}

/** Where a frame that the path steps over lies: evenly between its neighbours on it. */
function between(path: readonly (readonly [number, number])[], i: number): number {
  const after = path.findIndex(([k]) => k > i);
  const [a, b] = [path[after - 1]!, path[after]!];
  return a[1] + ((b[1] - a[1]) * (i - a[0])) / (b[0] - a[0]);
}

/** The place, between frames, of the second's way that lies nearest to a pose: within two frames of where the path has it. */
function refine(a: Poses, b: Poses, i: number, own: readonly number[]): number {
  const coarse = own.reduce((x, y) => x + y, 0) / own.length;
  // Where nothing moves every place is as near as every other: then it stays where the path has it.
  const start = Math.min(b.count - 2, Math.floor(coarse));
  let best = { at: coarse, cost: awayFrom(a, i, b, start, coarse - start) };
  for (let j = Math.max(0, Math.floor(coarse) - 2); j < Math.min(b.count - 1, Math.ceil(coarse) + 2); j++) {
    const t = project(a, i, b, j);
    if (t === undefined) continue;
    const cost = awayFrom(a, i, b, j, t);
    if (cost < best.cost - 1e-12) best = { at: j + t, cost };
  }
  return best.at;
}

/** Share of the way from a pose to the next at which it is nearest; undefined where the two are the same. */
function project(a: Poses, i: number, b: Poses, j: number): number | undefined {
  let along = 0;
  let size = 0;
  for (let k = 0; k < a.width; k++) {
    const start = b.rows[b.width * j + k]!;
    const way = b.rows[b.width * (j + 1) + k]! * sign(b, j, j + 1, k) - start;
    along += (a.rows[a.width * i + k]! * signTo(a, i, b, j, k) - start) * way;
    size += way * way;
  }
  return size > 1e-14 ? Math.min(1, Math.max(0, along / size)) : undefined;
}

function awayFrom(a: Poses, i: number, b: Poses, j: number, t: number): number {
  let sum = 0;
  for (let k = 0; k < a.width; k++) {
    const start = b.rows[b.width * j + k]!;
    const way = b.rows[b.width * (j + 1) + k]! * sign(b, j, j + 1, k) - start;
    sum += (a.rows[a.width * i + k]! * signTo(a, i, b, j, k) - start - t * way) ** 2;
  }
  return sum;
}

/** A quaternion and its negative are one rotation: the sign that brings the one at column `k` near the other. */
const sign = (poses: Poses, i: number, j: number, k: number): number => signTo(poses, j, poses, i, k);

function signTo(a: Poses, i: number, b: Poses, j: number, k: number): number {
  if (k >= 4 * a.joints) return 1;
  const first = k - (k % 4);
  let dot = 0;
  for (let c = 0; c < 4; c++) dot += a.rows[a.width * i + first + c]! * b.rows[b.width * j + first + c]!;
  return dot < 0 ? -1 : 1;
}

/** Where a label of the first shot is in the second, between the map's frames by a straight line; where there is no map, the label itself. */
export function mapLabel(map: FrameMap, label: number): number {
  if (map.length === 0) return label;
  const first = map[0]![0];
  const k = Math.min(map.length - 1, Math.max(0, label - first));
  const [low, high] = [map[Math.floor(k)]!, map[Math.ceil(k)]!];
  return low[1] + (high[1] - low[1]) * (k - Math.floor(k));
}
