import { meanHeading } from '../../motion/heading.ts';
import { loopPeriod } from '../../motion/loop.ts';
import type { Ground, PreparedShot } from '../../motion/prepared-shot.ts';
import { rotate } from '../../motion/quaternion.ts';
import { ancestors } from '../../motion/roles.ts';
import { add, dot, length, median, reject, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { footPoints, pointAt } from './foot-points.ts';

/** Thresholds of contact detection, in percent of leg length, and per frame at 24 fps. */
export const CONTACT_DEFAULTS = Object.freeze({
  /** A foot's lowest point is this near the ground, %L. */
  height: 4,
  /** It moves up or down by less than this, %L a frame. */
  rise: 1.5,
  /** It moves with the ground to within this share of the ground's speed. */
  loose: 0.8,
  /** The ground is up = 0 when the feet come down within this of it, %L. */
  groundNear: 6,
  /** On steps it moves with the ground to within this share of the speed: still, at whatever height. */
  strict: 0.25,
  /** Contacts of a travelling figure whose heights differ by more than this, %L, are on steps. */
  steps: 8,
  /** Hips that get farther than this many leg lengths travel. */
  travels: 0.5,
  /** Shorter gaps are closed and shorter runs dropped, frames at 24 fps. */
  shortest: 2,
});

/** One time a foot is planted: samples from landing to the last planted one; of a loop, `to` may lie past the period's end. */
export interface Contact {
  readonly from: number;
  readonly to: number;
}

export interface Contacts {
  /** How the ground goes by, units a frame; zero where the figure travels over it. */
  readonly belt: Vec3;
  /** What the figure was found to stand on. On steps each contact has its own height. */
  readonly kind: Ground;
  /** Height of flat ground along up, units. */
  readonly ground: number;
  /** How far a figure that travels has come when its loop begins again; zero on the spot, and where there is no loop. */
  readonly advance: Vec3;
  readonly feet: Readonly<Partial<Record<'L' | 'R', readonly Contact[]>>>;
}

/** The points of a foot that can touch the ground, 3 numbers a point, points in the order heel, ball, toe end. */
interface FootTrack {
  readonly side: 'L' | 'R';
  readonly points: readonly Float64Array[];
  /** Index of the lowest point, and its height, at each sample. */
  readonly lowest: Uint8Array;
  readonly height: Float64Array;
}

const known = new WeakMap<PreparedShot, Contacts>();

/** Finds when each foot is planted, on flat ground or on steps. A foot that is not known has no entry. Worked out once a shot. */
export function findContacts(shot: PreparedShot): Contacts {
  const contacts = known.get(shot) ?? workOut(shot);
  known.set(shot, contacts);
  return contacts;
}

function workOut(shot: PreparedShot): Contacts {
  const { scale: size, loop, motion } = shot;
  const L = size.legLength;
  const frames = loopPeriod(loop, motion.frames);
  const tracks = (['L', 'R'] as const).flatMap((side) => footTrack(shot, side, frames) ?? []);
  if (tracks.length === 0 || frames < 3)
    return { belt: [0, 0, 0], kind: 'flat', ground: 0, advance: [0, 0, 0], feet: {} };
  const wraps = loop !== 'none';
  const travel = hipsTravel(shot, frames);
  const travels = length(travel.total) > CONTACT_DEFAULTS.travels * L;
  const belt = travels ? ([0, 0, 0] as const) : findBelt(shot, tracks, frames, wraps);
  const speed = Math.max(length(belt), length(travel.perFrame));
  const usual = median(
    Float64Array.from({ length: frames }, (_, f) => Math.min(...tracks.map((track) => track.height[f]!))),
  );
  const ground = Math.abs(usual) < (CONTACT_DEFAULTS.groundNear / 100) * L ? 0 : usual;
  const perFrame = 24 / shot.fps;
  // A recording at many frames a second trembles from one to the next: it is asked how far a foot gets in a frame of 24 fps.
  const reach = Math.max(1, Math.round(shot.fps / 24));
  const limits = {
    reach,
    height: ground + (CONTACT_DEFAULTS.height / 100) * L,
    rise: (CONTACT_DEFAULTS.rise / 100) * L * perFrame * reach,
    drift: Math.max(CONTACT_DEFAULTS.loose * speed, 0.01 * L * perFrame) * reach,
  };
  const shortest = Math.max(1, Math.round(CONTACT_DEFAULTS.shortest / perFrame));
  const advance = travels && wraps ? travel.advance : ([0, 0, 0] as const);
  const find = (limit: Limits): Contacts['feet'] => {
    const feet: Partial<Record<'L' | 'R', readonly Contact[]>> = {};
    for (const track of tracks) {
      const planted = Array.from({ length: frames }, (_, f) =>
        isPlanted(track, f, frames, wraps, belt, advance, shot.axes.up, limit),
      );
      feet[track.side] = runs(planted, wraps, shortest);
    }
    return feet;
  };
  if (shot.ground === 'steps' || (shot.ground === 'auto' && travels)) {
    const drift = Math.max(CONTACT_DEFAULTS.strict * speed, 0.01 * L * perFrame) * reach;
    const feet = find({ ...limits, height: Infinity, drift });
    if (shot.ground === 'steps' || onSteps(tracks, feet, frames, (CONTACT_DEFAULTS.steps / 100) * L))
      return { belt, kind: 'steps', ground, advance: wraps ? travel.climbing : advance, feet };
  }
  return { belt, kind: 'flat', ground, advance, feet: find(limits) };
}

/** Whether the feet come to lie at heights that differ by more than `least`. */
function onSteps(tracks: readonly FootTrack[], feet: Contacts['feet'], frames: number, least: number): boolean {
  const heights = tracks.flatMap(({ side, height }) =>
    (feet[side] ?? []).map(({ from, to }) => median(height.subarray(from, Math.min(to, frames - 1) + 1))),
  );
  return heights.length > 2 && Math.max(...heights) - Math.min(...heights) > least;
}

/** Samples at which a foot's path turns because it meets or leaves the ground: within two frames (at 24 fps) of either. */
export function aroundContacts(shot: PreparedShot, joint: number): ReadonlySet<number> {
  const side = (['L', 'R'] as const).find((s) => {
    const foot = shot.roles[`foot.${s}`];
    return foot !== undefined && (foot === joint || ancestors(shot.motion.joints, joint).includes(foot));
  });
  const around = new Set<number>();
  if (!side) return around;
  const reach = Math.round(2 * (shot.fps / 24));
  const period = loopPeriod(shot.loop, shot.motion.frames);
  for (const { from, to } of findContacts(shot).feet[side] ?? []) {
    for (const end of [from, to]) {
      for (let k = -reach; k <= reach; k++) {
        const at = shot.loop === 'none' ? end + k : (((end + k) % period) + period) % period;
        around.add(at);
        if (at === 0 && shot.loop === 'repeat') around.add(period);
      }
    }
  }
  return around;
}

function footTrack(shot: PreparedShot, side: 'L' | 'R', frames: number): FootTrack | undefined {
  const { axes } = shot;
  const foot = footPoints(shot, side);
  if (!foot) return undefined;
  const places = [foot.heel, ...foot.front];
  const points = places.map(() => new Float64Array(3 * frames));
  const lowest = new Uint8Array(frames);
  const height = new Float64Array(frames).fill(Infinity);
  for (let f = 0; f < frames; f++) {
    places.forEach((place, k) => {
      const p = pointAt(shot, f, place);
      points[k]!.set(p, 3 * f);
      const h = dot(p, axes.up);
      // Of points that are alike but for rounding the first is taken, so that units and axes make no difference.
      if (h < height[f]! - 1e-6 * shot.scale.legLength) {
        height[f] = h;
        lowest[f] = k;
      }
    });
  }
  return { side, points, lowest, height };
}

/** Step of a point from a sample to the next. */
function stepOf(points: Float64Array, f: number, next: number): Vec3 {
  return [
    points[3 * next]! - points[3 * f]!,
    points[3 * next + 1]! - points[3 * f + 1]!,
    points[3 * next + 2]! - points[3 * f + 2]!,
  ];
}

/** How far the hips go over the ground, in all, a frame, and up to where a loop begins again. */
function hipsTravel(
  { motion, world, roles, axes, loop }: PreparedShot,
  frames: number,
): { total: Vec3; perFrame: Vec3; advance: Vec3; climbing: Vec3 } {
  const joint = roles.hips ?? 0;
  const at = (f: number): Vec3 => {
    const k = 3 * (f * motion.joints.length + joint);
    return [world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!];
  };
  const total = reject(subtract(at(frames - 1), at(0)), axes.up);
  const perFrame = scale(total, 1 / Math.max(1, frames - 1));
  // A loop that repeats its first pose says where it has come to; one that does not goes on as fast as before.
  const inAll = subtract(at(frames - 1), at(0));
  const climbing =
    loop === 'repeat' ? subtract(at(frames), at(0)) : add(inAll, scale(inAll, 1 / Math.max(1, frames - 1)));
  return { total, perFrame, advance: reject(climbing, axes.up), climbing };
}

/** The median backward speed of the lower foot's lowest point. */
function findBelt(shot: PreparedShot, tracks: readonly FootTrack[], frames: number, wraps: boolean): Vec3 {
  const forward = rotate(meanHeading(shot, frames), shot.axes.forward);
  const speeds: number[] = [];
  for (let f = 0; f < (wraps ? frames : frames - 1); f++) {
    const track = tracks.reduce((a, b) => (b.height[f]! < a.height[f]! - 1e-6 * shot.scale.legLength ? b : a));
    speeds.push(-dot(stepOf(track.points[track.lowest[f]!]!, f, (f + 1) % frames), forward));
  }
  return scale(forward, -Math.max(0, median(speeds)));
}

interface Limits {
  /** Samples over which a foot's step is taken. */
  readonly reach: number;
  readonly height: number;
  readonly rise: number;
  readonly drift: number;
}

/** Whether a foot's lowest point lies still on the ground at a sample: over the step before it or the one behind it. */
function isPlanted(
  track: FootTrack,
  f: number,
  frames: number,
  wraps: boolean,
  belt: Vec3,
  advance: Vec3,
  up: Vec3,
  limits: Limits,
): boolean {
  if (track.height[f]! > limits.height) return false;
  const points = track.points[track.lowest[f]!]!;
  const calm = (a: number, b: number): boolean => {
    if (!wraps && (a < 0 || b >= frames)) return false;
    const inside = stepOf(points, (a + frames) % frames, b % frames);
    const step = a < 0 || b >= frames ? add(inside, advance) : inside;
    if (Math.abs(dot(step, up)) > limits.rise) return false;
    return length(reject(subtract(step, scale(belt, limits.reach)), up)) <= limits.drift;
  };
  return calm(f - limits.reach, f) || calm(f, f + limits.reach);
}

/** Runs of planted samples; short gaps closed, short runs dropped, a run over the end of a period kept whole. */
function runs(planted: readonly boolean[], wraps: boolean, shortest: number): Contact[] {
  const n = planted.length;
  const found: { from: number; to: number }[] = [];
  let start = 0;
  if (wraps) {
    start = planted.findIndex((here, i) => here && !planted[(i + n - 1) % n]);
    if (start < 0) return planted[0] ? [{ from: 0, to: n - 1 }] : [];
  }
  for (let k = 0; k < n; k++) {
    const i = start + k;
    if (!planted[i % n]) continue;
    const last = found.at(-1);
    if (last && i - last.to <= shortest) last.to = i;
    else found.push({ from: i, to: i });
  }
  const first = found[0];
  const last = found.at(-1);
  if (wraps && first && last && found.length > 1 && first.from + n - last.to <= shortest) {
    last.to = first.to + n;
    found.shift();
  }
  return found
    .filter(({ from, to }) => to - from + 1 >= shortest)
    .map(({ from, to }) => (from >= n ? { from: from - n, to: to - n } : { from, to }));
}
