import { loopPeriod } from './loop.ts';
import type { PosedFigure } from './prepared-shot.ts';
import { findContacts } from './feet/contacts.ts';
import { directed, facingTurns, type Heading, trend } from './heading.ts';
import { largestOf, mean, median, rangeOf } from '../signal/statistics.ts';
import { vec3At } from './quaternion.ts';
import { add, dot, length, reject, scale, subtract, type Vec3 } from './vector.ts';
import { sampled } from '../signal/sampled.ts';
import { farthestTravel, TRAVELS } from './travel.ts';

export const WAY_DEFAULTS = Object.freeze({
  /** A figure that faces this far, degrees, from where it goes walks aside or backwards: then it is taken by its own facing. */
  aside: 60,
  /** A figure on the spot that turns this far about, degrees, is taken as it faces, smoothed, and not by one mean. */
  turnsAbout: 60,
  /** Over a cycle in which it comes less far than this share of its farthest it stands. */
  stands: 0.25,
  /** A step of so many times the usual one, within the shot or over a loop's seam, is a leap, and no way … */
  leap: 6,
  /** … and of at least so many leg lengths. */
  leapLeast: 0.5,
});

const known = new WeakMap<PosedFigure, Heading>();

/**
 * The figure's own forward and left at every sample, which all quantities are measured in: along the way it travels; without travel as it faces on the
 * mean of the shot (of a loop's period), or smoothed over a cycle where it turns about. Worked out once a shot.
 */
export function wayOf(shot: PosedFigure): Heading {
  const way = known.get(shot) ?? workOut(shot);
  known.set(shot, way);
  return way;
}

/** Forward, left and up of the figure at a sample; a loop's repeated last frame faces as its first. */
export function figureAxes(shot: PosedFigure, sample: number): readonly [forward: Vec3, left: Vec3, up: Vec3] {
  const way = wayOf(shot);
  const s = shot.loop === 'none' ? sample : sample % way.turn.length;
  return [way.forward(s), way.left(s), shot.axes.up];
}

function workOut(shot: PosedFigure): Heading {
  const samples = loopPeriod(shot.loop, shot.motion.frames);
  const facing = facingTurns(shot, samples);
  const cycle = cycleOf(shot) ?? Math.round(shot.fps);
  if (farthestTravel(shot) > TRAVELS) {
    const going = travelTurns(shot, samples, Math.min(cycle, samples - 1));
    const apart = going && median(sampled(samples, (f) => Math.abs(nearest(going[f]! - facing[f]!))));
    if (going && apart! <= WAY_DEFAULTS.aside) return directed(shot.axes, going);
    return directed(shot.axes, trend(facing, cycle));
  }
  const smoothed = trend(facing, cycle);
  if (shot.loop === 'none' && rangeOf(smoothed) > WAY_DEFAULTS.turnsAbout) return directed(shot.axes, smoothed);
  return directed(shot.axes, new Float64Array(samples).fill(mean(facing)));
}

/** An angle as the one nearest to 0 that is the same direction, degrees. */
const nearest = (degrees: number): number => degrees - 360 * Math.round(degrees / 360);

/** Samples from a foot's landing to its next one, as usual in the shot; undefined where no foot lands twice. */
function cycleOf(shot: PosedFigure): number | undefined {
  if (shot.fourLegs) return undefined;
  const { feet } = findContacts(shot);
  const between = (['L', 'R'] as const).flatMap((side) =>
    (feet[side] ?? []).flatMap(({ from }, k, all) => (k === 0 ? [] : [from - all[k - 1]!.from])),
  );
  return between.length > 0 ? Math.round(median(between)) : undefined;
}

const usualStep = (path: readonly Vec3[]): number =>
  median(sampled(path.length - 1, (f) => length(subtract(path[f + 1]!, path[f]!))));

/** A way with what leaps in it taken out: there it goes on as it went. */
function withoutLeaps(path: readonly Vec3[], legLength: number): readonly Vec3[] {
  const most = Math.max(WAY_DEFAULTS.leap * usualStep(path), WAY_DEFAULTS.leapLeast * legLength);
  let gone: Vec3 = [0, 0, 0];
  let last: Vec3 = [0, 0, 0];
  return path.map((place, f) => {
    const step = f === 0 ? last : subtract(place, path[f - 1]!);
    if (length(step) > most) gone = add(gone, subtract(last, step));
    else last = step;
    return add(place, gone);
  });
}

/**
 * Where the hips go, as a turn about up away from the rest pose's forward: of what they travel in a whole cycle about each sample, so that their sway takes no
 * part; before the first whole cycle and behind the last as it turns there.
 */
function travelTurns(shot: PosedFigure, samples: number, cycle: number): Float64Array | undefined {
  const { motion, world, axes, roles } = shot;
  const n = motion.joints.length;
  const goesRound = shot.loop !== 'none';
  const advance = goesRound ? findContacts(shot).advance : ([0, 0, 0] as const);
  const at = withoutLeaps(
    Array.from({ length: samples }, (_, f) => vec3At(world.positions, f * n + (roles.hips ?? 0))),
    shot.scale.legLength,
  );
  // A last pose that was copied from the first with its place: there the figure leaps back, and goes nowhere.
  const leaps =
    goesRound && length(subtract(add(at[0]!, advance), at[samples - 1]!)) > WAY_DEFAULTS.leap * usualStep(at);
  const wraps = goesRound && !leaps;
  const place = (f: number): Vec3 => {
    if (!wraps) return at[f]!;
    return add(at[((f % samples) + samples) % samples]!, scale(advance, Math.floor(f / samples)));
  };
  const before = Math.floor(cycle / 2);
  const count = wraps ? samples : samples - cycle;
  if (count < 1 || cycle < 1) return undefined;
  const first = wraps ? -before : 0;
  const gone = Array.from({ length: count }, (_, k) =>
    reject(subtract(place(first + k + cycle), place(first + k)), axes.up),
  );
  const sizes = sampled(count, (k) => length(gone[k]!));
  const least = WAY_DEFAULTS.stands * largestOf(sizes);
  const start = sizes.findIndex((size) => size >= least);
  if (!(least > 0)) return undefined;
  const own = new Float64Array(count);
  let last: number | undefined;
  for (const k of [
    ...Array.from({ length: count - start }, (_, i) => start + i),
    ...Array.from({ length: start }, (_, i) => i),
  ]) {
    // Where it stands it faces on as it went last; before it sets out as it will go.
    if (sizes[k]! < least) own[k] = k < start ? own[start]! : last!;
    else {
      const turn = (Math.atan2(dot(gone[k]!, axes.left), dot(gone[k]!, axes.forward)) * 180) / Math.PI;
      own[k] = last === undefined ? turn : turn + 360 * Math.round((last - turn) / 360);
    }
    last = own[k];
  }
  if (wraps) return own;
  // Half a cycle at each end has no whole cycle about it: there the path turns on as it does beside it.
  const reach = Math.min(before, count - 1);
  const slope = (from: number, to: number): number => (reach > 0 ? (own[to]! - own[from]!) / reach : 0);
  const [early, late] = [slope(0, reach), slope(count - 1 - reach, count - 1)];
  return sampled(samples, (f) => {
    const k = f - before;
    if (k < 0) return own[0]! + k * early;
    return k < count ? own[k]! : own[count - 1]! + (k - count + 1) * late;
  });
}
