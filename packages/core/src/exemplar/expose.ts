import type { Motion } from '../motion/motion.ts';

/**
 * The motion with each pose held for `hold` frames: blocking shown in held poses, or a shot “on twos”.
 * @param hold 1 leaves it as it is
 */
export function exposeOn(motion: Motion, hold: number): Motion {
  const rotations = new Float64Array(motion.rotations.length);
  const translations = new Float64Array(motion.translations.length);
  const turn = 4 * motion.joints.length;
  const shift = 3 * motion.moving.length;
  for (let f = 0; f < motion.frames; f++) {
    const key = f - (f % hold);
    rotations.set(motion.rotations.subarray(key * turn, (key + 1) * turn), f * turn);
    translations.set(motion.translations.subarray(key * shift, (key + 1) * shift), f * shift);
  }
  return { ...motion, rotations, translations };
}
