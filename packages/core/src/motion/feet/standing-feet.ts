import { loopPeriod } from '../loop.ts';
import type { PosedFigure } from '../prepared-shot.ts';
import type { Vec3 } from '../vector.ts';
import { footPoints, putPoint } from './foot-points.ts';

/** The points of a foot that can touch the ground, 3 numbers a sample, in the order heel, ball, toe end. */
export interface FootTrack {
  readonly side: 'L' | 'R';
  readonly points: readonly Float64Array[];
  /** Height of each point along up, and of the lowest of them; units. */
  readonly heights: readonly Float64Array[];
  readonly height: Float64Array;
  /** Index of the lowest point. */
  readonly lowest: Uint8Array;
}

/** How still a foot must be to stand. Lengths are units over `reach` samples. */
export interface StandingRule {
  /** Samples over which a foot's step is taken: a recording at many frames a second trembles from one to the next. */
  readonly reach: number;
  /** Largest way up or down. */
  readonly rise: number;
  /** Largest way over the ground. */
  readonly drift: number;
  /** Largest way in all, where that is limited as well. */
  readonly within?: number;
  /** Points this much over the foot's lowest may be the one that stands. */
  readonly low: number;
  /** Highest the foot's lowest point may be; left out where every height will do. */
  readonly height?: number;
  /** How the ground goes by, a sample. */
  readonly groundVelocity?: Vec3;
  /** Where the shot loops: how far it has come after a period. */
  readonly wraps?: { readonly advance: Vec3 };
}

const known = new WeakMap<PosedFigure, Map<number, readonly FootTrack[]>>();

/** Tracks of the known feet over the samples that count (a loop's period). Worked out once a shot. */
export function footTracks(
  shot: PosedFigure,
  frames = loopPeriod(shot.loop, shot.motion.frames),
): readonly FootTrack[] {
  const own = known.get(shot) ?? new Map<number, readonly FootTrack[]>();
  known.set(shot, own);
  const tracks = own.get(frames) ?? (['L', 'R'] as const).flatMap((side) => footTrack(shot, side, frames) ?? []);
  own.set(frames, tracks);
  return tracks;
}

function footTrack(shot: PosedFigure, side: 'L' | 'R', frames: number): FootTrack | undefined {
  const foot = footPoints(shot, side);
  if (!foot) return undefined;
  const places = [foot.heel, ...foot.front];
  const points = places.map(() => new Float64Array(3 * frames));
  const heights = places.map(() => new Float64Array(frames));
  const lowest = new Uint8Array(frames);
  const height = new Float64Array(frames).fill(Infinity);
  const { up } = shot.axes;
  places.forEach((place, k) => {
    const own = points[k]!;
    for (let f = 0; f < frames; f++) {
      putPoint(shot, f, place, own, 3 * f);
      const h = own[3 * f]! * up[0] + own[3 * f + 1]! * up[1] + own[3 * f + 2]! * up[2];
      heights[k]![f] = h;
      // Of points that are alike but for rounding the first is taken, so that units and axes make no difference.
      if (h < height[f]! - 1e-6 * shot.scale.legLength) {
        height[f] = h;
        lowest[f] = k;
      }
    }
  });
  return { side, points, heights, height, lowest };
}

/** Whether a foot stands at a sample: one of its low points keeps still over the step before it or the one behind it. */
export function standsAt(track: FootTrack, f: number, up: Vec3, rule: StandingRule): boolean {
  if (rule.height !== undefined && track.height[f]! > rule.height) return false;
  const { reach } = rule;
  return track.points.some(
    (points, k) =>
      track.heights[k]![f]! - track.height[f]! <= rule.low &&
      (isCalm(points, f - reach, f, up, rule, track.height.length) ||
        isCalm(points, f, f + reach, up, rule, track.height.length)),
  );
}

function isCalm(points: Float64Array, a: number, b: number, up: Vec3, rule: StandingRule, frames: number): boolean {
  const over = a < 0 || b >= frames;
  if (over && !rule.wraps) return false;
  const from = 3 * ((a + frames) % frames);
  const to = 3 * (b % frames);
  let x = points[to]! - points[from]!;
  let y = points[to + 1]! - points[from + 1]!;
  let z = points[to + 2]! - points[from + 2]!;
  if (over && rule.wraps) {
    const { advance } = rule.wraps;
    [x, y, z] = [x + advance[0], y + advance[1], z + advance[2]];
  }
  if (Math.abs(x * up[0] + y * up[1] + z * up[2]) > rule.rise) return false;
  if (rule.within !== undefined && Math.sqrt(x * x + y * y + z * z) > rule.within) return false;
  if (rule.groundVelocity) {
    const { groundVelocity, reach } = rule;
    [x, y, z] = [x - groundVelocity[0] * reach, y - groundVelocity[1] * reach, z - groundVelocity[2] * reach];
  }
  const rise = x * up[0] + y * up[1] + z * up[2];
  [x, y, z] = [x - rise * up[0], y - rise * up[1], z - rise * up[2]];
  return Math.sqrt(x * x + y * y + z * z) <= rule.drift;
}

/** Whether one of a foot's low points keeps still from a sample on, for as long as the rule looks. */
export const keepsStill = (track: FootTrack, f: number, up: Vec3, rule: StandingRule): boolean =>
  track.points.some(
    (points, k) =>
      track.heights[k]![f]! - track.height[f]! <= rule.low &&
      isCalm(points, f, f + rule.reach, up, rule, track.height.length),
  );

/** Step of a point from one sample to another. */
export const stepOf = (points: Float64Array, from: number, to: number): Vec3 => [
  points[3 * to]! - points[3 * from]!,
  points[3 * to + 1]! - points[3 * from + 1]!,
  points[3 * to + 2]! - points[3 * from + 2]!,
];
