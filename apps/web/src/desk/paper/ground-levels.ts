import { footholds } from '@ypsigraph/core/measure/jump/flights';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { median } from '@ypsigraph/core/signal/statistics';

/** A piece of ground at one height: along the way the figure goes, from where to where; heights and places in the file's units. */
export interface GroundLevel {
  readonly height: number;
  readonly from: number;
  readonly to: number;
}

/** Where poses are held for two or three frames a foot stands from so many frames on. */
const HELD_STAND = 6;

/** Ground that is not flat: its levels, and the way along which they lie, a unit vector square to up. */
export interface Ground {
  readonly along: readonly [number, number, number];
  readonly levels: readonly GroundLevel[];
}

/** Feet that come down within this of each other, in leg lengths, stand on one level. */
const ONE_LEVEL = 0.06;
/** How far a level reaches behind the ankles on it and before them, and the first and last one beyond. */
const BEHIND = 0.26;
const AHEAD = 0.34;
const BEYOND = 5;

/**
 * The ground under a shot that goes up or down: a quay and a barge, the cleats of a plank. Undefined where every foot stands at one height:
 * then the ground is flat, and has no ends.
 */
export function groundLevels(shot: PreparedShot): Ground | undefined {
  // Held poses stand at every height a foot passes through.
  if (shot.exposures.blocking) return undefined;
  // On twos a foot in the air stands for two frames and is on its way again.
  const shortest = median(shot.exposures.lengths) > 1 ? HELD_STAND : 1;
  const holds = footholds(shot).filter(({ from, to }) => to - from + 1 >= shortest);
  const L = shot.scale.legLength;
  const { up } = shot.axes;
  const first = holds[0];
  const last = holds.at(-1);
  if (!first || !last) return undefined;
  const heights = holds.map(({ height }) => height);
  if (Math.max(...heights) - Math.min(...heights) < ONE_LEVEL * L) return undefined;
  const hips = (sample: number, k: number): number =>
    shot.world.positions[3 * (sample * shot.motion.joints.length + (shot.roles.hips ?? 0)) + k]!;
  const direction = [0, 1, 2].map((k) => hips(last.to, k) - hips(first.from, k));
  const rise = direction[0]! * up[0] + direction[1]! * up[1] + direction[2]! * up[2];
  const level = direction.map((v, k) => v - rise * up[k]!);
  const length = Math.hypot(...level);
  const along = (length > 1e-6 * L ? level.map((v) => v / length) : [...shot.axes.forward]) as [number, number, number];
  const at = (place: readonly [number, number, number]): number =>
    place[0] * along[0] + place[1] * along[1] + place[2] * along[2];
  const levels: { height: number; from: number; to: number }[] = [];
  for (const { place, height } of holds) {
    const before = levels.find((other) => Math.abs(other.height - height) < ONE_LEVEL * L);
    const [from, to] = [at(place) - BEHIND * L, at(place) + AHEAD * L];
    if (before) Object.assign(before, { from: Math.min(before.from, from), to: Math.max(before.to, to) });
    else levels.push({ height, from, to });
  }
  levels.sort((a, b) => a.from - b.from);
  levels[0]!.from -= BEYOND * L;
  levels.at(-1)!.to += BEYOND * L;
  // Two levels that would overlap meet halfway: the riser of a step.
  for (let k = 1; k < levels.length; k++) {
    const [low, high] = [levels[k - 1]!, levels[k]!];
    if (low.to > high.from) low.to = high.from = (low.to + high.from) / 2;
  }
  return { along, levels };
}
