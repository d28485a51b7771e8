import { headingOf } from '../heading.ts';
import { GAITS } from '../kinds.ts';
import { loopPeriod } from '../loop.ts';
import type { Ground, PosedFigure } from '../prepared-shot.ts';
import { farthestTravel, TRAVELS } from '../travel.ts';
import { ancestors } from '../roles.ts';
import { largestOf, median, smallestOf } from '../../signal/statistics.ts';
import { add, dot, length, reject, scale, subtract, type Vec3 } from '../vector.ts';
import { closedRuns, lengthOf, type Run, runsOf } from '../../signal/runs.ts';
import { type FootTrack, footTracks, type StandingRule, standsAt, stepOf } from './standing-feet.ts';
import { sampled } from '../../signal/sampled.ts';

/** Thresholds of contact detection, in percent of leg length, and per frame at 24 fps. */
export const CONTACT_DEFAULTS = Object.freeze({
  /** A foot's lowest point is this near its own lowest level, %L. */
  height: 4,
  /** It moves up or down by less than this, %L a frame. */
  rise: 1.5,
  /** It moves with the ground to within this share of the ground's speed. */
  loose: 0.8,
  /** Points this much over a foot's lowest may be the one it stands on, %L. */
  low: 1,
  /** It has landed once it is this near the height it stands at, %L; more where the motion trembled. */
  landed: 0.5,
  /** How far the heel lies behind the ankle, as a share of how far the ball lies before it (foot outlines, from memory). */
  heelBehind: 0.4,
  /** The ground is up = 0 when the feet come down within this of it, %L. */
  groundNear: 12.5,
  /** On steps it moves with the ground to within this share of the speed: still, at whatever height. */
  strict: 0.25,
  /** Contacts of a travelling figure whose heights differ by more than this, %L, are on steps. */
  steps: 8,
  /** Shorter gaps are closed and shorter runs dropped, frames at 24 fps. */
  shortest: 2,
});

/** One time a foot is planted: samples from landing to the last planted one; of a loop, `to` may lie past the period's end. */
export type Contact = Run;

export interface Contacts {
  /** How the ground goes by, units a sample; zero where the figure travels over it. */
  readonly groundVelocity: Vec3;
  /** What the figure was found to stand on. On steps each contact has its own height. */
  readonly kind: Ground;
  /** Height of flat ground along up, units. */
  readonly ground: number;
  /** Where the feet come down over up = 0, %L: the ground was put there, because it is too far for a fault. */
  readonly raised?: number;
  /** How far a figure that travels has come when its loop begins again; zero on the spot, and where there is no loop. */
  readonly advance: Vec3;
  readonly feet: Readonly<Partial<Record<'L' | 'R', readonly Contact[]>>>;
}

const known = new WeakMap<PosedFigure, Contacts>();

/** Finds when each foot is planted, on flat ground or on steps. A foot that is not known has no entry. Worked out once a shot. */
export function findContacts(shot: PosedFigure): Contacts {
  const contacts = known.get(shot) ?? workOut(shot);
  known.set(shot, contacts);
  return contacts;
}

function workOut(shot: PosedFigure): Contacts {
  const { scale: size, loop, motion } = shot;
  const L = size.legLength;
  const frames = loopPeriod(loop, motion.frames);
  const tracks = footTracks(shot, frames);
  if (tracks.length === 0 || frames < 3)
    return { groundVelocity: [0, 0, 0], kind: 'flat', ground: 0, advance: [0, 0, 0], feet: {} };
  const wraps = loop !== 'none';
  const travels = farthestTravel(shot) > TRAVELS;
  const travel = hipsTravel(shot, frames);
  const levels = new Map(tracks.map((track) => [track.side, restingLevel(track.height, L)]));
  // Only under somebody who walks on the spot the ground goes by.
  const goesBy = !travels && shot.kinds.some((kind) => GAITS.includes(kind));
  const groundVelocity = goesBy ? findBelt(shot, tracks, levels, frames, wraps) : ([0, 0, 0] as const);
  const speed = Math.max(length(groundVelocity), travels ? travel.speed : 0);
  const perFrame = 24 / shot.fps;
  const reach = Math.max(1, Math.round(shot.fps / 24));
  const advance = travels && wraps ? travel.advance : ([0, 0, 0] as const);
  const rule: StandingRule = {
    reach,
    rise: (CONTACT_DEFAULTS.rise / 100) * L * perFrame * reach,
    drift: Math.max(CONTACT_DEFAULTS.loose * speed, 0.01 * L * perFrame) * reach,
    low: (CONTACT_DEFAULTS.low / 100) * L,
    groundVelocity,
    ...(wraps && { wraps: { advance } }),
  };
  const find = (own: StandingRule, byHeight: boolean): Contacts['feet'] =>
    Object.fromEntries(
      tracks.map((track) => {
        const height = levels.get(track.side)! + (CONTACT_DEFAULTS.height / 100) * L;
        return [track.side, plantedRuns(shot, track, byHeight ? { ...own, height } : own, byHeight)];
      }),
    );
  if (shot.ground === 'steps' || (shot.ground === 'auto' && travels)) {
    const drift = Math.max(CONTACT_DEFAULTS.strict * speed, 0.01 * L * perFrame) * reach;
    const feet = find({ ...rule, drift }, false);
    if (shot.ground === 'steps' || onSteps(tracks, feet, frames, (CONTACT_DEFAULTS.steps / 100) * L))
      return { groundVelocity, kind: 'steps', ground: 0, advance: wraps ? travel.climbing : advance, feet };
  }
  const feet = find(rule, true);
  if (shot.groundHeight !== undefined)
    return { groundVelocity, kind: 'flat', ground: shot.groundHeight, advance, feet };
  const level = groundLevel(tracks, feet, levels, frames);
  const near = Math.abs(level) <= (CONTACT_DEFAULTS.groundNear / 100) * L;
  return {
    groundVelocity,
    kind: 'flat',
    ground: near ? 0 : level,
    ...(!near && { raised: (100 * level) / L }),
    advance,
    feet,
  };
}

/**
 * The level a foot comes down to: where its lowest point dwells. The densest stretch of heights in the lower half of their range, so that
 * neither a foot that sinks for a while nor the time in the air counts.
 */
function restingLevel(height: Float64Array, legLength: number): number {
  const sorted = Float64Array.from(height).sort();
  const low = sorted[0]!;
  const middle = low + (sorted.at(-1)! - low) / 2;
  const width = 0.02 * legLength;
  let best = { count: 0, level: low };
  let to = 0;
  for (let from = 0; from < sorted.length && sorted[from]! <= middle; from++) {
    while (to < sorted.length && sorted[to]! - sorted[from]! <= width) to++;
    if (to - from > best.count) best = { count: to - from, level: sorted[(from + to - 1) >> 1]! };
  }
  return best.level;
}

/** Where the planted feet's lowest points usually are, along up; units. */
function groundLevel(
  tracks: readonly FootTrack[],
  feet: Contacts['feet'],
  levels: ReadonlyMap<string, number>,
  frames: number,
): number {
  const heights = tracks.flatMap(({ side, height }) =>
    (feet[side] ?? []).flatMap(({ from, to }) =>
      Array.from({ length: to - from + 1 }, (_, k) => height[(from + k) % frames]!),
    ),
  );
  return heights.length > 0 ? median(heights) : Math.min(...levels.values());
}

/** Runs in which a foot is planted: gaps closed, short ones dropped, and both ends where the foot has really come down. */
function plantedRuns(shot: PosedFigure, track: FootTrack, rule: StandingRule, refined: boolean): Contact[] {
  const frames = track.height.length;
  const wraps = rule.wraps !== undefined;
  const shortest = Math.max(1, Math.round(CONTACT_DEFAULTS.shortest * (shot.fps / 24)));
  const coarse = runsOf(frames, (f) => standsAt(track, f, shot.axes.up, rule), wraps);
  const runs = closedRuns(coarse, shortest - 1, wraps ? frames : undefined).filter((run) => lengthOf(run) >= shortest);
  if (!refined) return runs;
  const near = ((CONTACT_DEFAULTS.landed + shot.jitter) / 100) * shot.scale.legLength;
  return runs
    .map((run) => landed(track, run, near, wraps, 0.025 * shot.scale.legLength))
    .filter((run) => lengthOf(run) >= shortest)
    .map((run) => (run.from >= frames ? { from: run.from - frames, to: run.to - frames } : run))
    .sort((a, b) => a.from - b.from);
}

/**
 * A foot that comes down softly has landed where it is at the height it stands at, and leaves where it rises over it. The real heel lies
 * behind the ankle: while the toes are up it is lower than a heel under the ankle by a share of what they are up by.
 */
function landed({ height, heights }: FootTrack, run: Contact, near: number, wraps: boolean, most: number): Contact {
  const n = height.length;
  const index = (f: number): number => ((f % n) + n) % n;
  const own = Array.from({ length: lengthOf(run) }, (_, k) => height[index(run.from + k)]!);
  const level = median(own) + near;
  const [heel, ...front] = heights;
  const isUp = (f: number): boolean => {
    const k = index(f);
    const toes = front.length > 0 ? Math.max(0, smallestOf(front.map((points) => points[k]! - heel![k]!))) : 0;
    return height[k]! - Math.min(most, CONTACT_DEFAULTS.heelBehind * toes) > level;
  };
  let { from, to } = run;
  // What is cut off by the shot's own ends has not landed or left there.
  const cutBefore = !wraps && from === 0;
  const cutAfter = !wraps && to === n - 1;
  while (!cutBefore && from < to && isUp(from)) from++;
  while (!cutAfter && to > from && isUp(to)) to--;
  return { from, to };
}

/** Whether the feet come to lie at heights that differ by more than `least`. */
function onSteps(tracks: readonly FootTrack[], feet: Contacts['feet'], frames: number, least: number): boolean {
  const heights = tracks.flatMap(({ side, height }) =>
    (feet[side] ?? []).map(({ from, to }) => median(height.subarray(from, Math.min(to, frames - 1) + 1))),
  );
  return heights.length > 2 && largestOf(heights) - smallestOf(heights) > least;
}

/** Samples at which a foot's path turns because it meets or leaves the ground: within two frames (at 24 fps) of either. */
export function aroundContacts(shot: PosedFigure, joint: number): ReadonlySet<number> {
  const side = (['L', 'R'] as const).find((s) => {
    const foot = shot.roles[`foot.${s}`];
    return foot !== undefined && (foot === joint || ancestors(shot.motion.joints, joint).includes(foot));
  });
  return side ? aroundContactsOf(shot, side) : new Set();
}

/** See {@link aroundContacts}, by side. */
export function aroundContactsOf(shot: PosedFigure, side: 'L' | 'R'): ReadonlySet<number> {
  const around = new Set<number>();
  const reach = Math.max(1, Math.round(2 * (shot.fps / 24)));
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

/** How far the hips go over the ground: a sample, and up to where a loop begins again. */
function hipsTravel(
  { motion, world, roles, axes, loop }: PosedFigure,
  frames: number,
): { speed: number; advance: Vec3; climbing: Vec3 } {
  const joint = roles.hips ?? 0;
  const at = (f: number): Vec3 => {
    const k = 3 * (f * motion.joints.length + joint);
    return [world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!];
  };
  const speeds = sampled(frames - 1, (f) => length(reject(subtract(at(f + 1), at(f)), axes.up)));
  // A loop that repeats its first pose says where it has come to; one that does not goes on as fast as before.
  const inAll = subtract(at(frames - 1), at(0));
  const climbing =
    loop === 'repeat' ? subtract(at(frames), at(0)) : add(inAll, scale(inAll, 1 / Math.max(1, frames - 1)));
  return { speed: median(speeds), advance: reject(climbing, axes.up), climbing };
}

/**
 * How the ground goes by under a figure on the spot: the median way of the lower foot's lowest point, along the way the figure faces
 * (backward, or forward under one that walks backwards), or aside where it goes that way.
 */
function findBelt(
  shot: PosedFigure,
  tracks: readonly FootTrack[],
  levels: ReadonlyMap<string, number>,
  frames: number,
  wraps: boolean,
): Vec3 {
  const heading = headingOf(shot, frames);
  const near = (CONTACT_DEFAULTS.height / 100) * shot.scale.legLength;
  const along: number[] = [];
  const aside: number[] = [];
  for (let f = 0; f < (wraps ? frames : frames - 1); f++) {
    const track = tracks.reduce((a, b) => (b.height[f]! < a.height[f]! - 1e-6 * shot.scale.legLength ? b : a));
    if (track.height[f]! > levels.get(track.side)! + near) continue;
    const step = stepOf(track.points[track.lowest[f]!]!, f, (f + 1) % frames);
    along.push(dot(step, heading.forward(f)));
    aside.push(dot(step, heading.left(f)));
  }
  if (along.length === 0) return [0, 0, 0];
  const [ahead, left] = [median(along), median(aside)];
  const middle = Math.floor(frames / 2);
  return Math.abs(left) > Math.abs(ahead) ? scale(heading.left(middle), left) : scale(heading.forward(middle), ahead);
}
