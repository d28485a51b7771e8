import { exponential, logarithm } from '../motion/joint-turn.ts';
import { findContacts } from '../motion/feet/contacts.ts';
import type { Motion } from '../motion/motion.ts';
import { conjugate, multiply, type Quat, quatAt, unit } from '../motion/quaternion.ts';
import type { Vec3 } from '../motion/vector.ts';
import type { Subject } from './subject.ts';

/** Weights of four samples in a row for a place `u` after the first: the cubic through them (Lagrange's formula). */
const cubic = (u: number): readonly [number, number, number, number] => [
  (-(u - 1) * (u - 2) * (u - 3)) / 6,
  (u * (u - 2) * (u - 3)) / 2,
  (-u * (u - 1) * (u - 3)) / 2,
  (u * (u - 1) * (u - 2)) / 6,
];

/**
 * A motion at any moment, between its samples by the cubic through the four about it: what is a cubic stays one, a sample is itself to the last bit. A loop goes
 * round, and a figure that travels goes on; without a loop the ends are held.
 */
export class Sampler {
  private readonly advance: readonly Vec3[];

  constructor(private readonly subject: Subject) {
    const { motion, wraps, shot, period, samples } = subject;
    this.advance = motion.moving.map((joint, slot): Vec3 => {
      if (!wraps || motion.joints[joint]!.parent >= 0) return [0, 0, 0];
      if (period >= samples) return findContacts(shot).advance;
      const at = (f: number, c: number): number => motion.translations[3 * (f * motion.moving.length + slot) + c]!;
      return [at(period, 0) - at(0, 0), at(period, 1) - at(0, 1), at(period, 2) - at(0, 2)];
    });
  }

  /** The four samples about a moment, and how far behind the first of them it lies; one sample alone where it is one. */
  private about(moment: number): { readonly first: number; readonly weights?: readonly number[] } {
    const { wraps, samples } = this.subject;
    const held = wraps ? moment : Math.min(samples - 1, Math.max(0, moment));
    const near = Math.round(held);
    if (Math.abs(held - near) < 1e-9) return { first: near };
    const low = Math.floor(held) - 1;
    const first = wraps ? low : Math.max(0, Math.min(samples - 4, low));
    return samples < 4 && !wraps ? { first: near } : { first, weights: cubic(held - first) };
  }

  rotation(joint: number, moment: number): Quat {
    const { motion } = this.subject;
    const n = motion.joints.length;
    const at = (sample: number): Quat => quatAt(motion.rotations, this.subject.within(sample) * n + joint);
    const { first, weights } = this.about(moment);
    if (!weights) return at(first);
    const base = at(first + 1);
    const back = conjugate(base);
    const sum: [number, number, number] = [0, 0, 0];
    let turns = false;
    for (let k = 0; k < 4; k++) {
      if (k === 1) continue;
      const own = at(first + k);
      // A joint that is still, as most fingers are, costs nothing.
      if (own.every((value, c) => value === base[c])) continue;
      turns = true;
      const turn = logarithm(multiply(back, own));
      for (let c = 0; c < 3; c++) sum[c]! += weights[k]! * turn[c]!;
    }
    return turns ? unit(multiply(base, exponential(sum))) : base;
  }

  /** Local place of the joint in a slot of those that move by themselves. */
  translation(slot: number, moment: number): Vec3 {
    const { motion, wraps, period } = this.subject;
    const at = (sample: number, c: number): number => {
      const rounds = wraps ? Math.floor(sample / period) : 0;
      return (
        motion.translations[3 * (this.subject.within(sample) * motion.moving.length + slot) + c]! +
        rounds * this.advance[slot]![c]!
      );
    };
    const { first, weights } = this.about(moment);
    const one = (c: number): number =>
      weights ? weights.reduce((sum, weight, k) => sum + weight * at(first + k, c), 0) : at(first, c);
    return [one(0), one(1), one(2)];
  }

  /** A motion that shows other moments: one a frame. Whole moments are copied to the last bit. */
  frames(moments: readonly number[]): Motion {
    const { motion } = this.subject;
    const n = motion.joints.length;
    const rotations = new Float64Array(4 * n * moments.length);
    const translations = new Float64Array(3 * motion.moving.length * moments.length);
    moments.forEach((moment, f) => {
      for (let j = 0; j < n; j++) rotations.set(this.rotation(j, moment), 4 * (f * n + j));
      for (let slot = 0; slot < motion.moving.length; slot++)
        translations.set(this.translation(slot, moment), 3 * (f * motion.moving.length + slot));
    });
    return { ...motion, frames: moments.length, rotations, translations };
  }
}

/** A remedy that shows other moments of the motion: which old sample each new frame shows comes with it. */
export const retimedTo = (
  subject: Subject,
  moments: readonly number[],
): { motion: Motion; map: readonly number[] } => ({
  motion: new Sampler(subject).frames(moments),
  // Of a loop that goes on over its end what is shown lies at its beginning again.
  map: moments.map((moment) => (moment <= subject.samples - 1 ? Math.max(0, moment) : subject.within(moment))),
});
