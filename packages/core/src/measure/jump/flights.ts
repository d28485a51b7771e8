import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { dot, largestOf, median, smallestOf, type Vec3 } from '../../motion/vector.ts';
import { footPoints, pointAt } from '../gait/foot-points.ts';

/** Thresholds of finding when a figure is in the air: percent of leg length, and per frame at 24 fps. */
export const FLIGHT_DEFAULTS = Object.freeze({
  /** A foot stands while one of its low points moves by less than this, %L a frame. */
  still: 2.5,
  /** Points this much over the foot's lowest are low as well, %L. */
  low: 3,
  /** A still foot that was lower just before and is lower just after, by this, is at the top of its arc, %L. */
  top: 1,
  /** A foot that is still for less than this stands on nothing: it only turns in the air. Frames at 24 fps. */
  shortestStand: 2,
  /** A stand shorter than this that goes down and up again is the bottom of a dip, frames at 24 fps. */
  dip: 5,
  /** It leaves the ground where it gets this much over the place it stood on, %L. */
  clear: 1,
  /** Shorter flights are steps or noise, frames at 24 fps; so are those in which no foot gets this high, %L. */
  shortest: 3,
  height: 3,
});

/** A time in the air: the last sample on the ground before it and the first after it; undefined where the shot begins or ends in it. */
export interface Flight {
  readonly takeoff?: number;
  readonly landing?: number;
}

/** One foot as flights look at it: its lowest point's height at each sample, and whether it stands. */
interface Foot {
  readonly height: Float64Array;
  readonly stands: Uint8Array;
}

/**
 * Finds when no known foot stands. A foot stands where a low point of it is still, at whatever height: quay, barge, or box.
 *
 * @returns flights in order, or why there are none to be told
 */
export function findFlights(shot: PreparedShot): Flight[] | string {
  const { motion, scale, fps } = shot;
  const n = motion.frames;
  const feet = (['L', 'R'] as const).flatMap((side) => standing(shot, side) ?? []);
  if (feet.length === 0) return 'it needs a foot at least; set the roles';
  if (n < 6) return `it needs 6 frames or more, the shot has ${n}`;
  const L = scale.legLength;
  const supported = (f: number): boolean => feet.some(({ stands }) => stands[f] === 1);
  const lowest = (f: number): number => smallestOf(feet.map(({ height }) => height[f]!));
  const flights: Flight[] = [];
  for (let f = 0; f < n; f++) {
    if (supported(f)) continue;
    let last = f;
    while (last + 1 < n && !supported(last + 1)) last++;
    const flight = refine(f - 1, last + 1, n, lowest, (FLIGHT_DEFAULTS.clear / 100) * L);
    if (isFlight(flight, n, lowest, L, fps)) flights.push(flight);
    f = last;
  }
  return flights;
}

/** A place where a foot stands still for a while. */
export interface Foothold {
  /** Samples, both included. */
  readonly from: number;
  readonly to: number;
  /** The foot joint in the middle of that time, and the height of the foot's lowest point along up; units. */
  readonly place: Vec3;
  readonly height: number;
}

/** Every place where a foot stands still, at whatever height, in order of time. On the spot, over ground that goes by, there are none. */
export function footholds(shot: PreparedShot): Foothold[] {
  const n = shot.motion.joints.length;
  return (['L', 'R'] as const)
    .flatMap((side) => {
      const foot = standing(shot, side);
      if (!foot) return [];
      const runs: Foothold[] = [];
      for (let f = 0; f < shot.motion.frames; f++) {
        if (!foot.stands[f]) continue;
        let last = f;
        while (last + 1 < shot.motion.frames && foot.stands[last + 1]) last++;
        const middle = (f + last) >> 1;
        const k = 3 * (middle * n + shot.roles[`foot.${side}`]!);
        const { positions: p } = shot.world;
        runs.push({ from: f, to: last, place: [p[k]!, p[k + 1]!, p[k + 2]!], height: foot.height[middle]! });
        f = last;
      }
      return runs;
    })
    .sort((a, b) => a.from - b.from);
}

/** Moves both ends to where the foot really leaves the height it stands at. */
function refine(before: number, after: number, n: number, lowest: (f: number) => number, clear: number): Flight {
  let takeoff = before;
  let landing = after;
  if (before >= 0) {
    const ground = median([before - 2, before - 1, before].filter((f) => f >= 0).map(lowest));
    while (takeoff + 1 < after && lowest(takeoff + 1) <= ground + clear) takeoff++;
  }
  if (after < n) {
    const ground = median([after, after + 1, after + 2].filter((f) => f < n).map(lowest));
    while (landing - 1 > takeoff && lowest(landing - 1) <= ground + clear) landing--;
  }
  return { ...(before >= 0 && { takeoff }), ...(after < n && { landing }) };
}

function isFlight(flight: Flight, n: number, lowest: (f: number) => number, L: number, fps: number): boolean {
  const from = flight.takeoff ?? 0;
  const to = flight.landing ?? n - 1;
  if (to - from < FLIGHT_DEFAULTS.shortest * (fps / 24)) return false;
  const a = flight.takeoff === undefined ? lowest(to) : lowest(from);
  const b = flight.landing === undefined ? a : lowest(to);
  let highest = 0;
  for (let f = from; f <= to; f++)
    highest = Math.max(highest, lowest(f) - (a + ((b - a) * (f - from)) / Math.max(1, to - from)));
  return highest > (FLIGHT_DEFAULTS.height / 100) * L;
}

function standing(shot: PreparedShot, side: 'L' | 'R'): Foot | undefined {
  const foot = footPoints(shot, side);
  if (!foot) return undefined;
  const { axes, scale, fps, motion } = shot;
  const n = motion.frames;
  const L = scale.legLength / 100;
  const places = [foot.heel, ...foot.front];
  const tracks: Vec3[][] = places.map((place) => Array.from({ length: n }, (_, f) => pointAt(shot, f, place)));
  const height = Float64Array.from({ length: n }, (_, f) => smallestOf(tracks.map((track) => dot(track[f]!, axes.up))));
  // A recording at many frames a second trembles from one to the next: it is asked how far a point gets in a frame of 24 fps.
  const reach = Math.max(1, Math.round(fps / 24));
  const limit = FLIGHT_DEFAULTS.still * L * (24 / fps) * reach;
  const stands = new Uint8Array(n);
  for (let f = 0; f + reach < n; f++) {
    const calm = tracks.some((track) => {
      const [p, q] = [track[f]!, track[f + reach]!];
      if (Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]) > limit) return false;
      return dot(p, axes.up) - height[f]! <= FLIGHT_DEFAULTS.low * L;
    });
    if (calm) stands.fill(1, f, f + reach + 1);
  }
  withoutTurns(stands, height, L, fps);
  return { height, stands };
}

/**
 * A still stretch that is lower on both sides is the top of an arc, not a stand. So is one that is higher on both sides, short, and not
 * still in itself: the bottom of a dip, of a figure whose feet go down with its body.
 */
function withoutTurns(stands: Uint8Array, height: Float64Array, percent: number, fps: number): void {
  const n = stands.length;
  const top = FLIGHT_DEFAULTS.top * percent;
  const reach = Math.max(1, Math.round(fps / 12));
  for (let f = 0; f < n; f++) {
    if (!stands[f]) continue;
    let last = f;
    while (last + 1 < n && stands[last + 1]) last++;
    const passing = f > 0 && last < n - 1 && last - f + 1 < Math.round(FLIGHT_DEFAULTS.shortestStand * (fps / 24));
    if (passing) stands.fill(0, f, last + 1);
    const [before, after] = [height[f - reach], height[last + reach]];
    if (before !== undefined && after !== undefined) {
      const own = height.subarray(f, last + 1);
      const isTop = before < height[f]! - top && after < height[last]! - top;
      const low = smallestOf(own);
      const short = last - f + 1 <= FLIGHT_DEFAULTS.dip * (fps / 24);
      const turns = largestOf(own) - low > (FLIGHT_DEFAULTS.top / 2) * percent;
      if (isTop || (short && turns && before > low + 2 * top && after > low + 2 * top)) stands.fill(0, f, last + 1);
    }
    f = last;
  }
}
