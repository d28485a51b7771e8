import { samplesOf } from '../motion/exposures.ts';
import type { Motion } from '../motion/motion.ts';
import type { Made } from './remedy.ts';

/**
 * A motion whose frames were counted anew, with the rest pose in front of it again: every frame keeps its label, and what nobody animated stays as it was.
 *
 * @param file the frames of the file
 * @param front how many of them show the rest pose in front
 * @param made what was made of those behind, with the old frame of the file that each new one shows
 */
export function withRestInFront<T extends Pick<Made, 'motion' | 'map'>>(file: Motion, front: number, made: T): T {
  if (front === 0 || !made.map) return made;
  const rest = samplesOf(
    file,
    Array.from({ length: front }, (_, f) => f),
    1,
  );
  const joined = (a: Float64Array, b: Float64Array): Float64Array => {
    const all = new Float64Array(a.length + b.length);
    all.set(a);
    all.set(b, a.length);
    return all;
  };
  const motion: Motion = {
    ...made.motion,
    frames: front + made.motion.frames,
    rotations: joined(rest.rotations, made.motion.rotations),
    translations: joined(rest.translations, made.motion.translations),
  };
  return { ...made, motion, map: [...Array.from({ length: front }, (_, f) => f), ...made.map] };
}
