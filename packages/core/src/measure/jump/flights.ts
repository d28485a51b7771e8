import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, median, smallestOf } from '../../signal/statistics.ts';
import type { Vec3 } from '../../motion/vector.ts';
import { type Run, runsOf } from '../../signal/runs.ts';
import { putPoint } from '../../motion/feet/foot-points.ts';
import { type FootTrack, footTracks, keepsStill } from '../../motion/feet/standing-feet.ts';

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
  readonly side: FootTrack['side'];
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
  if (shot.fourLegs) return 'the figure stands on four legs, and only two-legged jumps are measured';
  const feet = standingFeet(shot);
  if (!isLegless(shot) && footTracks(shot, n).length === 0) return 'it needs a foot at least; set the roles';
  if (n < 6) return `it needs 6 poses or more, the shot has ${n}`;
  const L = scale.legLength;
  const lowest = (f: number): number => smallestOf(feet.map(({ height }) => height[f]!));
  return runsOf(n, (f) => !feet.some(({ stands }) => stands[f] === 1))
    .map(({ from, to }) => refine(from - 1, to + 1, n, lowest, (FLIGHT_DEFAULTS.clear / 100) * L))
    .filter((flight) => isFlight(flight, n, lowest, L, fps));
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
  const { positions: p } = shot.world;
  if (isLegless(shot)) return [];
  return standingFeet(shot)
    .flatMap(({ side, height, stands }) =>
      runsOf(shot.motion.frames, (f) => stands[f] === 1).map(({ from, to }): Foothold => {
        const middle = (from + to) >> 1;
        const k = 3 * (middle * n + shot.roles[`foot.${side}`]!);
        return { from, to, place: [p[k]!, p[k + 1]!, p[k + 2]!], height: height[middle]! };
      }),
    )
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

const standingFeet = (shot: PreparedShot): Foot[] => {
  const tracks = footTracks(shot, shot.motion.frames);
  return (tracks.length > 0 ? tracks : [lowestTrack(shot)]).map((track) => standing(shot, track));
};

/** Whether a figure stands on its lowest point: a sack, a ball, a lamp has no feet. */
export const isLegless = ({ roles }: Pick<PreparedShot, 'roles'>): boolean =>
  (['thigh.L', 'thigh.R', 'foot.L', 'foot.R'] as const).every((role) => roles[role] === undefined);

/** The height of whatever is lowest of a body without feet, as of a foot: where along the ground it stands makes no difference, as it may roll. */
function lowestTrack(shot: PreparedShot): FootTrack {
  const { motion, axes } = shot;
  const n = motion.frames;
  const height = new Float64Array(n).fill(Infinity);
  const p = new Float64Array(3);
  motion.joints.forEach(({ ends }, joint) => {
    for (const local of [[0, 0, 0] as const, ...ends])
      for (let f = 0; f < n; f++) {
        putPoint(shot, f, { joint, local }, p, 0);
        height[f] = Math.min(height[f]!, p[0]! * axes.up[0] + p[1]! * axes.up[1] + p[2]! * axes.up[2]);
      }
  });
  const points = new Float64Array(3 * n);
  for (let f = 0; f < n; f++) for (let c = 0; c < 3; c++) points[3 * f + c] = height[f]! * axes.up[c]!;
  return { side: 'L', points: [points], heights: [height], height, lowest: new Uint8Array(n) };
}

function standing({ axes, scale, fps, motion }: PreparedShot, track: FootTrack): Foot {
  const n = motion.frames;
  const L = scale.legLength / 100;
  const reach = Math.max(1, Math.round(fps / 24));
  const limit = FLIGHT_DEFAULTS.still * L * (24 / fps) * reach;
  const rule = { reach, rise: limit, drift: limit, within: limit, low: FLIGHT_DEFAULTS.low * L };
  const stands = new Uint8Array(n);
  for (let f = 0; f + reach < n; f++) if (keepsStill(track, f, axes.up, rule)) stands.fill(1, f, f + reach + 1);
  for (const run of runsOf(n, (f) => stands[f] === 1))
    if (isTurn(run, track.height, L, fps)) stands.fill(0, run.from, run.to + 1);
  return { side: track.side, height: track.height, stands };
}

/**
 * A still stretch that is lower on both sides is the top of an arc, not a stand. So is one that is higher on both sides, short, and not
 * still in itself: the bottom of a dip, of a figure whose feet go down with its body. So is one too short to carry anything.
 */
function isTurn({ from, to }: Run, height: Float64Array, percent: number, fps: number): boolean {
  const n = height.length;
  const frames = to - from + 1;
  const passing = from > 0 && to < n - 1 && frames < Math.round(FLIGHT_DEFAULTS.shortestStand * (fps / 24));
  if (passing) return true;
  const reach = Math.max(1, Math.round(fps / 12));
  const [before, after] = [height[from - reach], height[to + reach]];
  if (before === undefined || after === undefined) return false;
  const top = FLIGHT_DEFAULTS.top * percent;
  const own = height.subarray(from, to + 1);
  const low = smallestOf(own);
  if (before < height[from]! - top && after < height[to]! - top) return true;
  const short = frames <= FLIGHT_DEFAULTS.dip * (fps / 24);
  const turns = largestOf(own) - low > top / 2;
  return short && turns && before > low + 2 * top && after > low + 2 * top;
}
