import { apart, everyRow, type PoseRows } from './pose-features.ts';

export const WARP_DEFAULTS = Object.freeze({
  /** Steepest local stretch or squeeze. */
  slope: 4,
  /** Price of leaving the even stretch, in shares of the typical distance of two poses, so that a hold is stretched evenly. */
  even: 0.02,
  /** Price of a frame at an end that is left without a counterpart, in shares of that distance. */
  skip: 0.12,
  /** A longer shot is first aligned on so many of its poses, without a band. */
  coarse: 260,
  /** Then about that way, within so many poses of the coarse one to each side. */
  around: 2.5,
  aroundLeast: 10,
});

/** A way through two shots: pairs of samples, both rising, and what it cost per frame. */
export interface Way {
  readonly path: readonly (readonly [i: number, j: number])[];
  readonly cost: number;
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

/**
 * The cheapest way through two shots' poses by dynamic time warping (H. Sakoe and S. Chiba, *Dynamic programming algorithm optimization for
 * spoken word recognition*, IEEE Trans. ASSP 26, 1978), slope-limited, with both ends free: frames at the ends of either may be left without
 * a counterpart, at a price. Long shots are aligned coarsely first and then within a band about that way, so that memory grows with the band.
 */
export function warp(a: PoseRows, b: PoseRows): Way {
  const every = Math.max(1, Math.ceil(Math.max(a.count, b.count) / WARP_DEFAULTS.coarse));
  const typical = typicalDistance(a, b);
  const [few, fewer] = [everyRow(a, every), everyRow(b, every)];
  const whole: Band = { from: () => 0, to: () => fewer.count - 1, width: fewer.count };
  const first = through(few, fewer, whole, 1, typical);
  const coarse = throughAgain(few, fewer, whole, first, typical);
  if (every === 1) return coarse;
  const reach = Math.max(WARP_DEFAULTS.aroundLeast, Math.ceil(WARP_DEFAULTS.around * every));
  const middles = middlesOf(coarse, every, a.count);
  const band: Band = {
    from: (i) => Math.max(0, Math.min(b.count - 1, Math.floor(middles[i]! - reach))),
    to: (i) => Math.min(b.count - 1, Math.max(0, Math.ceil(middles[i]! + reach))),
    width: 2 * reach + 3,
  };
  return through(a, b, band, ratioOf(coarse), typical);
}

/** Once more with the even stretch that was found: where ends have no counterpart it is not that of the lengths. */
function throughAgain(a: PoseRows, b: PoseRows, band: Band, first: Way, typical: number): Way {
  const ratio = ratioOf(first);
  return Math.abs(Math.log(ratio)) < 0.02 ? first : through(a, b, band, ratio, typical);
}

function ratioOf({ path }: Way): number {
  const [from, to] = [path[0]!, path.at(-1)!];
  return to[0] > from[0] && to[1] > from[1] ? (to[1] - from[1]) / (to[0] - from[0]) : 1;
}

interface Band {
  readonly from: (i: number) => number;
  readonly to: (i: number) => number;
  readonly width: number;
}

/** For every sample of the first where the coarse way has it in the second, going on straight beyond its ends. */
function middlesOf({ path }: Way, every: number, count: number): Float64Array {
  const ratio = ratioOf({ path, cost: 0 });
  const middles = new Float64Array(count);
  let k = 0;
  for (let i = 0; i < count; i++) {
    const at = i / every;
    while (k + 1 < path.length - 1 && path[k + 1]![0] <= at) k++;
    const [from, to] = [path[k]!, path[Math.min(k + 1, path.length - 1)]!];
    const slope =
      at < path[0]![0] || at > path.at(-1)![0] || to[0] === from[0] ? ratio : (to[1] - from[1]) / (to[0] - from[0]);
    const base = at > path.at(-1)![0] ? path.at(-1)! : at < path[0]![0] ? path[0]! : from;
    middles[i] = every * (base[1] + slope * (at - base[0]));
  }
  return middles;
}

/** Distance of two poses that have nothing to do with each other: the mean over a scatter of pairs. */
function typicalDistance(a: PoseRows, b: PoseRows): number {
  let sum = 0;
  let count = 0;
  for (let k = 0; k < 97; k++) {
    const i = (k * 37) % a.count;
    const j = (k * 61 + 13) % b.count;
    sum += apart(a, i, b, j);
    count++;
  }
  return Math.max(sum / count, 1e-9);
}

function through(a: PoseRows, b: PoseRows, { from, to, width }: Band, ratio: number, typical: number): Way {
  const [n, m] = [a.count, b.count];
  const skip = WARP_DEFAULTS.skip * typical;
  const bends = STEPS.map(([di, dj]) => WARP_DEFAULTS.even * typical * Math.abs(Math.log(dj / di / ratio)) * (di + dj));
  const total = new Float64Array(n * width).fill(Infinity);
  const step = new Int8Array(n * width).fill(-1);
  const firsts = Int32Array.from({ length: n }, (_, i) => from(i));
  const lasts = Int32Array.from({ length: n }, (_, i) => Math.min(to(i), from(i) + width - 1));
  for (let i = 0; i < n; i++) {
    for (let j = firsts[i]!; j <= lasts[i]!; j++) {
      const here = i * width + (j - firsts[i]!);
      const cost = apart(a, i, b, j);
      // A way begins at the first frame of one of the two; what lies before in the other has no counterpart.
      let best = i === 0 || j === 0 ? 2 * cost + skip * (i + j) : Infinity;
      let by = -1;
      for (let s = 0; s < STEPS.length; s++) {
        const pi = i - STEPS[s]![0];
        const pj = j - STEPS[s]![1];
        if (pi < 0 || pj < firsts[pi]! || pj > lasts[pi]!) continue;
        const value = total[pi * width + (pj - firsts[pi]!)]! + (STEPS[s]![0] + STEPS[s]![1]) * cost + bends[s]!;
        if (value < best) {
          best = value;
          by = s;
        }
      }
      total[here] = best;
      step[here] = by;
    }
  }
  let end = { i: n - 1, j: Math.min(m - 1, lasts[n - 1]!), value: Infinity };
  const consider = (i: number, j: number): void => {
    if (j < firsts[i]! || j > lasts[i]!) return;
    const value = total[i * width + (j - firsts[i]!)]! + skip * (n - 1 - i + (m - 1 - j));
    if (value < end.value) end = { i, j, value };
  };
  for (let i = 0; i < n; i++) consider(i, m - 1);
  for (let j = firsts[n - 1]!; j <= lasts[n - 1]!; j++) consider(n - 1, j);
  const path: [number, number][] = [];
  let { i, j } = end;
  for (;;) {
    path.push([i, j]);
    const s = step[i * width + (j - firsts[i]!)]!;
    if (s < 0) break;
    i -= STEPS[s]![0];
    j -= STEPS[s]![1];
  }
  return { path: path.reverse(), cost: end.value / (n + m) / typical };
}
