import { CUBIC_NEIGHBOURS } from '../../signal/neighbours.ts';
import { LOOPING } from '../../motion/kinds.ts';
import { angleAt, jointWeights, poseDistance } from '../../motion/pose-distance.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { angleBetween } from '../../motion/quaternion.ts';
import { mean, median } from '../../signal/statistics.ts';
import { figures, frames, list, times } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { viewGait } from '../gait/gait-view.ts';
import { made, type Measured, notAsked, refuse, roundTo4, together } from '../reading.ts';
import { figurePoses } from './figure-pose.ts';
import { type WholeCycle, wholeCycles } from './whole-cycles.ts';

export interface Worst {
  readonly worst: readonly { readonly joint: string; readonly value: number }[];
}

const LENGTH = describeReading({
  id: 'cycle.length',
  holds: holding<number, { cycles: number; lengths: number[]; tail: number; alike: number }>(),
  name: 'length of the cycle',
  unit: 'frames',
  needs: 'a loop, or both feet landing in turn',
  kinds: LOOPING,
  time: true,
  fromPoses: true,
  mark: 'timing',

  say: ({ value, detail: { cycles, tail, lengths } }) => {
    const uneven = lengths.some((length) => Math.round(length) !== Math.round(lengths[0]!));
    const several = cycles > 1 ? `, ${times(cycles)}` : '';
    return `a cycle lasts ${frames(value)}${uneven ? ` (${list(lengths.map(Math.round))})` : ''}${several}${tail > 0 ? `, and its last pose stands ${frames(tail)} longer` : ''}`;
  },
});
export const SEAM = describeReading({
  id: 'cycle.seam',
  holds: holding<number, Worst>(),
  name: 'step over the seam',
  unit: 'ratio',
  needs: 'a loop of 4 frames or more',
  kinds: LOOPING,
  mark: 'timing',
  thrownBy: { strayFrame: true },
  say: ({ value }, _, told) =>
    told && told.judgement !== 'inside'
      ? told.side < 0
        ? 'a pose is there twice at the seam: the loop hitches'
        : `over the seam the pose steps ${figures(value)} times as far as beside it: the loop jumps`
      : `over the seam the pose steps ${figures(value)} times as far as beside it`,
});
const JERK = describeReading({
  id: 'cycle.jerk',
  holds: holding<number, Worst>(),
  name: 'roughness at the seam',
  unit: 'ratio',
  needs: 'a loop of 12 frames or more',
  kinds: LOOPING,
  mark: 'timing',
  thrownBy: { cutLoop: 'anywhere', strayFrame: true },
  say: ({ value, detail: { worst } }) =>
    `at the seam the roughest joint${worst[0] ? `, “${worst[0].joint}”,` : ''} is ${figures(value)} times as rough as elsewhere`,
});
const CADENCE = describeReading({
  id: 'cycle.cadence',
  holds: holding<number>(),
  name: 'steps a minute',
  unit: '1/min',
  needs: 'a whole cycle of steps',
  kinds: ['walk', 'run', 'any'],
  mark: 'timing',

  say: ({ value }) => `${figures(value)} steps a minute`,
});

export const CYCLE = [LENGTH, SEAM, JERK, CADENCE] as const;

/** Why a shot has no seam. */
export const NO_LOOP = 'the shot is no loop: its last frame neither repeats its first nor comes just before it';

/** Thresholds at the seam. */
export const SEAM_DEFAULTS = Object.freeze({
  /** A joint whose steps stay under this many degrees has no seam to speak of. */
  stillUnder: 0.02,
  /** Rotations are asked for roughness over at least so many frames. */
  leastForJerk: 12,
  /** What is usual elsewhere is told by about so many samples. */
  usualFrom: 480,
});

/** The loop without its mirror: length, seam, jerk and cadence. A gait’s length comes from its footfalls, and needs no loop. */
export function measureCycle(shot: PreparedShot): Measured {
  const cycles = wholeCycles(shot);
  return together(
    cycles.length > 0 ? made(length(shot, cycles)) : refuse([LENGTH], `${NO_LOOP}, and no foot lands twice in turn`),
    cadence(shot, cycles),
    shot.loop === 'none'
      ? together(refuse([SEAM], NO_LOOP), notAsked([JERK], NO_LOOP))
      : shot.period < 4
        ? refuse([SEAM, JERK], `a seam needs a loop of 4 poses or more, this one has ${shot.period}`)
        : together(seam(shot), jerk(shot)),
  );
}

function length(shot: PreparedShot, cycles: readonly WholeCycle[]) {
  const lengths = cycles.map((cycle) => framesIn(shot, cycle.length));
  return LENGTH.of(roundTo4(mean(lengths)), {
    detail: {
      cycles: cycles.length,
      lengths: lengths.map(roundTo4),
      tail: shot.exposures.tail,
      alike: roundTo4(alike(shot, cycles)),
    },
  });
}

/** How far the other cycles are from the first, pose by pose: the largest mean pose distance, degrees. */
function alike(shot: PreparedShot, cycles: readonly WholeCycle[]): number {
  const [first, ...others] = cycles.slice(0, 12);
  if (!first || others.length === 0) return 0;
  const poses = figurePoses(shot, Math.round(first.length));
  const weights = jointWeights(shot.motion);
  const count = Math.round(first.length);
  return Math.max(
    ...others.map((other) => {
      let sum = 0;
      for (let i = 0; i < count; i++) {
        const u = i / count;
        shot.motion.joints.forEach((_, j) => {
          if (poses.skipped.has(j)) return;
          const angle = angleBetween(
            poses.at(first.from + u * first.length, j),
            poses.at(other.from + u * other.length, j),
          );
          sum += weights[j]! * angle * angle;
        });
      }
      return Math.sqrt(sum / count);
    }),
  );
}

/** Steps a minute: of a cycle of footfalls, two a cycle. Only what walks or runs has a cadence. */
function cadence(shot: PreparedShot, cycles: readonly WholeCycle[]): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return refuse([CADENCE], view);
  if (shot.exposures.blocking || view.cycles.length === 0 || cycles.length === 0)
    return refuse([CADENCE], 'no whole cycle of footfalls is there');
  return made(CADENCE.of(roundTo4((120 * shot.fps) / mean(cycles.map((cycle) => cycle.length)))));
}

/**
 * `cycle.seam`: the pose step from the last sample of the period to the first, over the mean of the steps beside it.
 *
 * With the habit `repeat` the last sample of the file is not played: the step is from sample T − 1 to sample 0.
 */
function seam(shot: PreparedShot): Measured {
  const { motion, period: T } = shot;
  const labels = [labelOf(shot, T - 1), labelOf(shot, 0)];
  if (shot.seamDoubled) return made(SEAM.of(0, { frames: labels, detail: { worst: [] } }));
  const weights = jointWeights(motion);
  const across = poseDistance(motion, T - 1, 0, weights);
  const beside = (poseDistance(motion, T - 2, T - 1, weights) + poseDistance(motion, 0, 1, weights)) / 2;
  if (!(beside > 1e-6)) return refuse([SEAM], 'nothing moves beside the seam');
  const worst = worstJoints(shot, (j) => {
    const n = motion.joints.length;
    const at = (f: number): number => 4 * (f * n + j);
    const r = motion.rotations;
    const mine = (angleAt(r, at(T - 2), r, at(T - 1)) + angleAt(r, at(0), r, at(1))) / 2;
    const step = angleAt(r, at(T - 1), r, at(0));
    return Math.max(step, mine) < SEAM_DEFAULTS.stillUnder ? 0 : Math.abs(step - mine);
  });
  return made(SEAM.of(roundTo4(across / beside), { frames: labels, detail: { worst } }));
}

/**
 * `cycle.jerk`: per joint the largest residual of its rotation at the four samples about the seam, over its median
 * elsewhere; the value is the worst joint's. The median is taken to be at least a tenth of the joint's mean step, so that a very
 * smooth motion is not called jerky for a difference nobody sees. Feet and toes are left alone: they meet the ground.
 */
function jerk(shot: PreparedShot): Measured {
  const { motion, period: T } = shot;
  if (T < SEAM_DEFAULTS.leastForJerk)
    return refuse([JERK], `it needs a loop of ${SEAM_DEFAULTS.leastForJerk} poses or more, this one has ${T}`);
  const n = motion.joints.length;
  const ratios = new Float64Array(n);
  // What is usual in a long loop is told by a part of its samples, spread over all of it.
  const every = Math.max(1, Math.floor(T / SEAM_DEFAULTS.usualFrom));
  const residuals = new Float64Array(Math.ceil((T - 4) / every));
  const onGround = new Set([shot.roles['foot.L'], shot.roles['foot.R'], shot.roles['toe.L'], shot.roles['toe.R']]);
  for (let j = 0; j < n; j++) {
    if (onGround.has(j)) continue;
    let travel = 0;
    for (let i = 0; i < T; i += every)
      travel += angleAt(motion.rotations, 4 * (i * n + j), motion.rotations, 4 * (((i + 1) % T) * n + j));
    const step = travel / Math.ceil(T / every);
    if (step < SEAM_DEFAULTS.stillUnder) continue;
    const residual = (i: number): number => rotationResidual(motion.rotations, n, j, i, T);
    for (let k = 0; k < residuals.length; k++) residuals[k] = residual(2 + k * every);
    const atSeam = Math.max(residual(T - 2), residual(T - 1), residual(0), residual(1));
    ratios[j] = atSeam / Math.max(median(residuals), step / 10);
  }
  const value = Math.max(...ratios);
  if (!(value > 0)) return refuse([JERK], 'no joint turns');
  return made(JERK.of(roundTo4(value), { detail: { worst: worstJoints(shot, (j) => ratios[j]!) } }));
}

/** Angle in degrees between a local rotation and what its four neighbours on the cycle predict. */
function rotationResidual(q: Float64Array, joints: number, joint: number, i: number, T: number): number {
  const here = 4 * (i * joints + joint);
  const [hx, hy, hz, hw] = [q[here]!, q[here + 1]!, q[here + 2]!, q[here + 3]!];
  let [x, y, z, w] = [0, 0, 0, 0];
  for (const [k, weight] of CUBIC_NEIGHBOURS) {
    const at = 4 * (((i + k + T) % T) * joints + joint);
    const [qx, qy, qz, qw] = [q[at]!, q[at + 1]!, q[at + 2]!, q[at + 3]!];
    // One rotation has two quaternions: the one nearer to this sample's.
    const own = hx * qx + hy * qy + hz * qz + hw * qw < 0 ? -weight : weight;
    x += own * qx;
    y += own * qy;
    z += own * qz;
    w += own * qw;
  }
  // The part of here⁻¹ · predicted that turns, and the part that does not: their ratio needs no unit quaternion.
  const tx = hw * x - hx * w - hy * z + hz * y;
  const ty = hw * y + hx * z - hy * w - hz * x;
  const tz = hw * z - hx * y + hy * x - hz * w;
  const stays = hw * w + hx * x + hy * y + hz * z;
  return (2 * Math.atan2(Math.sqrt(tx * tx + ty * ty + tz * tz), Math.abs(stays)) * 180) / Math.PI;
}

/** The five joints with the largest value, those of value 0 left out. */
function worstJoints(shot: PreparedShot, valueOf: (joint: number) => number): { joint: string; value: number }[] {
  return shot.motion.joints
    .map((joint, j) => ({ joint: joint.name, value: roundTo4(valueOf(j)) }))
    .filter(({ value }) => value > 0)
    .sort((a, b) => b.value - a.value)
    .slice(0, 5);
}
