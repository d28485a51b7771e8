import { jointWeights } from '../../motion/pose-distance.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { argmax } from '../../signal/runs.ts';
import { sampled } from '../../signal/sampled.ts';
import { mean, median } from '../../signal/statistics.ts';
import { viewGait } from '../gait/gait-view.ts';
import { figurePoses } from './figure-pose.ts';
import { partners, reflect } from './mirror.ts';

/** Samples cut out behind a sample, as poses of a walk or a run tell it. */
export interface CycleGap {
  readonly sample: number;
  readonly poses: number;
}

export const CYCLE_GAP_DEFAULTS = Object.freeze({
  /** The pose that is nearest lies so many samples at most from half a cycle away. */
  reach: 5,
  /** It is nearer than this share of a usual step. */
  alike: 0.45,
  /** From one sample to the next it leaps on by at least so many, where poses are held by a pose; over two samples on either side it stays within so many. */
  leaps: 1.4,
  leapsHeld: 0.55,
  stays: 0.6,
  /** Longer shots are not asked: there cycles differ by themselves. */
  most: 240,
});

const known = new WeakMap<PreparedShot, readonly CycleGap[]>();

/**
 * Where samples were cut out of a walk or a run: every pose of it comes again a step later, mirrored. Followed from sample to sample, the pose that
 * is nearest to the mirror of this one goes on by one as well; behind a cut it leaps on by as many as are missing.
 *
 * @example a run in 20 frames with 9 and 10 cut out: one gap behind the sample before them, of 2 poses
 */
export function gapsInCycles(shot: PreparedShot): readonly CycleGap[] {
  const gaps = known.get(shot) ?? find(shot);
  known.set(shot, gaps);
  return gaps;
}

function find(shot: PreparedShot): CycleGap[] {
  const { motion, axes, exposures, jitter } = shot;
  if (exposures.blocking || shot.fourLegs || !axes.forwardKnown || jitter > 0) return [];
  const wraps = shot.loop !== 'none';
  const samples = wraps ? shot.period : motion.frames;
  if (samples > CYCLE_GAP_DEFAULTS.most || samples < 12) return [];
  const view = viewGait(shot);
  if (typeof view === 'string' || view.landings.length < 3 - Number(wraps)) return [];
  const landings = view.landings.filter(({ standing }) => !standing).map(({ at }) => at);
  const steps = landings.slice(1).map((at, k) => at - landings[k]!);
  if (wraps && landings.length > 1) steps.push(landings[0]! + samples - landings.at(-1)!);
  if (steps.length < 2) return [];
  const step = Math.round(median(steps));
  const { reach, alike, leaps, leapsHeld, stays } = CYCLE_GAP_DEFAULTS;
  const least = exposures.stride > 1 ? leapsHeld : leaps;
  const { own, mirrored, distance } = posesOf(shot, samples, step);
  const last = wraps ? samples : samples - 1;
  const index = (s: number): number => (s + 2 * samples) % samples;
  const usual = mean(sampled(last, (s) => distance(own, s, own, index(s + 1))));
  const most = Math.min(reach, Math.ceil(step / 2));
  /** How many samples from half a cycle away the nearest pose lies; undefined where none is near. */
  const offset = (s: number): number | undefined => {
    const to = wraps || s + step + most < samples ? step : -step;
    if (!wraps && s + to - most < 0) return undefined;
    const off = (k: number): number => distance(own, s, mirrored, index(s + to + k));
    const offs = sampled(2 * most + 1, (k) => off(k - most));
    const best = argmax({ from: 1, to: 2 * most - 1 }, (k) => -offs[k]!);
    const [before, here, after] = [offs[best - 1]!, offs[best]!, offs[best + 1]!];
    const bend = before - 2 * here + after;
    const beside = bend > 0 ? (before - after) / (2 * bend) : 0;
    const nearest = here - (bend * beside ** 2) / 2;
    return nearest <= alike ** 2 * usual ? best - most + beside : undefined;
  };
  const offsets = Array.from({ length: samples }, (_, s) => offset(s));
  const at = (s: number): number | undefined => (wraps ? offsets[(s + samples) % samples] : offsets[s]);
  const leapBehind = (s: number): number => {
    const [before, here, next, after] = [-1, 0, 1, 2].map((k) => at(s + k));
    if (before === undefined || here === undefined || next === undefined || after === undefined) return 0;
    if (Math.abs(here - before) > stays || Math.abs(after - next) > stays) return 0;
    return (next + after - before - here) / 2;
  };
  const found = sampled(last, leapBehind);
  return [...found].flatMap((leap, s) => {
    // Of leaps side by side the largest is the one.
    const isLargest = [-2, -1, 1, 2].every((k) => (found[wraps ? index(s + k) : s + k] ?? 0) < leap);
    return leap >= least && leap <= reach && isLargest ? [{ sample: s, poses: Math.max(1, Math.round(leap)) }] : [];
  });
}

interface Poses {
  readonly own: Float64Array;
  readonly mirrored: Float64Array;
  /** How far two poses are from each other: a sum of squares, of no unit. */
  distance(a: Float64Array, s: number, b: Float64Array, t: number): number;
}

/** Every sample's pose, and its mirror. */
function posesOf(shot: PreparedShot, samples: number, step: number): Poses {
  const { motion, axes } = shot;
  const poses = figurePoses(shot, 2 * step);
  const partner = partners(shot);
  const all = jointWeights(motion);
  const joints = motion.joints.map((_, j) => j).filter((j) => partner[j]! >= 0 && !poses.skipped.has(j));
  const width = 4 * joints.length;
  const [own, mirrored] = [new Float64Array(width * samples), new Float64Array(width * samples)];
  for (let s = 0; s < samples; s++)
    joints.forEach((j, k) => {
      own.set(poses.at(s, j), width * s + 4 * k);
      mirrored.set(reflect(poses.at(s, partner[j]!), axes.left), width * s + 4 * k);
    });
  return {
    own,
    mirrored,
    distance(a, s, b, t) {
      let sum = 0;
      for (let k = 0; k < joints.length; k++) {
        const [i, o] = [width * s + 4 * k, width * t + 4 * k];
        const dot = a[i]! * b[o]! + a[i + 1]! * b[o + 1]! + a[i + 2]! * b[o + 2]! + a[i + 3]! * b[o + 3]!;
        sum += all[joints[k]!]! * (1 - dot * dot);
      }
      return sum;
    },
  };
}
