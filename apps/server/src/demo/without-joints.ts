import type { Motion } from '@ypsigraph/core/motion/motion';

/** The motion without some joints that nothing else hangs from. */
export function withoutJoints(motion: Motion, names: readonly string[]): Motion {
  const kept = motion.joints.map((_, joint) => joint).filter((joint) => !names.includes(motion.joints[joint]!.name));
  const place = new Map(kept.map((joint, k) => [joint, k]));
  const n = motion.joints.length;
  const rotations = new Float64Array(4 * kept.length * motion.frames);
  for (let f = 0; f < motion.frames; f++)
    kept.forEach((joint, k) => {
      const from = 4 * (f * n + joint);
      rotations.set(motion.rotations.subarray(from, from + 4), 4 * (f * kept.length + k));
    });
  return {
    ...motion,
    joints: kept.map((joint) => {
      const own = motion.joints[joint]!;
      return { ...own, parent: own.parent < 0 ? -1 : place.get(own.parent)! };
    }),
    // What is taken away turns only: those that move stay as they were.
    moving: motion.moving.map((joint) => place.get(joint)!),
    rotations,
  };
}
