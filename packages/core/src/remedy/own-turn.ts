import { exponential, logarithm } from '../motion/joint-turn.ts';
import { jointIndex } from '../motion/motion.ts';
import { conjugate, multiply, type Quat, quatAt, unit } from '../motion/quaternion.ts';
import type { Role } from '../motion/role.ts';
import { MotionEditor } from './motion-editor.ts';
import { type Made, RemedyError } from './remedy.ts';
import type { Subject } from './subject.ts';

/**
 * What a joint turns against its parent about its mean, so many times as much.
 *
 * @param of its role or its name
 * @param factor 0: it stays as it is on average; 1: as it was
 * @param weights one a sample: how much of the change counts there
 */
export function scaleOwnTurn(
  { shot, motion, samples, period }: Subject,
  of: string,
  factor: number,
  weights: Float64Array,
): Made {
  const joint = shot.roles[of as Role] ?? jointIndex(motion, of);
  if (joint < 0) throw new RemedyError(`amount: there is no joint called “${of}”`);
  const n = motion.joints.length;
  const at = (f: number): Quat => quatAt(motion.rotations, f * n + joint);
  const middle = meanOf(Array.from({ length: Math.max(1, period) }, (_, f) => at(f)));
  const editor = new MotionEditor(motion);
  for (let f = 0; f < samples; f++) {
    if (weights[f] === 0) continue;
    const share = 1 + weights[f]! * (factor - 1);
    const [x, y, z] = logarithm(multiply(conjugate(middle), at(f)));
    editor.setLocal(f, joint, multiply(middle, exponential([share * x, share * y, share * z])));
  }
  return { motion: editor.motion };
}

/** The mean of rotations that lie within half a circle of the first: their sum, each on the first one's side. */
function meanOf(rotations: readonly Quat[]): Quat {
  const sum = [0, 0, 0, 0];
  const first = rotations[0]!;
  for (const q of rotations) {
    const sign = q.reduce((s, v, c) => s + v * first[c]!, 0) < 0 ? -1 : 1;
    q.forEach((v, c) => (sum[c]! += sign * v));
  }
  return unit(sum as unknown as Quat);
}
