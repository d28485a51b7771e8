import { headingOf } from '../../motion/heading.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { conjugate, multiply, type Quat, quatAt, slerp } from '../../motion/quaternion.ts';
import { ancestors } from '../../motion/roles.ts';

/** A shot's local rotations with the way the figure faces taken out, so that poses going different ways can be compared. */
export interface FigurePoses {
  /** Rotation of a joint at a sample, which may lie between samples or, of a loop, past its period. */
  at(sample: number, joint: number): Quat;
  /** Joints that have no pose of their own: those above the hips. */
  readonly skipped: ReadonlySet<number>;
}

/**
 * @param cycle samples over which the heading is smoothed
 */
export function figurePoses(shot: PreparedShot, cycle?: number): FigurePoses {
  const { motion, world, roles, loop } = shot;
  const n = motion.joints.length;
  const samples = loop === 'none' ? motion.frames : shot.period;
  const heading = headingOf(shot, samples, cycle);
  const top = roles.hips ?? 0;
  const index = (s: number): number =>
    loop === 'none' ? Math.min(samples - 1, Math.max(0, s)) : ((s % samples) + samples) % samples;
  const whole = (sample: number, joint: number): Quat => {
    const f = index(sample);
    if (joint !== top) return quatAt(motion.rotations, f * n + joint);
    return multiply(conjugate(heading.rotation(f)), quatAt(world.rotations, f * n + joint));
  };
  return {
    at: (sample, joint) => {
      const low = Math.floor(sample);
      const u = sample - low;
      return u < 1e-9 ? whole(low, joint) : slerp(whole(low, joint), whole(low + 1, joint), u);
    },
    skipped: new Set(ancestors(motion.joints, top)),
  };
}
