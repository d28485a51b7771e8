import { predicted } from '../../signal/neighbours.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { type FixedPoint, putPoint } from '../../motion/feet/foot-points.ts';
import { sampled } from '../../signal/sampled.ts';

/** The path of a point: x, y, z a sample. Motion shots and picture shots are both measured as such. */
export interface PointPath {
  readonly points: Float64Array;
  /** Number of samples. */
  readonly count: number;
  /** Where the path goes on after its last sample, if it does: it wraps, moved by `advance` a turn. */
  readonly wraps?: { readonly period: number; readonly advance: readonly [number, number, number] };
}

/** Where the neighbours of each sample lie against it and how far the sample is out of place; everything in units. */
export interface Decomposition {
  /** Residual r, 3 numbers a sample. */
  readonly residual: Float64Array;
  /** Size of the residual's part along the local tangent: off the spacing. */
  readonly along: Float64Array;
  /** Size of its part square to the tangent: off the arc. */
  readonly across: Float64Array;
  /** Mean step of the window of five samples. */
  readonly step: Float64Array;
  /** 1 where the window lies within the path. */
  readonly valid: Uint8Array;
}

/** The world path of a joint, wrapped where the shot loops and the path goes on smoothly over its end. */
export const jointPath = (shot: PreparedShot, joint: number): PointPath =>
  fixedPointPath(shot, { joint, local: [0, 0, 0] });

/** The world path of a point fixed to a joint: see {@link jointPath}. */
export function fixedPointPath(shot: PreparedShot, point: FixedPoint): PointPath {
  const { motion, loop } = shot;
  const count = motion.frames;
  const points = new Float64Array(3 * count);
  for (let f = 0; f < count; f++) putPoint(shot, f, point, points, 3 * f);
  return loop === 'none' ? { points, count } : withWrap(points, count, loop);
}

function withWrap(points: Float64Array, count: number, loop: 'repeat' | 'follow'): PointPath {
  const step = (i: number, k: number): [number, number, number] => [
    points[3 * k]! - points[3 * i]!,
    points[3 * k + 1]! - points[3 * i + 1]!,
    points[3 * k + 2]! - points[3 * i + 2]!,
  ];
  if (loop === 'repeat') return { points, count, wraps: { period: count - 1, advance: step(0, count - 1) } };
  // The last sample comes just before the first. A path that travels does not come back by itself: it advances by what is left
  // once a step like those beside the seam is taken.
  const seam = step(count - 1, 0);
  const before = step(count - 2, count - 1);
  const after = step(0, 1);
  const beside = [0, 1, 2].map((k) => (before[k]! + after[k]!) / 2);
  const near = Math.hypot(...seam) <= 2.5 * (Math.hypot(...before) + Math.hypot(...after)) + 1e-9;
  const advance = near ? [0, 0, 0] : [0, 1, 2].map((k) => beside[k]! - seam[k]!);
  return { points, count, wraps: { period: count, advance: advance as [number, number, number] } };
}

/** Reads sample `i` of a path into `out`, going on over the ends where it wraps; false where there is none. */
export function samplePath(path: PointPath, i: number, out: Float64Array): boolean {
  const { points, count, wraps } = path;
  let sample = i;
  let turns = 0;
  if (wraps) {
    turns = Math.floor(i / wraps.period);
    sample = i - turns * wraps.period;
  } else if (i < 0 || i >= count) return false;
  for (let k = 0; k < 3; k++) out[k] = points[3 * sample + k]! + (wraps ? turns * wraps.advance[k]! : 0);
  return true;
}

/** Neighbours nearer to each other than this share of a step are in one place. */
const TURNS_BACK = 0.02;

/**
 * Splits how far each sample is from what its neighbours predict, P̂[i] = (−P[i−2] + 4P[i−1] + 4P[i+1] − P[i+2]) / 6 (a cubic
 * through evenly timed neighbours has none), into a part along the path and a part across it.
 *
 * @param every samples from one neighbour to the next: at high rates those that would be shown at 24 frames a second; see {@link everyFor}
 * @example a point displaced by D at one sample alone has there a residual of exactly D, and −2/3 D at the samples beside it
 */
export function decomposePath(path: PointPath, every = 1): Decomposition {
  const n = path.count;
  const residual = new Float64Array(3 * n);
  const along = new Float64Array(n);
  const across = new Float64Array(n);
  const step = new Float64Array(n);
  const valid = new Uint8Array(n);
  const w = Array.from({ length: 5 }, () => new Float64Array(3));
  for (let i = 0; i < n; i++) {
    let inside = true;
    for (let k = 0; k < 5; k++) inside = samplePath(path, i + (k - 2) * every, w[k]!) && inside;
    if (!inside) continue;
    valid[i] = 1;
    const [a, b, c, d, e] = w as [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array];
    let tangent = 0;
    let dot = 0;
    let size = 0;
    for (let k = 0; k < 3; k++) {
      const r = c[k]! - predicted(a[k]!, b[k]!, d[k]!, e[k]!);
      const t = d[k]! - b[k]!;
      residual[3 * i + k] = r;
      dot += r * t;
      tangent += t * t;
      size += r * r;
    }
    // Of a sample thrown out between two neighbours in one place nothing tells along from across: it is across.
    const pace = (distance(a, b) + distance(b, c) + distance(c, d) + distance(d, e)) / 4;
    const on = tangent > (TURNS_BACK * pace) ** 2 ? dot / Math.sqrt(tangent) : 0;
    along[i] = Math.abs(on);
    across[i] = Math.sqrt(Math.max(0, size - on * on));
    step[i] = pace;
  }
  return { residual, along, across, step, valid };
}

/** Rates over this show more than an eye that looks for what stands out of place can tell. */
const HIGH_RATE = 30;

/** Samples from one neighbour to the next where something is looked for that stands out at 24 frames a second. */
export const everyFor = (fps: number): number => (fps > HIGH_RATE ? Math.max(1, Math.round(fps / 24)) : 1);

/** Steps of a path: distance of each sample to the next, going round where it wraps. */
export function pathSteps(path: PointPath): Float64Array {
  const count = path.wraps ? path.wraps.period : path.count - 1;
  const a = new Float64Array(3);
  const b = new Float64Array(3);
  return sampled(Math.max(0, count), (i) => {
    samplePath(path, i, a);
    samplePath(path, i + 1, b);
    return distance(a, b);
  });
}

function distance(a: Float64Array, b: Float64Array): number {
  const x = a[0]! - b[0]!;
  const y = a[1]! - b[1]!;
  const z = a[2]! - b[2]!;
  return Math.sqrt(x * x + y * y + z * z);
}
