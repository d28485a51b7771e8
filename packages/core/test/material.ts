import { samplesOf } from '../src/motion/exposures.ts';
import type { Motion } from '../src/motion/motion.ts';
import { multiply, type Quat, quatAt, rotateX, rotateY, rotateZ, slerp } from '../src/motion/quaternion.ts';

/** The frames of a motion that are listed, in that order; a frame may be there several times. */
export const withFrames = (motion: Motion, list: readonly number[]): Motion => samplesOf(motion, list, 1);

const range = (from: number, to: number): number[] => Array.from({ length: to - from + 1 }, (_, k) => from + k);

/** Poses made at a lower rate, each shown for so many frames at a higher one. */
export const doubled = (motion: Motion, times = 2): Motion => ({
  ...withFrames(
    motion,
    range(0, times * motion.frames - 1).map((f) => Math.floor(f / times)),
  ),
  fps: motion.fps * times,
});

/** One frame that stands for so many more in the midst of a motion. */
export const withHeldFrame = (motion: Motion, at: number, more = 1): Motion =>
  withFrames(motion, [...range(0, at), ...Array<number>(more).fill(at), ...range(at + 1, motion.frames - 1)]);

/** A stretch of a motion. */
export const cut = (motion: Motion, from: number, to: number): Motion => withFrames(motion, range(from, to));

/** Played backwards. */
export const reversed = (motion: Motion): Motion => withFrames(motion, range(0, motion.frames - 1).reverse());

/** One joint turned for one frame. */
export function jolted(
  motion: Motion,
  name: string,
  frame: number,
  degrees: number,
  axis: 'x' | 'y' | 'z' = 'x',
): Motion {
  const joint = motion.joints.findIndex((own) => own.name === name);
  if (joint < 0) throw new Error(`no joint ${name}`);
  const rotations = motion.rotations.slice();
  const k = frame * motion.joints.length + joint;
  const turn = { x: rotateX, y: rotateY, z: rotateZ }[axis](degrees);
  rotations.set(multiply(quatAt(rotations, k), turn), 4 * k);
  return { ...motion, rotations };
}

/** Normal deviates from a seed (Box–Muller over a linear congruential generator; constants of Numerical Recipes, from memory). */
export function normals(seed: number): () => number {
  let state = seed >>> 0;
  const uniform = (): number => {
    state = (Math.imul(1664525, state) + 1013904223) >>> 0;
    return (state + 0.5) / 2 ** 32;
  };
  return () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
}

/** Every rotation off by so many degrees (standard deviation about each axis), as hand-held capture is. */
export function trembling(motion: Motion, degrees: number, seed = 7): Motion {
  const normal = normals(seed);
  const rotations = motion.rotations.slice();
  for (let k = 0; k < motion.frames * motion.joints.length; k++) {
    const off = multiply(
      multiply(rotateX(degrees * normal()), rotateY(degrees * normal())),
      rotateZ(degrees * normal()),
    );
    rotations.set(multiply(quatAt(rotations, k), off), 4 * k);
  }
  return { ...motion, rotations };
}

/** Joints called otherwise. */
export const called = (motion: Motion, name: (old: string, index: number) => string): Motion => ({
  ...motion,
  joints: motion.joints.map((joint, j) => ({ ...joint, name: name(joint.name, j) })),
});

/** A joint's rotations replaced. */
export function turnedBy(motion: Motion, name: string, turn: (frame: number, old: Quat) => Quat): Motion {
  const joint = motion.joints.findIndex((own) => own.name === name);
  const rotations = motion.rotations.slice();
  for (let f = 0; f < motion.frames; f++) {
    const k = f * motion.joints.length + joint;
    rotations.set(turn(f, quatAt(rotations, k)), 4 * k);
  }
  return { ...motion, rotations };
}

/** The motion at other times: a frame for each of `at`, samples with fractions. */
export function retimed(motion: Motion, at: readonly number[]): Motion {
  const n = motion.joints.length;
  const width = 3 * motion.moving.length;
  const rotations = new Float64Array(4 * n * at.length);
  const translations = new Float64Array(width * at.length);
  at.forEach((time, f) => {
    const a = Math.min(motion.frames - 1, Math.floor(time));
    const b = Math.min(motion.frames - 1, a + 1);
    for (let j = 0; j < n; j++)
      rotations.set(
        slerp(quatAt(motion.rotations, a * n + j), quatAt(motion.rotations, b * n + j), time - a),
        4 * (f * n + j),
      );
    for (let k = 0; k < width; k++)
      translations[f * width + k] =
        motion.translations[a * width + k]! * (1 - time + a) + motion.translations[b * width + k]! * (time - a);
  });
  return { ...motion, frames: at.length, rotations, translations };
}
