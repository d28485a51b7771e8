import { rowDistance, everyRow, type PoseRows } from './pose-features.ts';
import { sampled } from '../signal/sampled.ts';

export const WARP_DEFAULTS = Object.freeze({
  /** Steepest local stretch or squeeze. */
  slope: 4,
  /** What it costs to leave the even stretch, in shares of the typical distance of two poses, so that a hold is stretched evenly. */
  stretch: 0.02,
  /** What a frame at an end costs that is left without a counterpart, in shares of that distance. */
  endFrame: 0.025,
  /** The ends are free where that costs less than this share of a retime. */
  endsFreeBelow: 0.7,
  /** And where that leaves a counterpart to at least this share of the shorter one. */
  leastCovered: 0.6,
  /** A longer shot is first aligned on so many of its poses, without a band. */
  coarse: 260,
  /** Then about that path, within so many poses of the coarse one to each side. */
  around: 2.5,
  aroundLeast: 10,
});

/** A path through two shots: pairs of samples, both rising. */
export interface WarpedPath {
  readonly path: readonly (readonly [i: number, j: number])[];
  /** What it cost in all, in typical distances. */
  readonly price: number;
  /** How far its poses are from each other on average, over the distance of two that have nothing to do with each other. */
  readonly unlike: number;
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
 * The cheapest path through two shots' poses by dynamic time warping (H. Sakoe and S. Chiba, *Dynamic programming algorithm optimization for
 * spoken word recognition*, IEEE Trans. ASSP 26, 1978), slope-limited. Tried both as a retime, whose ends belong together, and with both ends
 * free, where frames at the ends of either may be left without a counterpart at a price. Long shots are aligned coarsely first and then
 * within a band about that path, so that memory grows with the band.
 */
export function warp(a: PoseRows, b: PoseRows): WarpedPath {
  const every = Math.max(1, Math.ceil(Math.max(a.count, b.count) / WARP_DEFAULTS.coarse));
  const [few, fewer] = [everyRow(a, every), everyRow(b, every)];
  const distances: Distances = {
    typical: typicalDistance(a, b),
    floor: Math.max(leastDistance(few, fewer), sameWithin(a, b)),
  };
  const whole: Band = { from: () => 0, to: () => fewer.count - 1, width: fewer.count };
  const ratio = (few.count > 1 ? fewer.count - 1 : 1) / Math.max(1, few.count - 1);
  const retimed = cheapestPath(few, fewer, whole, ratio, distances, false);
  const cut = cheapestPath(few, fewer, whole, 1, distances, true);
  const isCovered = cut.path.length >= WARP_DEFAULTS.leastCovered * Math.min(few.count, fewer.count);
  const free = isCovered && cut.price < WARP_DEFAULTS.endsFreeBelow * retimed.price;
  const coarse = free ? cut : retimed;
  if (every === 1) return coarse;
  const reach = Math.max(WARP_DEFAULTS.aroundLeast, Math.ceil(WARP_DEFAULTS.around * every));
  const middles = middlesOf(coarse.path, every, a.count);
  const band: Band = {
    from: (i) => Math.max(0, Math.min(b.count - 1, Math.floor(middles[i]! - reach))),
    to: (i) => Math.min(b.count - 1, Math.max(0, Math.ceil(middles[i]! + reach))),
    width: 2 * reach + 3,
  };
  return cheapestPath(a, b, band, free ? 1 : (b.count - 1) / (a.count - 1), distances, free);
}

function ratioOf(path: WarpedPath['path']): number {
  const [from, to] = [path[0]!, path.at(-1)!];
  return to[0] > from[0] && to[1] > from[1] ? (to[1] - from[1]) / (to[0] - from[0]) : 1;
}

interface Band {
  readonly from: (i: number) => number;
  readonly to: (i: number) => number;
  readonly width: number;
}

/** For every sample of the first where the coarse path has it in the second, going on straight beyond its ends. */
function middlesOf(path: WarpedPath['path'], every: number, count: number): Float64Array {
  const ratio = ratioOf(path);
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
export function typicalDistance(a: PoseRows, b: PoseRows): number {
  let sum = 0;
  let count = 0;
  for (let k = 0; k < 97; k++) {
    const i = (k * 37) % a.count;
    const j = (k * 61 + 13) % b.count;
    sum += rowDistance(a, i, b, j);
    count++;
  }
  return Math.max(sum / count, 1e-9);
}

/** Poses within this of each other may be one pose that trembles; 0 where neither shot does. */
export const sameWithin = (a: PoseRows, b: PoseRows): number => Math.hypot(a.noise ?? 0, b.noise ?? 0);

interface Distances {
  /** Of two poses that have nothing to do with each other. */
  readonly typical: number;
  /** Of two that belong together: what is different everywhere tells nothing about where. */
  readonly floor: number;
}

/** How near the nearest pose of the second usually is to one of the first: the lower quartile. */
function leastDistance(a: PoseRows, b: PoseRows): number {
  const nearest = sampled(a.count, (i) => {
    let least = Infinity;
    for (let j = 0; j < b.count; j++) least = Math.min(least, rowDistance(a, i, b, j));
    return least;
  }).sort();
  return nearest[Math.floor(nearest.length / 4)]!;
}

function cheapestPath(
  a: PoseRows,
  b: PoseRows,
  { from, to, width }: Band,
  ratio: number,
  { typical, floor }: Distances,
  free: boolean,
): WarpedPath {
  const [n, m] = [a.count, b.count];
  const perFrame = free ? WARP_DEFAULTS.endFrame * typical : Infinity;
  const bends = STEPS.map(
    ([di, dj]) => WARP_DEFAULTS.stretch * typical * Math.abs(Math.log(dj / di / ratio)) * (di + dj),
  );
  const total = new Float64Array(n * width).fill(Infinity);
  const step = new Int8Array(n * width).fill(-1);
  const firsts = Int32Array.from({ length: n }, (_, i) => from(i));
  const lasts = Int32Array.from({ length: n }, (_, i) => Math.min(to(i), from(i) + width - 1));
  for (let i = 0; i < n; i++) {
    for (let j = firsts[i]!; j <= lasts[i]!; j++) {
      const here = i * width + (j - firsts[i]!);
      const cost = Math.max(0, rowDistance(a, i, b, j) - floor);
      // A path begins at the first frame of one of the two; what lies before in the other has no counterpart.
      let best = i + j === 0 ? 2 * cost : i === 0 || j === 0 ? 2 * cost + perFrame * (i + j) : Infinity;
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
    const left = n - 1 - i + (m - 1 - j);
    const value = total[i * width + (j - firsts[i]!)]! + (left > 0 ? perFrame * left : 0);
    if (value < end.value) end = { i, j, value };
  };
  for (let i = 0; i < n; i++) consider(i, m - 1);
  for (let j = firsts[n - 1]!; j <= lasts[n - 1]!; j++) consider(n - 1, j);
  const path: [number, number][] = [];
  let { i, j } = end;
  let sum = 0;
  for (;;) {
    path.push([i, j]);
    sum += rowDistance(a, i, b, j);
    const s = step[i * width + (j - firsts[i]!)]!;
    if (s < 0) break;
    i -= STEPS[s]![0];
    j -= STEPS[s]![1];
  }
  return { path: path.reverse(), price: end.value / typical, unlike: sum / path.length / typical };
}
