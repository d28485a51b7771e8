import type { FigureAxes, UpAxis } from './axes.ts';
import { type Exposures, framesOf } from './exposures.ts';
import type { FigureScale } from './figure-scale.ts';
import type { Kind } from './kinds.ts';
import { type Loop, loopPeriod } from './loop.ts';
import { type Motion, withoutFirst } from './motion.ts';
import type { WorldPose } from './pose.ts';
import type { PlannedPose } from '../trade/planned-pose.ts';
import type { Roles } from './role.ts';

export { type Kind, KINDS } from './kinds.ts';

export interface ShotOptions {
  readonly kind?: Kind;
  /** Other kinds that it is as well: a walk that looks and stops. */
  readonly alsoKinds?: readonly Kind[];
  /** Label of the first sample; default 1. */
  readonly firstFrame?: number;
  readonly loop?: Loop | 'auto';
  /** Frames a second, when the file's own rate is to be overruled. */
  readonly fps?: number;
  readonly metresPerUnit?: number;
  /** L, when the rest pose does not tell it: of points that were followed on pictures. */
  readonly legLength?: number;
  /** Which of a file's animations it is: its name, or its number, the longest being 1. Default: the longest. */
  readonly animation?: string;
  /** Which of a file's figures it is, by its name. Default: the one with the most joints. */
  readonly figure?: string;
  /** Corrections of the guessed roles: role → joint name, or null for none. */
  readonly roles?: Readonly<Record<string, string | null>>;
  /** What the figure stands on: `flat`, or `steps`, each foot at its own height. Default: found out from where the feet come to lie. */
  readonly ground?: Ground | 'auto';
  /** How high flat ground lies along up, in the file's own units. Default: found out from where the feet come down. */
  readonly groundHeight?: number;
  /** Joints that the brief says are still. */
  readonly still?: readonly string[];
  /** The axis that is up, where somebody has put it right. */
  readonly up?: UpAxis | 'auto';
  /** It was made of points on pictures. */
  readonly isFlat?: boolean;
  /** Each of those points has a turn of its own: it is a layer of a puppet. */
  readonly hasTurns?: boolean;
  /** The joints at the top of two groups (two characters) that should not act at once. */
  readonly groups?: readonly string[];
  /** Poses that are planned, and when. */
  readonly plan?: readonly PlannedPose[];
  /** The sound that goes with it: the label at which it begins, and the seconds behind that at which something begins to sound. */
  readonly sound?: { readonly first: number; readonly onsets: readonly number[] };
  /** Where pairs of points on pictures close. */
  readonly closings?: readonly PairCloses[];
}

export type Ground = 'flat' | 'steps';

/** A time that two points come together, such as those of an eye or a mouth. */
export interface PairCloses {
  /** Both names. */
  readonly pair: readonly [string, string];
  /** Label at which it begins. */
  readonly label: number;
}

/**
 * A motion with its figure worked out: exposures folded, trembling smoothed, world placement, roles, axes, scale. Feet, headings and travel are found by
 * it. Counted in *samples*.
 */
export interface PosedFigure {
  /** What is measured: one sample an exposure, and smoothed where the file trembles. */
  readonly motion: Motion;
  readonly world: WorldPose;
  readonly exposures: Exposures;
  /** Standard deviation of what was smoothed away, degrees; 0 where nothing was. */
  readonly jitter: number;
  readonly kind: Kind;
  /** Every kind whose readings are wanted: `kind` first. */
  readonly kinds: readonly Kind[];
  /** Samples a second of what is measured. */
  readonly fps: number;
  readonly firstFrame: number;
  /** How it goes on behind its last sample. */
  readonly loop: Loop;
  readonly roles: Roles;
  readonly fourLegs: boolean;
  /** It was made of points on pictures, and shows what lies in their plane. */
  readonly isFlat: boolean;
  /** How each joint is turned is known as well: of points on pictures only where they are layers of a puppet. */
  readonly hasTurns: boolean;
  readonly axes: FigureAxes;
  readonly scale: FigureScale;
  readonly ground: Ground | 'auto';
  /** Undefined where it is found out. */
  readonly groundHeight: number | undefined;
}

/** A shot with all that every measure needs worked out once. Measures take this and never change it; {@link labelOf} and {@link framesIn} lead out of samples. */
export interface PreparedShot extends PosedFigure {
  /** What is measured before it was smoothed: one frame out of place is looked for here. */
  readonly unsmoothed: Motion;
  /** The motion as it is in the file, every frame of it, for showing it; the same object where nothing was folded or smoothed. */
  readonly played: { readonly motion: Motion; readonly world: WorldPose };
  /** The loop habit as it was given or found, for telling; `loop` is how it is measured. */
  readonly habit: Loop;
  /** A pose stands on both sides of the seam: the first is there once more than the habit has it. It is measured without. */
  readonly seamDoubled: boolean;
  /** The habit was neither given nor found: somebody walking on the spot is taken to be meant as a loop. */
  readonly loopAssumed: boolean;
  /** T in samples; the number of samples where there is no loop. */
  readonly period: number;
  /** How many times the same cycle is there within the loop; 1 where there is no loop. */
  readonly cycles: number;
  readonly still: readonly string[];
  readonly groups: readonly string[];
  readonly plan: readonly PlannedPose[];
  /** Labels at which something begins to sound; parts of a frame count. */
  readonly onsets: readonly number[];
  readonly closings: readonly PairCloses[];
  readonly warnings: readonly string[];
}

/** The shot as it is in the file, for showing it: every frame a sample, nothing folded and nothing smoothed. */
export function asPlayed(shot: PreparedShot): PreparedShot {
  const { motion, world } = shot.played;
  if (motion === shot.motion) return shot;
  const starts = Array.from({ length: motion.frames }, (_, f) => f);
  return {
    ...shot,
    motion,
    world,
    unsmoothed: motion,
    fps: motion.fps,
    period: loopPeriod(shot.loop, motion.frames),
    exposures: { ...shot.exposures, stride: 1, starts },
  };
}

/**
 * The shot as it is in the file without a rest pose in front: what is looked at, and what a loop goes round in. Every frame keeps its label.
 *
 * @param shot every frame a sample, as `asPlayed` gives it
 */
export function withoutRestInFront(shot: PreparedShot): PreparedShot {
  const { exposures, motion, world } = shot;
  const { front } = exposures;
  if (front === 0) return shot;
  const frames = motion.frames - front;
  const n = motion.joints.length;
  const own = withoutFirst(motion, front);
  const placed = { positions: world.positions.slice(3 * n * front), rotations: world.rotations.slice(4 * n * front) };
  return {
    ...shot,
    motion: own,
    world: placed,
    unsmoothed: own,
    played: { motion: own, world: placed },
    firstFrame: shot.firstFrame + front,
    period: loopPeriod(shot.loop, frames),
    exposures: {
      ...exposures,
      front: 0,
      starts: Array.from({ length: frames }, (_, f) => f),
      held: exposures.held.map(({ from, to, extra }) => ({ from: from - front, to: to - front, extra })),
    },
  };
}

/** Label of a sample; between samples, and beyond the last, by the shot's own pace. */
export function labelOf(shot: Pick<PreparedShot, 'firstFrame' | 'exposures'>, sample: number): number {
  const { starts, stride } = shot.exposures;
  const last = starts.length - 1;
  if (sample <= 0) return shot.firstFrame + (starts[0] ?? 0) + sample * stride;
  if (sample >= last) return shot.firstFrame + (starts[last] ?? 0) + Math.round((sample - last) * stride);
  const low = Math.floor(sample);
  const from = starts[low]!;
  return shot.firstFrame + from + (sample - low) * (starts[low + 1]! - from);
}

/** A length of time in samples as one in frames of the file. */
export const framesIn = (shot: Pick<PreparedShot, 'exposures'>, samples: number): number =>
  samples * shot.exposures.stride;

/** The sample that shows a label: the one of the exposure it lies in. Outside the shot a number outside its samples. */
export function sampleAt(shot: Pick<PreparedShot, 'firstFrame' | 'exposures'>, label: number): number {
  const at = label - shot.firstFrame;
  const { starts } = shot.exposures;
  if (at < 0) return at;
  const frames = framesOf(shot.exposures);
  if (at >= frames) return starts.length - 1 + (at - frames + 1);
  if (starts.length === frames) return at;
  let low = 0;
  let high = starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (starts[middle]! <= at) low = middle;
    else high = middle - 1;
  }
  return low;
}
