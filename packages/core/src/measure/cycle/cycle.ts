import { angleBetween, type Quat, quatAt, unit } from '../../motion/quaternion.ts';
import { angleAt, jointWeights, poseDistance } from '../../motion/pose-distance.ts';
import type { Kind, PreparedShot } from '../../motion/prepared-shot.ts';
import { median } from '../../motion/vector.ts';
import { made, type Measured, type Reading, tidy, together, unmade } from '../reading.ts';

/** Verdicts on `cycle.seam` that are written into its note. */
export const SEAM_DEFAULTS = Object.freeze({
  /** Under this the seam is a doubled frame. */
  hitch: 0.25,
  /** Over this it is a jump. */
  jump: 2,
  /** A joint whose steps stay under this many degrees has no seam to speak of. */
  stillUnder: 0.02,
});

const STEPPING: readonly Kind[] = ['walk', 'run', 'any'];

/** Section 6 without the mirror: length, seam, jerk and cadence of a loop. */
export function measureCycle(shot: PreparedShot): Measured {
  if (shot.loop === 'none') {
    const why = 'the shot is no loop: its last frame neither repeats its first nor comes just before it';
    return together(...['cycle.length', 'cycle.seam', 'cycle.jerk', 'cycle.cadence'].map((id) => unmade(id, why)));
  }
  const T = shot.period / shot.cycles;
  const length: Reading = {
    id: 'cycle.length',
    value: T,
    unit: 'frames',
    ...(shot.cycles > 1 && { detail: { cycles: shot.cycles } }),
  };
  // Only what walks or runs has a cadence.
  const paced = STEPPING.includes(shot.kind)
    ? [made({ id: 'cycle.cadence', value: tidy((120 * shot.fps) / T), unit: '1/min' })]
    : [];
  if (T < 4) {
    const why = `a seam needs a cycle of 4 frames or more, this one has ${T}`;
    return together(made(length), unmade('cycle.seam', why), unmade('cycle.jerk', why), ...paced);
  }
  return together(made(length), seam(shot), jerk(shot), ...paced);
}

/**
 * `cycle.seam`: the pose step from the last sample of the period to the first, over the mean of the steps beside it.
 *
 * With the habit `repeat` the last sample of the file is not played: the step is from sample T − 1 to sample 0.
 */
function seam(shot: PreparedShot): Measured {
  const { motion, period: T, firstFrame } = shot;
  const weights = jointWeights(motion);
  const across = poseDistance(motion, T - 1, 0, weights);
  const beside = (poseDistance(motion, T - 2, T - 1, weights) + poseDistance(motion, 0, 1, weights)) / 2;
  if (!(beside > 1e-6) && !(across > 1e-6)) return unmade('cycle.seam', 'nothing moves at the seam');
  const value = across / Math.max(beside, 1e-6);
  const worst = worstJoints(shot, (j) => {
    const n = motion.joints.length;
    const at = (f: number): number => 4 * (f * n + j);
    const r = motion.rotations;
    const mine = (angleAt(r, at(T - 2), r, at(T - 1)) + angleAt(r, at(0), r, at(1))) / 2;
    const step = angleAt(r, at(T - 1), r, at(0));
    return Math.max(step, mine) < SEAM_DEFAULTS.stillUnder ? 0 : Math.abs(step - mine);
  });
  const note =
    value < SEAM_DEFAULTS.hitch
      ? 'a doubled frame: the loop hitches'
      : value > SEAM_DEFAULTS.jump
        ? 'the loop jumps'
        : undefined;
  return made({
    id: 'cycle.seam',
    value: tidy(value),
    unit: 'ratio',
    frames: [firstFrame + T - 1, firstFrame],
    detail: { worst },
    ...(note && { note }),
  });
}

/**
 * `cycle.jerk`: per joint the largest residual of section 1 on its rotation at the four samples about the seam, over its median
 * elsewhere; the value is the worst joint's. The median is taken to be at least a tenth of the joint's mean step, so that a very
 * smooth motion is not called jerky for a difference nobody sees. Feet and toes are left alone: they meet the ground.
 */
function jerk(shot: PreparedShot): Measured {
  const { motion, period: T } = shot;
  if (T < 12) return unmade('cycle.jerk', `it needs a cycle of 12 frames or more, this one has ${T}`);
  const n = motion.joints.length;
  const ratios = new Float64Array(n);
  const residuals = new Float64Array(T);
  const onGround = new Set([shot.roles['foot.L'], shot.roles['foot.R'], shot.roles['toe.L'], shot.roles['toe.R']]);
  for (let j = 0; j < n; j++) {
    if (onGround.has(j)) continue;
    let travel = 0;
    for (let i = 0; i < T; i++) {
      residuals[i] = rotationResidual(motion.rotations, n, j, i, T);
      travel += angleAt(motion.rotations, 4 * (i * n + j), motion.rotations, 4 * (((i + 1) % T) * n + j));
    }
    const step = travel / T;
    if (step < SEAM_DEFAULTS.stillUnder) continue;
    const atSeam = Math.max(residuals[T - 2]!, residuals[T - 1]!, residuals[0]!, residuals[1]!);
    ratios[j] = atSeam / Math.max(median(residuals.subarray(2, T - 2)), step / 10);
  }
  const value = Math.max(...ratios);
  if (!(value > 0)) return unmade('cycle.jerk', 'no joint turns');
  return made({
    id: 'cycle.jerk',
    value: tidy(value),
    unit: 'ratio',
    detail: { worst: worstJoints(shot, (j) => ratios[j]!) },
  });
}

/** Angle in degrees between a local rotation and what its four neighbours on the cycle predict. */
function rotationResidual(rotations: Float64Array, joints: number, joint: number, i: number, T: number): number {
  const at = (k: number): Quat => quatAt(rotations, ((((i + k) % T) + T) % T) * joints + joint);
  const here = at(0);
  const near = (q: Quat): Quat => {
    const d = q[0] * here[0] + q[1] * here[1] + q[2] * here[2] + q[3] * here[3];
    return d < 0 ? [-q[0], -q[1], -q[2], -q[3]] : q;
  };
  const [a, b, d, e] = [near(at(-2)), near(at(-1)), near(at(1)), near(at(2))];
  const predicted = unit([0, 1, 2, 3].map((k) => (-a[k]! + 4 * b[k]! + 4 * d[k]! - e[k]!) / 6) as unknown as Quat);
  return angleBetween(here, predicted);
}

/** The five joints with the largest value, those of value 0 left out. */
function worstJoints(shot: PreparedShot, valueOf: (joint: number) => number): { joint: string; value: number }[] {
  return shot.motion.joints
    .map((joint, j) => ({ joint: joint.name, value: tidy(valueOf(j)) }))
    .filter(({ value }) => value > 0)
    .sort((a, b) => b.value - a.value)
    .slice(0, 5);
}
