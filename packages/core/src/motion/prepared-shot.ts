import { type FigureAxes, figureAxes } from './axes.ts';
import { type Exposures, findExposures, samplesOf } from './exposures.ts';
import { footfallsClose } from './feet/footfalls.ts';
import { type FigureScale, figureScale } from './figure-scale.ts';
import { GAITS, type Kind, LOOPING } from './kinds.ts';
import { closes, cyclesWithin, detectLoop, type Loop, loopPeriod } from './loop.ts';
import type { Motion } from './motion.ts';
import { type WorldPose, worldPose } from './pose.ts';
import { poseSteps } from './pose-distance.ts';
import { guessRoles, type Roles, sideWarnings } from './roles.ts';
import { staysOnTheSpot } from './travel.ts';
import { steadied, JITTER_DEFAULTS, jitterOf } from './jitter.ts';
import { median } from './vector.ts';

export { type Kind, KINDS } from './kinds.ts';

export interface ShotOptions {
  readonly kind?: Kind;
  /** Label of the first sample; default 1. */
  readonly firstFrame?: number;
  readonly loop?: Loop | 'auto';
  /** Frames a second, when the file's own rate is to be overruled. */
  readonly fps?: number;
  readonly metresPerUnit?: number;
  /** L, when the rest pose does not tell it: of points that were followed on pictures. */
  readonly legLength?: number;
  /** Corrections of the guessed roles: role → joint name, or null for none. */
  readonly roles?: Readonly<Record<string, string | null>>;
  /** What the figure stands on: `flat`, or `steps`, each foot at its own height. Default: found out from where the feet come to lie. */
  readonly ground?: Ground | 'auto';
  /** How high flat ground lies along up, in the file's own units. Default: found out from where the feet come down. */
  readonly groundHeight?: number;
  /** Joints that the brief says are still. */
  readonly still?: readonly string[];
  /** The joints at the top of two groups (two characters) that should not act at once. */
  readonly groups?: readonly string[];
}

export type Ground = 'flat' | 'steps';

/**
 * A motion with all that every measure needs worked out once: exposures folded, trembling smoothed, world placement, roles, axes, scale,
 * loop. Measures take this and never change it. Everything in it is counted in *samples*; {@link labelOf} and {@link framesIn} lead out.
 */
export interface PreparedShot {
  /** What is measured: one sample an exposure, and smoothed where the file trembles. */
  readonly motion: Motion;
  readonly world: WorldPose;
  /** What is measured before it was smoothed: one frame out of place is looked for here. */
  readonly unsmoothed: Motion;
  /** The motion as it is in the file, every frame of it, for showing it; the same object where nothing was folded or smoothed. */
  readonly played: { readonly motion: Motion; readonly world: WorldPose };
  readonly exposures: Exposures;
  /** Standard deviation of what was smoothed away, degrees; 0 where nothing was. */
  readonly jitter: number;
  readonly kind: Kind;
  /** Samples a second of what is measured. */
  readonly fps: number;
  readonly firstFrame: number;
  readonly loop: Loop;
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
  readonly roles: Roles;
  readonly fourLegs: boolean;
  readonly axes: FigureAxes;
  readonly scale: FigureScale;
  readonly ground: Ground | 'auto';
  /** Undefined where it is found out. */
  readonly groundHeight: number | undefined;
  readonly still: readonly string[];
  readonly groups: readonly string[];
  readonly warnings: readonly string[];
}

/** Works out what measures share. Never fails: what can't be told from the motion is left out of `roles` and warned of. */
export function prepareShot(file: Motion, options: ShotOptions = {}): PreparedShot {
  const kind = options.kind ?? 'any';
  const guessed = guessRoles(file.joints, options.roles);
  const { roles, fourLegs } = guessed;
  const scale = figureScale(file.joints, roles, options.metresPerUnit, options.legLength);
  const warnings = [...guessed.warnings];
  const timed = options.fps === undefined ? file : { ...file, fps: options.fps };
  if (Math.abs(timed.fps - file.fps) > 0.01)
    warnings.push(`the file runs at ${rate(file.fps)} frames a second; it is taken at ${rate(timed.fps)}`);
  const exposures = findExposures(timed, kind, scale.legLength);
  const isFolded = exposures.starts.length !== timed.frames;
  const folded = isFolded ? samplesOf(timed, exposures.starts, exposures.stride) : timed;
  const habit = loopHabit(folded, kind, options.loop, exposures, roles);
  const jitter = exposures.blocking ? 0 : jitterOf(folded);
  const trembles = jitter > JITTER_DEFAULTS.from;
  const motion = trembles
    ? steadied(folded, habit.loop === 'none' ? undefined : loopPeriod(habit.loop, folded.frames))
    : folded;
  if (trembles)
    warnings.push(
      `every joint trembles by about ${jitter.toFixed(1)}° from frame to frame: the motion was smoothed before it was measured`,
    );
  const world = worldPose(motion);
  const axes = figureAxes(motion.joints, roles, { ...world, frames: motion.frames }, fourLegs);
  if (!axes.upKnown)
    warnings.push('the rest pose does not say which way is up: the axis along which the feet are lowest was taken');
  warnings.push(...sideWarnings(motion.joints, roles, axes.left));
  const asOne: PreparedShot = {
    motion,
    world,
    roles,
    axes,
    scale,
    unsmoothed: folded,
    played: motion === timed ? { motion, world } : lazily(timed),
    exposures,
    jitter: trembles ? jitter : 0,
    kind,
    fps: motion.fps,
    firstFrame: options.firstFrame ?? 1,
    loop: 'none',
    habit: 'none',
    seamDoubled: false,
    loopAssumed: false,
    period: motion.frames,
    cycles: 1,
    fourLegs,
    ground: options.ground ?? 'auto',
    groundHeight: options.groundHeight,
    still: options.still ?? [],
    groups: options.groups ?? [],
    warnings,
  };
  return asLoop(asOne, habit);
}

const rate = (fps: number): string => String(Number(fps.toFixed(3)));

/** The shot with its loop: as it was given, or as it was found and its footfalls do not deny; a walk on the spot is meant as one. */
function asLoop(shot: PreparedShot, { loop: found, open, given }: LoopHabit): PreparedShot {
  const { motion, exposures, unsmoothed } = shot;
  const walks = !exposures.blocking && !shot.fourLegs && shot.roles.hips !== undefined;
  const denied = (loop: Loop): boolean =>
    walks && GAITS.includes(shot.kind) && footfallsClose(shot, loopPeriod(loop, motion.frames)) === false;
  const own = given || found === 'none' || !denied(found) ? found : 'none';
  const loopAssumed = own === 'none' && open && staysOnTheSpot(shot) && !restsAtAnEnd(motion) && !denied('follow');
  const habit = loopAssumed ? 'follow' : own;
  const comesBack = habit !== 'none' && !exposures.blocking && motion.frames > 3 && closes(unsmoothed);
  const doubledBehind = comesBack && habit === 'repeat' && exposures.tail === 1;
  const doubledOver = comesBack && habit === 'follow';
  const loop = doubledOver ? 'repeat' : habit;
  const period = loopPeriod(loop, motion.frames);
  return {
    ...shot,
    loop,
    habit,
    seamDoubled: doubledBehind || doubledOver,
    loopAssumed,
    period,
    cycles: loop === 'none' ? 1 : cyclesWithin(motion, period),
  };
}

/** The world placement of the file's own frames, worked out when it is first asked for: only who shows the shot needs it. */
function lazily(motion: Motion): PreparedShot['played'] {
  let world: WorldPose | undefined;
  return {
    motion,
    get world() {
      return (world ??= worldPose(motion));
    },
  };
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

/** Frames of a loop shorter than this, at 24 fps, are taken for a cycle on the spot that was cut. */
const SHORT_LOOP = 120;

interface LoopHabit {
  readonly loop: Loop;
  readonly given: boolean;
  /** Nothing was found, and a walk on the spot may still be meant as one. */
  readonly open: boolean;
}

/** The loop habit as it is given, or as the poses at both ends have it. */
function loopHabit(
  motion: Motion,
  kind: Kind,
  wanted: ShotOptions['loop'],
  { blocking }: Exposures,
  roles: Roles,
): LoopHabit {
  const usable = (loop: Loop): Loop => (loopPeriod(loop, motion.frames) >= 2 ? loop : 'none');
  if (wanted !== undefined && wanted !== 'auto') return { loop: usable(wanted), given: true, open: false };
  if (!LOOPING.includes(kind)) return { loop: 'none', given: false, open: false };
  const found = blocking ? (closes(motion) ? 'repeat' : 'none') : detectLoop(motion, legJoints(roles, kind));
  const walks = kind === 'walk' || kind === 'run';
  const short = motion.frames >= 8 && motion.frames <= SHORT_LOOP * (motion.fps / 24);
  return { loop: usable(found), given: false, open: walks && short };
}

/** What carries a walk: whether it comes back to its first pose is told by these, whatever the arms do. */
const legJoints = (roles: Roles, kind: Kind): number[] =>
  kind !== 'walk' && kind !== 'run'
    ? []
    : (['hips', 'master', 'thigh.L', 'thigh.R', 'shin.L', 'shin.R', 'foot.L', 'foot.R'] as const).flatMap(
        (role) => roles[role] ?? [],
      );

/** A pose that changes by less than this share of its usual step rests. */
const RESTS = 0.25;

/** Whether the motion has come to rest at one of its ends: then it is a walk that starts or stops, no cycle. */
function restsAtAnEnd(motion: Motion): boolean {
  const steps = poseSteps(motion);
  const usual = median(steps);
  return [0, steps.length - 2].some((f) => Math.max(steps[f]!, steps[f + 1]!) < RESTS * usual);
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
  const { starts, lengths } = shot.exposures;
  if (at < 0) return at;
  const frames = lengths.reduce((sum, length) => sum + length, 0);
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
