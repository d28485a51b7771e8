import { logarithm } from '../../motion/joint-turn.ts';
import { GAITS, KINDS } from '../../motion/kinds.ts';
import { jointWeights, poseDistance } from '../../motion/pose-distance.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { isAncestor } from '../../motion/roles.ts';
import { conjugate, multiply, quatAt, vec3At } from '../../motion/quaternion.ts';
import { length, reject, subtract, type Vec3 } from '../../motion/vector.ts';
import { frames, list } from '../../say/words.ts';
import { argmax } from '../../signal/runs.ts';
import { median } from '../../signal/statistics.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse } from '../reading.ts';
import { gapsInCycles } from './gaps-in-cycles.ts';

/** A place where frames were cut out: behind which label, and about how many. */
export interface Gap {
  readonly behind: number;
  readonly frames: number;
}

/** Some labels, the first few of many. */
const firstOf = (labels: readonly number[]): string =>
  labels.length <= 5 ? list(labels) : `${labels.slice(0, 4).join(', ')} and ${labels.length - 4} more`;

const MISSING = describeReading({
  id: 'exposure.missing',
  holds: holding<number, { each: Gap[] }>(),
  name: 'frames missing',
  unit: 'frames',
  needs: 'something that moves, over 8 poses or more',
  kinds: KINDS,
  mark: 'timing',
  ofShot: true,
  // One of two halves is shorter by what is missing.
  explains: { 'mirror.height': 'always', 'mirror.off': 'always', 'gait.step': 'always' },
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, detail: { each } }) =>
    value === 0
      ? 'no frames are missing in the midst of motion'
      : `about ${frames(value)} ${value === 1 ? 'is' : 'are'} missing in the midst of motion, behind ${firstOf(each.map(({ behind }) => behind))}: everything leaps on at once`,
});

export const MISSING_FRAMES = [MISSING] as const;

export const MISSING_DEFAULTS = Object.freeze({
  /** The leap is at least so many times what the steps on either side lead to, however they speed up … */
  from: 1.6,
  /** … of a walk or a run, which has no accents, so many times … */
  steady: 1.35,
  /** … and all of the body goes so many times as far as beside it. */
  along: 1.15,
  /** … and at most so many times them: what is farther is another pose, and no gap. */
  to: 6,
  /** Hips that go on by less than this a frame, %L, do not travel. */
  travels: 0.6,
  /** Motion goes on at both sides by at least this share of the shot's usual step. */
  amid: 0.5,
  /** With frames put in between, smooth curves through the poses on both sides leave at most this share of what they leave without. */
  better: 0.2,
  /** Without them they leave at least so many times what they usually do, told by about so many samples. */
  apart: 16,
  samples: 60,
});

/**
 * `exposure.missing`: frames that were cut out of a motion. At one sample every part goes on the way it was going, but several times as far,
 * and then on as before. An accent is no gap: its steps grow towards it.
 */
export function measureMissingFrames(shot: PreparedShot): Measured {
  const { exposures, loop, period: T } = shot;
  if (exposures.blocking) return refuse(MISSING_FRAMES, 'poses are held: there is no motion between them');
  if (T < 8) return refuse(MISSING_FRAMES, `it needs 8 poses or more, the shot has ${T}`);
  const last = loop === 'none' ? T - 1 : T;
  const tracks = [poseTrack(shot, last), pathTrack(shot, last)].filter(({ usual }) => usual > 0);
  // At a high rate a gap of less than a frame at 24 is none that anybody sees.
  const isVisible = (count: number): boolean => shot.fps <= 30 || (24 * count) / shot.fps > 1;
  const each: Gap[] = [];
  const inCycles = gapsInCycles(shot);
  for (let s = 0; s < last; s++) {
    const found = inCycles.find(({ sample }) => sample === s);
    const isAmid = s >= 2 && s + 2 < last;
    const count = found?.poses ?? Math.max(0, ...tracks.map((track) => (isAmid ? gapBehind(track, s) : 0)));
    if (count > 0 && isVisible(count))
      each.push({ behind: Math.round(labelOf(shot, s)), frames: Math.round(count * exposures.stride) });
  }
  return made(
    MISSING.of(
      each.reduce((sum, gap) => sum + gap.frames, 0),
      { ...(each.length > 0 && { frames: each.map(({ behind }) => behind) }), detail: { each } },
    ),
  );
}

/** What moves through a shot, in which a gap is looked for. */
interface Track {
  /** How far it goes from each sample to the next. */
  readonly sizes: readonly number[];
  /** The same of all that moves: it must leap too. */
  readonly whole: readonly number[];
  readonly usual: number;
  /** A leap is at least so many times what the steps beside it lead to. */
  readonly from: number;
  /** Values about a sample, three numbers each, that lie on smooth curves. */
  around(sample: number): readonly (readonly Vec3[])[];
  readonly weights: Float64Array;
}

const BESIDE = [-2, -1, 0, 1, 2, 3] as const;

/** The pose: rotations without those of the legs, which meet the ground and turn where they do; all of a figure that has nothing else. */
function poseTrack(shot: PreparedShot, last: number): Track {
  const { unsmoothed: motion, roles, period: T, kinds } = shot;
  const n = motion.joints.length;
  const all = jointWeights(motion);
  const legs = LEGS.flatMap((role) => roles[role] ?? []);
  const inLeg = (joint: number): boolean => legs.some((top) => joint === top || isAncestor(motion.joints, top, joint));
  const others = all.map((weight, j) => (inLeg(j) ? 0 : weight));
  const weights = others.some((weight) => weight > 0) ? others : all;
  const sizesBy = (of: Float64Array): number[] =>
    Array.from({ length: last }, (_, s) => poseDistance(motion, s, (s + 1) % T, of));
  const sizes = sizesBy(weights);
  return {
    sizes,
    whole: sizesBy(all),
    usual: median(sizes),
    from: kinds.some((kind) => GAITS.includes(kind)) ? MISSING_DEFAULTS.steady : MISSING_DEFAULTS.from,
    around(s) {
      const back = motion.joints.map((_, j) => conjugate(quatAt(motion.rotations, s * n + j)));
      return BESIDE.map((k) =>
        back.map((own, j) => logarithm(multiply(quatAt(motion.rotations, ((s + k) % T) * n + j), own))),
      );
    },
    weights,
  };
}
const LEGS = ['thigh.L', 'thigh.R'] as const;

/** The way of the hips over the ground, where the figure travels. */
function pathTrack({ motion, world, roles, period: T, axes, scale: size, loop }: PreparedShot, last: number): Track {
  const n = motion.joints.length;
  const at = (s: number): Vec3 => vec3At(world.positions, s * n + (roles.hips ?? 0));
  // Over the end of a loop it goes back to where it began: no step is read there.
  const own = loop === 'none' ? last : last - 1;
  const sizes = Array.from({ length: own }, (_, s) =>
    s + 1 < T ? (100 * length(reject(subtract(at(s + 1), at(s)), axes.up))) / size.legLength : 0,
  );
  const usual = median(sizes);
  return {
    sizes,
    whole: sizes,
    usual: usual >= MISSING_DEFAULTS.travels ? usual : 0,
    from: MISSING_DEFAULTS.from,
    around: (s) => BESIDE.map((k) => [subtract(at(Math.min(T - 1, s + k)), at(s))]),
    weights: Float64Array.of(1),
  };
}

/** How many frames are missing behind a sample; 0 where none are. */
function gapBehind(track: Track, s: number): number {
  const { sizes, whole, usual, from, around: valuesAround, weights } = track;
  const { to, amid, better, along } = MISSING_DEFAULTS;
  if (s + 2 >= sizes.length) return 0;
  const [a, b, here, c, d] = [-2, -1, 0, 1, 2].map((k) => sizes[s + k]!) as [number, number, number, number, number];
  if (Math.min(b, c) < amid * usual) return 0;
  // Steps that grow or shrink go on doing so.
  const led = Math.max(b, c, (b * b) / Math.max(a, 1e-9), (c * c) / Math.max(d, 1e-9));
  if (here < from * led || here > to * Math.max(b, c)) return 0;
  if (whole[s]! < along * Math.max(whole[s - 1]!, whole[s + 1]!)) return 0;
  const around = valuesAround(s);
  const left = CURVES.map((residuals) => leftBy(residuals, around, weights));
  // In a motion that is rough everywhere one leap is like another.
  if (left[0]! < MISSING_DEFAULTS.apart * usuallyLeft(track, s)) return 0;
  const best = argmax({ from: 0, to: MOST }, (missing) => -left[missing]!);
  // As many as are tried is more than can be told.
  return best < MOST && left[best]! <= better * left[0]! ? best : 0;
}

/** What curves leave of the values about a sample, squares by weight. */
function leftBy(
  residuals: readonly (readonly number[])[],
  around: readonly (readonly Vec3[])[],
  weights: Float64Array,
): number {
  let sum = 0;
  for (let j = 0; j < weights.length; j++) {
    if (weights[j] === 0) continue;
    for (const row of residuals)
      for (let axis = 0; axis < 3; axis++)
        sum += weights[j]! * row.reduce((own, r, k) => own + r * around[k]![j]![axis]!, 0) ** 2;
  }
  return sum;
}

const usually = new WeakMap<Track, readonly { readonly s: number; readonly left: number }[]>();

/** What curves without a gap usually leave elsewhere, by some samples spread over the shot; 0 where there is no elsewhere. */
function usuallyLeft(track: Track, here: number): number {
  const count = track.sizes.length - 5;
  const every = Math.max(1, Math.floor(count / MISSING_DEFAULTS.samples));
  const known =
    usually.get(track) ??
    Array.from({ length: Math.ceil(count / every) }, (_, k) => {
      const s = 2 + k * every;
      return { s, left: leftBy(CURVES[0]!, track.around(s), track.weights) };
    });
  usually.set(track, known);
  const own = known.flatMap(({ s, left }) => (Math.abs(s - here) >= BESIDE.length ? [left] : []));
  return own.length > 0 ? median(own) : 0;
}

/** The number of frames that may be missing, from none on. */
const MOST = 5;

/**
 * What a cubic leaves of six values, three on either side of a gap, where 0, 1, 2 … frames are missing in it: the matrix that takes values
 * to residuals.
 */
const CURVES: readonly (readonly (readonly number[])[])[] = Array.from({ length: MOST + 1 }, (_, missing) => {
  const times = BESIDE.map((t) => (t > 0 ? t + missing : t));
  const basis = orthonormal([0, 1, 2, 3].map((power) => times.map((t) => t ** power)));
  return times.map((_t, i) =>
    times.map((_u, k) => (i === k ? 1 : 0) - basis.reduce((sum, own) => sum + own[i]! * own[k]!, 0)),
  );
});

/** Vectors of length 1 and square to each other that span what some vectors span (Gram–Schmidt). */
function orthonormal(vectors: readonly (readonly number[])[]): number[][] {
  const basis: number[][] = [];
  for (const vector of vectors) {
    let own = [...vector];
    for (const done of basis) {
      const along = own.reduce((sum, v, k) => sum + v * done[k]!, 0);
      own = own.map((v, k) => v - along * done[k]!);
    }
    const size = Math.hypot(...own);
    basis.push(own.map((v) => v / size));
  }
  return basis;
}
