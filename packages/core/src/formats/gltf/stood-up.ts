import { type Joint, restPositions } from '../../motion/motion.ts';
import { worldPose } from '../../motion/pose.ts';
import { conjugate, multiply as turnBy, type Quat, rotate, shortestTurn, vec3At } from '../../motion/quaternion.ts';
import { guessRoles } from '../../motion/roles.ts';
import { dot, length, scale as scaled, subtract, type Vec3 } from '../../motion/vector.ts';
import type { Sampled } from './sampled-joints.ts';

/** Lying is over this, degrees from up. */
const LIES = Math.cos((50 * Math.PI) / 180);

/** A figure that stands at rest, and the turn that it was stood up by; undefined where it stood. */
export interface StoodUp {
  readonly made: Sampled;
  readonly turn?: Quat;
  /** The turn of the whole scene, where the motion lay as well: what is beside the figure goes along. */
  readonly sceneTurn?: Quat;
}

/** A figure that lies at rest is stood up: its rest pose, and the motion as well where that lies in the same way. */
export function stoodUp(joints: readonly Joint[], made: Sampled, warnings: string[]): StoodUp {
  const { roles } = guessRoles(joints);
  const high = roles.head ?? roles.neck ?? roles.chest ?? roles.spine;
  const low = roles['foot.L'] ?? roles['foot.R'] ?? roles['shin.L'] ?? roles['shin.R'] ?? roles.hips;
  if (high === undefined || low === undefined || high === low) return { made };
  const rest = restPositions(joints);
  const along = subtract(vec3At(rest, high), vec3At(rest, low));
  const size = length(along);
  if (!(size > 0) || along[1] / size > LIES) return { made };
  warnings.push('the figure lies at rest: it was stood up');
  const dominant = along.map((own) =>
    Math.abs(own) === Math.max(...along.map(Math.abs)) ? Math.sign(own) : 0,
  ) as unknown as Vec3;
  const turn = shortestTurn(scaled(dominant, 1 / length(dominant)), [0, 1, 0]);
  const all = liesThroughout(made, high, low, along);
  return { made: turnedRest(made, turn, all), turn, ...(all && { sceneTurn: turn }) };
}

/** So many frames tell how a figure mostly holds itself. */
const LOOKED_AT = 50;

/** Whether the figure lies in its motion as it does at rest: then it is the file that is turned, not the rest pose. */
function liesThroughout(made: Sampled, high: number, low: number, along: Vec3): boolean {
  const count = made.joints.length;
  const frames = made.rotations.length / 4 / count;
  let [same, upright] = [0, 0];
  const step = Math.max(1, Math.floor(frames / LOOKED_AT));
  for (let f = 0; f < frames; f += step) {
    const { positions } = worldPose({ ...made, frames, fps: 1 }, f, f + 1);
    const own = subtract(vec3At(positions, high), vec3At(positions, low));
    const size = length(own) || 1;
    same += dot(own, along) / size / length(along);
    upright += own[1] / size;
  }
  return same > upright;
}

/** The same motion from a rest pose that is turned; with `all` the motion is turned as well. */
function turnedRest(made: Sampled, turn: Quat, all: boolean): Sampled {
  const { joints, rotations, moving, translations } = made;
  const back = conjugate(turn);
  const count = joints.length;
  const own = Float64Array.from(rotations);
  for (let k = 0; k < rotations.length; k += 4) {
    const isRoot = joints[(k / 4) % count]!.parent < 0;
    const q: Quat = [rotations[k]!, rotations[k + 1]!, rotations[k + 2]!, rotations[k + 3]!];
    // Of a joint that hangs from another both ends are turned; a root alone has the world before it.
    own.set(isRoot ? (all ? turnBy(turnBy(turn, q), back) : turnBy(q, back)) : turnBy(turnBy(turn, q), back), k);
  }
  const moved = Float64Array.from(translations);
  for (let k = 0; k < translations.length; k += 3) {
    const j = moving[(k / 3) % moving.length]!;
    if (joints[j]!.parent < 0 && !all) continue;
    moved.set(rotate(turn, [translations[k]!, translations[k + 1]!, translations[k + 2]!]), k);
  }
  return {
    ...made,
    joints: joints.map((joint) => ({
      ...joint,
      offset: rotate(turn, joint.offset),
      ends: joint.ends.map((end) => rotate(turn, end)),
    })),
    rotations: own,
    translations: moved,
  };
}
