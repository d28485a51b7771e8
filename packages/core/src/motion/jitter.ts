import { savitzkyGolay } from '../signal/savitzky-golay.ts';
import type { Motion } from './motion.ts';
import { median } from '../signal/statistics.ts';

export const JITTER_DEFAULTS = Object.freeze({
  /** Rotations that tremble by more than this from frame to frame (standard deviation about an axis, degrees) are smoothed. */
  from: 0.12,
  /** Half width of the smoothing window, samples, and its order. */
  half: 3,
  order: 2,
  /** So many joints must turn: hand-held capture trembles everywhere. */
  joints: 5,
  /** Shorter shots are left as they are. */
  least: 16,
  /** What trembles without pattern turns round from one sixth difference to the next (−6/7 on average), and after so many samples says nothing of itself. */
  turnsRound: -0.35,
  forgets: 8,
  /** What says this much of itself by then repeats: a stutter, a shake, and no noise. */
  repeats: 0.5,
  /** What most joints say of themselves, after as many samples in each of them, repeats as well: a halt at every step. Looked for from, and up to, so many samples, or seconds. */
  alikeFrom: 4,
  alikeTo: 12,
  alikeWithin: 0.75,
  alike: 0.5,
});

const DEGREES = 180 / Math.PI;
/** Root of the sum of the squares of a sixth difference's weights (1, −6, 15, −20 …), which takes any smooth motion out and leaves what changes from frame to frame. */
const SIXTH_NORM = Math.sqrt(2 * (1 + 36 + 225) + 400);
/** Median of the length of a vector of three normal deviates, over the deviation of one. */
const CHI3_MEDIAN = 1.538;

/**
 * How much of a signal's sixth differences is there again so many samples on: 1 the same, −1 turned round. Those of white noise are correlated by −6/7
 * from one to the next and not at all seven samples on (binomial coefficients); those of a quick smooth motion change slowly, and those of what alternates
 * are the same again for ever.
 */
function againAfter(lag: number, differences: Float64Array, sizes: Float64Array, usual: number): number {
  // One frame out of place outweighs all others: no difference counts for more than three usual ones.
  const weight = (f: number): number => Math.min(1, (3 * usual) / Math.max(sizes[f]!, 1e-12));
  let [sum, own] = [0, 0];
  for (let f = 0; f + lag < sizes.length; f++) {
    const [a, b] = [weight(f), weight(f + lag)];
    for (let c = 4 * f; c < 4 * f + 4; c++) {
      const [here, later] = [a * differences[c]!, b * differences[c + 4 * lag]!];
      sum += here * later;
      own += here * here;
    }
  }
  return own > 0 ? sum / own : 0;
}

/**
 * How much the rotations tremble: the median over the joints that turn of the standard deviation about one axis, degrees. From sixth
 * differences, and by medians over time, so that neither a smooth motion nor a single frame out of place counts; nor does what repeats.
 */
export function jitterOf(motion: Motion): number {
  const { frames, rotations } = motion;
  const n = motion.joints.length;
  if (frames < JITTER_DEFAULTS.least) return 0;
  // A long recording is the same noise everywhere.
  const end = Math.min(frames - 6, 240);
  const each: number[] = [];
  const lags = lagsOf(motion.fps, end);
  /** Of each joint that seems to tremble, how much of it is there again after each lag. */
  const again: number[][] = [];
  const [q, sizes, differences] = [new Float64Array(4 * (end + 6)), new Float64Array(end), new Float64Array(4 * end)];
  for (let j = 0; j < n; j++) {
    if (!unwound(rotations, n, j, q)) continue;
    let turns = false;
    for (let f = 0; f < end; f++) {
      let sum = 0;
      for (let at = 4 * f; at < 4 * f + 4; at++) {
        // Sixth difference.
        const value =
          q[at]! + q[at + 24]! - 6 * (q[at + 4]! + q[at + 20]!) + 15 * (q[at + 8]! + q[at + 16]!) - 20 * q[at + 12]!;
        differences[at] = value;
        sum += value * value;
      }
      sizes[f] = (2 * DEGREES * Math.sqrt(sum)) / SIXTH_NORM / CHI3_MEDIAN;
      turns ||= sum > 1e-16;
    }
    if (!turns) continue;
    const usual = median(sizes);
    if (usual <= JITTER_DEFAULTS.from) each.push(usual);
    else {
      const after = (lag: number): number => againAfter(lag, differences, sizes, usual);
      const isNoise =
        after(1) < JITTER_DEFAULTS.turnsRound && Math.abs(after(JITTER_DEFAULTS.forgets)) < JITTER_DEFAULTS.repeats;
      each.push(isNoise ? usual : 0);
      if (isNoise) again.push(lags.map((lag) => Math.abs(after(lag))));
    }
  }
  // One joint that shakes is a fault of its own.
  if (each.length < JITTER_DEFAULTS.joints) return 0;
  // Noise says something of itself by chance, in each joint after another number of samples; what halts, halts in all at once.
  const repeats = lags.some((_, k) => again.length > 0 && median(again.map((own) => own[k]!)) >= JITTER_DEFAULTS.alike);
  return repeats ? 0 : median(each);
}

/** Numbers of samples after which most of what trembles is looked for again. */
function lagsOf(fps: number, samples: number): number[] {
  const { alikeFrom, alikeTo, alikeWithin } = JITTER_DEFAULTS;
  const to = Math.min(Math.max(alikeTo, alikeWithin * fps), Math.floor(samples / 2));
  const every = Math.max(1, Math.round(fps / 24));
  return Array.from({ length: Math.max(0, Math.floor((to - alikeFrom) / every) + 1) }, (_, k) => alikeFrom + k * every);
}

/** A joint's rotations one after the other, each in the half of the one before; false where the joint never turns. */
function unwound(rotations: Float64Array, n: number, joint: number, to: Float64Array): boolean {
  let turns = false;
  for (let f = 0; 4 * f < to.length; f++) {
    const at = 4 * (f * n + joint);
    const i = 4 * f;
    for (let c = 0; c < 4; c++) {
      to[i + c] = rotations[at + c]!;
      turns ||= to[i + c] !== to[c];
    }
    if (f > 0 && sameHalf(to, i - 4, i) < 0) for (let c = 0; c < 4; c++) to[i + c] = -to[i + c]!;
  }
  return turns;
}

/** A quaternion and its negative are one rotation: the sign that brings the one at `b` to the half of the one at `a`. */
function sameHalf(q: Float64Array, a: number, b: number): 1 | -1 {
  return q[a]! * q[b]! + q[a + 1]! * q[b + 1]! + q[a + 2]! * q[b + 2]! + q[a + 3]! * q[b + 3]! < 0 ? -1 : 1;
}

/**
 * The motion with every rotation and translation smoothed (Savitzky and Golay 1964), so that events are found in motion that trembles.
 * @param period samples after which the motion begins again, where it does
 */
export function steadied(motion: Motion, period?: number): Motion {
  const { half, order } = JITTER_DEFAULTS;
  const { frames } = motion;
  const n = motion.joints.length;
  const rotations = new Float64Array(motion.rotations.length);
  const translations = new Float64Array(motion.translations.length);
  const width = 3 * motion.moving.length;
  const weights = Array.from({ length: 2 * half + 1 }, (_, k) => savitzkyGolay(half, order, k - half));
  for (let f = 0; f < frames; f++) {
    const middle = period ? f : Math.min(frames - 1 - half, Math.max(half, f));
    const own = weights[f - middle + half]!;
    for (let j = 0; j < n; j++) {
      const to = 4 * (f * n + j);
      let size = 0;
      for (let c = 0; c < 4; c++) {
        let sum = 0;
        for (let k = -half; k <= half; k++) {
          const from = 4 * (sampleAt(middle + k, frames, period) * n + j);
          sum += own[k + half]! * sameHalf(motion.rotations, to, from) * motion.rotations[from + c]!;
        }
        rotations[to + c] = sum;
        size += sum * sum;
      }
      for (let c = 0; c < 4; c++) rotations[to + c]! /= Math.sqrt(size) || 1;
    }
    for (let c = 0; c < width; c++) {
      // Where a figure travels its way goes on over the seam: there only what is beside it is smoothed.
      const from = period ? Math.min(frames - 1 - half, Math.max(half, f)) : middle;
      const mine = weights[f - from + half]!;
      let sum = 0;
      for (let k = -half; k <= half; k++) sum += mine[k + half]! * motion.translations[(from + k) * width + c]!;
      translations[f * width + c] = sum;
    }
  }
  return { ...motion, rotations, translations };
}

const sampleAt = (i: number, frames: number, period: number | undefined): number =>
  period ? ((i % period) + period) % period : Math.min(frames - 1, Math.max(0, i));
