import { jointWeights } from '../../motion/pose-distance.ts';
import { type PreparedShot, sampleAt } from '../../motion/prepared-shot.ts';
import { conjugate, multiply, type Quat, quatAt } from '../../motion/quaternion.ts';
import { percent } from '../../say/words.ts';
import { logarithm } from '../../motion/joint-turn.ts';
import { describeReading, holding } from '../describe.ts';
import { jointParts } from '../parts.ts';
import { made, type Measured, type Reading, refuse, roundTo4, together } from '../reading.ts';

const POSES = 'two poses of the shot, and a frame between them';
const shared = { kinds: [], fromPoses: true, mark: 'breakdown' } as const;

export const FAVOUR = describeReading({
  ...shared,
  id: 'breakdown.favour',
  holds: holding<number>(),
  name: 'favour',
  unit: '%',
  needs: POSES,

  say: ({ value, frames = [] }, part) =>
    value > 100
      ? `at ${frames[1]} ${part} goes the other way, beyond the pose at ${frames[0]} (${percent(value)})`
      : value < 0
        ? `at ${frames[1]} ${part} is past the pose at ${frames[2]} (${percent(value)})`
        : `at ${frames[1]} ${part} favours the pose at ${frames[0]} by ${percent(value)}`,
});
export const DEPARTURE = describeReading({
  ...shared,
  id: 'breakdown.departure',
  holds: holding<number>(),
  name: 'departure from the inbetween',
  unit: '%',
  needs: POSES,

  say: ({ value, frames = [] }, part) => `at ${frames[1]} ${part} departs from the straight way by ${percent(value)}`,
});
const CHART = describeReading({
  ...shared,
  id: 'chart.fractions',
  holds: holding<string, { from: number; to: number; fractions: number[] }>(),
  name: 'timing chart',
  unit: '–',
  needs: 'two poses of the shot',

  say: ({ value, detail: { from, to } }) => `from ${from} to ${to} the spacing is ${CHART_NAMES[value] ?? value}`,
});

const CHART_NAMES: Readonly<Record<string, string>> = {
  'slow-out': 'a slow-out',
  'slow-in': 'a slow-in',
  both: 'a slow-out and a slow-in',
  halves: 'by halves',
};

export const BREAKDOWNS = [FAVOUR, DEPARTURE] as const;
export const CHARTS = [CHART] as const;

/** Thresholds of breakdowns. */
export const BREAKDOWN_DEFAULTS = Object.freeze({
  /** Poses nearer than this (weighted RMS, degrees) have nothing between them. */
  leastMove: 0.05,
  /** Fractions within this of another spacing's are that spacing. */
  like: 0.03,
  /** A first or last third slower than this share of even is eased. */
  eased: 0.85,
});

/** Where a pose lies between two others. */
export interface Between {
  /** 0 at the first pose, 1 at the second: the least-squares share of the way. */
  readonly t: number;
  /** What the straight way does not explain, percent of the way. */
  readonly departure: number;
}

/**
 * Where pose F lies on the way from pose A to pose B, in the tangent space at A: with a = log(A⁻¹F) and b = log(A⁻¹B) per joint,
 * t = Σ w a·b / Σ w b·b.
 *
 * @param joints which joints count
 * @returns undefined where A and B are the same pose
 * @example a spherical interpolation from A to B at u has t = u exactly, and no departure
 */
export function poseBetween(
  shot: PreparedShot,
  a: number,
  f: number,
  b: number,
  joints: readonly number[],
  weights: Float64Array,
): Between | undefined {
  const { rotations, joints: all } = shot.motion;
  const n = all.length;
  const at = (frame: number, joint: number): Quat => quatAt(rotations, frame * n + joint);
  let ab = 0;
  let aa = 0;
  let bb = 0;
  let weight = 0;
  for (const j of joints) {
    const inverse = conjugate(at(a, j));
    const u = logarithm(multiply(inverse, at(f, j)));
    const v = logarithm(multiply(inverse, at(b, j)));
    const w = weights[j]!;
    weight += w;
    for (let k = 0; k < 3; k++) {
      ab += w * u[k]! * v[k]!;
      aa += w * u[k]! * u[k]!;
      bb += w * v[k]! * v[k]!;
    }
  }
  if (!(Math.sqrt(bb / Math.max(weight, 1e-12)) > BREAKDOWN_DEFAULTS.leastMove)) return undefined;
  const t = ab / bb;
  // ‖a − t b‖² = ‖a‖² − t² ‖b‖² at the least-squares t.
  return { t, departure: 100 * Math.sqrt(Math.max(0, aa - t * ab) / bb) };
}

/** Samples of labels in order, or why they can't be used. */
function samples(shot: PreparedShot, labels: readonly number[]): number[] | string {
  const { motion } = shot.played;
  const outside = labels.find((label) => !(label >= shot.firstFrame && label < shot.firstFrame + motion.frames));
  if (outside !== undefined)
    return `frame ${outside} is not in the shot, which has ${shot.firstFrame} to ${shot.firstFrame + motion.frames - 1}`;
  return labels.map((label) => sampleAt(shot, label));
}

/**
 * `breakdown.favour` and `breakdown.departure` of the pose at `at` between those at `a` and `b`, whole body and per part. 100: it is
 * A; 50: half way; over 100: it goes the other way first; under 0: past B. A departure under 5 is only an inbetween.
 */
export function measureBreakdown(shot: PreparedShot, labels: { a: number; at: number; b: number }): Measured {
  const list = samples(shot, [labels.a, labels.at, labels.b]);
  if (typeof list === 'string') return refuse(BREAKDOWNS, list);
  const [a, at, b] = list as [number, number, number];
  const weights = jointWeights(shot.motion);
  const parts = jointParts(shot);
  const all = shot.motion.joints.map((_, j) => j);
  const frames = [labels.a, labels.at, labels.b];
  return together(
    ...[undefined, ...new Set(parts)].map((part) => {
      const joints = part === undefined ? all : all.filter((j) => parts[j] === part);
      const between = poseBetween(shot, a, at, b, joints, weights);
      if (!between) return refuse(BREAKDOWNS, `the poses at ${labels.a} and ${labels.b} are the same here`, part);
      const more = { frames, ...(part !== undefined && { part }) };
      return made(FAVOUR.of(roundTo4(100 * (1 - between.t)), more), DEPARTURE.of(roundTo4(between.departure), more));
    }),
  );
}

/** `chart.fractions`: for every frame from `a` to `b` how far it is on the way, and the name of that spacing where it has one. */
export function measureChart(shot: PreparedShot, labels: { a: number; b: number }, joint?: number): Measured {
  const part = joint === undefined ? undefined : shot.motion.joints[joint]!.name;
  const ends = samples(shot, [labels.a, labels.b]);
  if (typeof ends === 'string') return refuse(CHARTS, ends, part);
  if (labels.b - labels.a < 2) return refuse(CHARTS, 'there is no frame between the two', part);
  const [a, b] = ends as [number, number];
  const joints = joint === undefined ? shot.motion.joints.map((_, j) => j) : [joint];
  const weights = joint === undefined ? jointWeights(shot.motion) : new Float64Array(shot.motion.joints.length).fill(1);
  const fractions: number[] = [];
  for (let label = labels.a; label <= labels.b; label++) {
    const between = poseBetween(shot, a, sampleAt(shot, label), b, joints, weights);
    if (!between) return refuse(CHARTS, `the poses at ${labels.a} and ${labels.b} are the same`, part);
    fractions.push(between.t);
  }
  return made(chartReading(fractions, labels, part));
}

const chartReading = (fractions: readonly number[], { a, b }: { a: number; b: number }, part?: string): Reading =>
  CHART.of(nameSpacing(fractions), {
    ...(part !== undefined && { part }),
    frames: [a, b],
    detail: { from: a, to: b, fractions: fractions.map(roundTo4) },
  });

/**
 * Name of a spacing: `even`; `halves` (every tick lies in the middle of two others); `slow-out`, `slow-in` or `both` by how much of
 * the way the first and the last third of the time take; else `uneven`.
 *
 * @param fractions from 0 at the first frame to 1 at the last
 */
export function nameSpacing(fractions: readonly number[]): string {
  const n = fractions.length - 1;
  const { like, eased } = BREAKDOWN_DEFAULTS;
  if (fractions.every((t, i) => Math.abs(t - i / n) <= like)) return 'even';
  const isMiddle = (i: number): boolean => {
    for (let l = 0; l < i; l++)
      for (let r = i + 1; r <= n; r++)
        if (Math.abs((fractions[l]! + fractions[r]!) / 2 - fractions[i]!) <= like / 3) return true;
    return false;
  };
  const rising = fractions.every((t, i) => i === 0 || t > fractions[i - 1]! + like / 3);
  const half = fractions.some((t) => Math.abs(t - 0.5) <= like / 3);
  if (rising && half && fractions.slice(1, -1).every((_, i) => isMiddle(i + 1))) return 'halves';
  if (fractions.some((t, i) => i > 0 && t < fractions[i - 1]! - like)) return 'uneven';
  const at = (u: number): number => {
    const x = u * n;
    const i = Math.min(n - 1, Math.floor(x));
    return fractions[i]! + (x - i) * (fractions[i + 1]! - fractions[i]!);
  };
  const out = 3 * at(1 / 3) < eased;
  const into = 3 * (1 - at(2 / 3)) < eased;
  return out && into ? 'both' : out ? 'slow-out' : into ? 'slow-in' : 'uneven';
}
