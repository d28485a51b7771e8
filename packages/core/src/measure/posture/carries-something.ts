import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate, vec3At } from '../../motion/quaternion.ts';
import { dot, length, subtract, type Vec3 } from '../../motion/vector.ts';
import { quantitySignal } from '../../quantity/measure-quantity.ts';
import { largestOf, rangeOf, smallestOf } from '../../signal/statistics.ts';
import { sampled } from '../../signal/sampled.ts';

export const CARRIES_DEFAULTS = Object.freeze({
  /** Hands that hold something are no farther from each other than this, %L, and their distance changes by no more than that. */
  apart: 60,
  /** In a run elbows are bent anyway: there the hands are on one thing. */
  apartInRun: 25,
  changes: 6,
  /** They are this far before the chest all along, %L, with elbows bent by so many degrees. */
  ahead: 15,
  bent: 40,
});

/** Whether both hands are held together before the body by bent elbows all along: they carry something, and are meant to be still. */
export function carriesSomething(shot: PreparedShot): boolean {
  const { motion, world, roles, scale, axes } = shot;
  const [left, right, chest] = [roles['hand.L'], roles['hand.R'], roles.chest ?? roles.spine];
  if (left === undefined || right === undefined || chest === undefined) return false;
  const n = motion.joints.length;
  const at = (joint: number, s: number): Vec3 => vec3At(world.positions, s * n + joint);
  const percent = 100 / scale.legLength;
  const apart = sampled(motion.frames, (s) => percent * length(subtract(at(left, s), at(right, s))));
  const most = shot.kind === 'run' ? CARRIES_DEFAULTS.apartInRun : CARRIES_DEFAULTS.apart;
  if (largestOf(apart) > most || rangeOf(apart) > CARRIES_DEFAULTS.changes) return false;
  const isBefore = [left, right].every((hand) => {
    const ahead = sampled(
      motion.frames,
      (s) =>
        percent *
        dot(subtract(at(hand, s), at(chest, s)), rotate(quatAt(world.rotations, s * n + chest), axes.forward)),
    );
    return smallestOf(ahead) >= CARRIES_DEFAULTS.ahead;
  });
  const bends = ['elbow.L', 'elbow.R'].map((of) => quantitySignal(shot, 'bend', of));
  return isBefore && bends.every((bend) => typeof bend !== 'string' && smallestOf(bend) >= CARRIES_DEFAULTS.bent);
}
