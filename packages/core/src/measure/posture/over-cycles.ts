import { GAITS } from '../../motion/kinds.ts';
import { loopPeriod } from '../../motion/loop.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { mean, rangeOf, smallestOf } from '../../signal/statistics.ts';
import { type GaitView, viewGait } from '../gait/gait-view.ts';
import { stepPoses } from '../gait/gait-timing.ts';
import { roundTo4 } from '../reading.ts';

/** Key poses of a step. */
export const STEP_POSES = ['contact', 'down', 'passing', 'up'] as const;
export type StepPose = (typeof STEP_POSES)[number];

/** Lowest and highest value of a signal and their labels; in a gait its values at the key poses, step by step. */
export interface Extremes {
  readonly lowest: number;
  readonly highest: number;
  readonly lowestAt: number;
  readonly highestAt: number;
  readonly poses?: Readonly<Partial<Record<StepPose, readonly number[]>>>;
}

/** What readings of how a body holds itself, and how much it does, have in common. */
export const OF_A_BODY = {
  unit: '°',
  mark: 'amount',
  thrownBy: { cutLoop: 'anywhere', strayFrame: true },
} as const;

/** A stretch of samples over which a size is told: a whole cycle, or the shot; `to` is its last sample and may lie past a loop's period. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** The walk in a shot that is one; undefined in every other kind, and where there is none to see. */
export function gaitOf(shot: PreparedShot): GaitView | undefined {
  if (!shot.kinds.some((kind) => GAITS.includes(kind)) || shot.exposures.blocking) return undefined;
  const view = viewGait(shot);
  return typeof view === 'string' ? undefined : view;
}

/** The stretches over which sizes are told: whole cycles of a gait, or all samples that count. */
export function stretchesOver(shot: PreparedShot): readonly Stretch[] {
  const cycles = gaitOf(shot)?.cycles ?? [];
  if (cycles.length > 0) return cycles.map(({ from, to }) => ({ from, to: to - 1 }));
  return [{ from: 0, to: loopPeriod(shot.loop, shot.motion.frames) - 1 }];
}

/** What a signal does over a shot: its mean and its size (highest less lowest), each of a whole cycle, and its extremes. */
export interface Sized {
  readonly mean: number;
  readonly size: number;
  /** The least of the cycles' sizes: what comes with every cycle. */
  readonly least: number;
  readonly extremes: Extremes;
}

/** Mean, size and extremes of a signal over whole cycles. */
export function sizedOver(shot: PreparedShot, signal: ArrayLike<number>): Sized {
  const samples = loopPeriod(shot.loop, shot.motion.frames);
  const at = (s: number): number => signal[shot.loop === 'none' ? s : ((s % samples) + samples) % samples]!;
  const label = (s: number): number => labelOf(shot, shot.loop === 'none' ? s : s % samples);
  const means: number[] = [];
  const sizes: number[] = [];
  let [low, high] = [
    { value: Infinity, s: 0 },
    { value: -Infinity, s: 0 },
  ];
  for (const { from, to } of stretchesOver(shot)) {
    let [least, most, sum] = [Infinity, -Infinity, 0];
    for (let s = from; s <= to; s++) {
      const value = at(s);
      sum += value;
      least = Math.min(least, value);
      most = Math.max(most, value);
      // Of values that are alike but for rounding the first.
      if (value < low.value - 1e-6) low = { value, s };
      if (value > high.value + 1e-6) high = { value, s };
    }
    means.push(sum / (to - from + 1));
    sizes.push(most - least);
  }
  const view = gaitOf(shot);
  const poses = view && posesOf(view, at);
  return {
    mean: mean(means),
    size: mean(sizes),
    least: smallestOf(sizes),
    extremes: {
      lowest: roundTo4(low.value),
      highest: roundTo4(high.value),
      lowestAt: label(low.s),
      highestAt: label(high.s),
      ...(poses && { poses }),
    },
  };
}

function posesOf(view: GaitView, at: (sample: number) => number): Extremes['poses'] {
  const samples = poseSamples(view);
  if (samples === undefined) return undefined;
  const values = (of: readonly number[]): number[] => {
    const list = new Array<number>(of.length);
    for (let k = 0; k < of.length; k++) list[k] = roundTo4(at(of[k]!));
    return list;
  };
  return {
    contact: values(samples.contact),
    down: values(samples.down),
    passing: values(samples.passing),
    up: values(samples.up),
  };
}

type PoseSamples = Readonly<Record<StepPose, readonly number[]>>;
const knownSamples = new WeakMap<GaitView, PoseSamples | 'none'>();

/** The samples of the key poses, step by step; undefined where there is no step. Worked out once a walk: every size asks for them. */
function poseSamples(view: GaitView): PoseSamples | undefined {
  const own = knownSamples.get(view) ?? samplesOfPoses(view);
  knownSamples.set(view, own);
  return own === 'none' ? undefined : own;
}

function samplesOfPoses(view: GaitView): PoseSamples | 'none' {
  const steps = stepPoses(view);
  if (steps.length === 0) return 'none';
  const within = (samples: readonly (number | undefined)[]): number[] =>
    samples.flatMap((s) => (s === undefined || (!view.wraps && s >= view.frames) ? [] : [view.index(s)]));
  return {
    contact: within(steps.map(({ from }) => from)),
    down: within(steps.map(({ down }) => down)),
    passing: within(steps.map(({ passing }) => passing)),
    up: within(steps.map(({ up }) => up)),
  };
}

/** An angle's signal without jumps of a whole turn. */
export function unwrapped(signal: Float64Array): Float64Array {
  const own = signal.slice();
  for (let s = 1; s < own.length; s++) own[s]! += 360 * Math.round((own[s - 1]! - own[s]!) / 360);
  // What goes round and round, or flips at its pole, has no size of this kind: as it is seen it is told.
  return rangeOf(own) > 360 ? signal : own;
}
