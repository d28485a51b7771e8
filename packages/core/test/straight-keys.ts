import type { Motion } from '../src/motion/motion.ts';
import { quatAt, slerp } from '../src/motion/quaternion.ts';

/** A motion with a key every so many frames, and straight lines between. */
export function straightBetween(motion: Motion, every: number): Motion {
  const n = motion.joints.length;
  const width = 3 * motion.moving.length;
  const rotations = motion.rotations.slice();
  const translations = motion.translations.slice();
  for (let f = 0; f < motion.frames; f++) {
    const a = Math.floor(f / every) * every;
    const b = Math.min(motion.frames - 1, a + every);
    const u = b > a ? (f - a) / (b - a) : 0;
    for (let j = 0; j < n; j++)
      rotations.set(
        slerp(quatAt(motion.rotations, a * n + j), quatAt(motion.rotations, b * n + j), u),
        4 * (f * n + j),
      );
    for (let c = 0; c < width; c++)
      translations[f * width + c] =
        (1 - u) * motion.translations[a * width + c]! + u * motion.translations[b * width + c]!;
  }
  return { ...motion, rotations, translations };
}
