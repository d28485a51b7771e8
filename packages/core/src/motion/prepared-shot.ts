import { type FigureAxes, figureAxes } from './axes.ts';
import { type FigureScale, figureScale } from './figure-scale.ts';
import { cyclesWithin, detectLoop, type Loop, loopPeriod } from './loop.ts';
import type { Motion } from './motion.ts';
import { type WorldPose, worldPose } from './pose.ts';
import { guessRoles, type Roles, sideWarnings } from './roles.ts';

/** Kinds of exercise. Only those that can loop have a loop looked for. */
export const KINDS = ['walk', 'run', 'jump', 'take', 'turn', 'overlap', 'idle', 'any'] as const;
export type Kind = (typeof KINDS)[number];
const CAN_LOOP: readonly Kind[] = ['walk', 'run', 'idle', 'overlap', 'any'];

export interface ShotOptions {
  readonly kind?: Kind;
  /** Label of the first sample; default 1. */
  readonly firstFrame?: number;
  readonly loop?: Loop | 'auto';
  /** Frames a second, when the file's own rate is to be overruled. */
  readonly fps?: number;
  readonly metresPerUnit?: number;
  /** Corrections of the guessed roles: role → joint name, or null for none. */
  readonly roles?: Readonly<Record<string, string | null>>;
  /** What the figure stands on: `flat`, or `steps`, each foot at its own height. Default: found out from where the feet come to lie. */
  readonly ground?: Ground | 'auto';
  /** Joints that the brief says are still. */
  readonly still?: readonly string[];
  /** The joints at the top of two groups (two characters) that should not act at once. */
  readonly groups?: readonly string[];
}

export type Ground = 'flat' | 'steps';

/**
 * A motion with all that every measure needs worked out once: world placement, roles, axes, scale, loop. Measures take this and
 * never change it.
 */
export interface PreparedShot {
  readonly motion: Motion;
  readonly world: WorldPose;
  readonly kind: Kind;
  readonly fps: number;
  readonly firstFrame: number;
  readonly loop: Loop;
  /** T; the number of samples where there is no loop. */
  readonly period: number;
  /** How many times the same cycle is there within the loop; 1 where there is no loop. */
  readonly cycles: number;
  readonly roles: Roles;
  readonly axes: FigureAxes;
  readonly scale: FigureScale;
  readonly ground: Ground | 'auto';
  readonly still: readonly string[];
  readonly groups: readonly string[];
  readonly warnings: readonly string[];
}

/** Works out what measures share. Never fails: what can't be told from the motion is left out of `roles` and warned of. */
export function prepareShot(motion: Motion, options: ShotOptions = {}): PreparedShot {
  const kind = options.kind ?? 'any';
  const guessed = guessRoles(motion.joints, options.roles);
  const axes = figureAxes(motion.joints, guessed.roles);
  const auto = options.loop === undefined || options.loop === 'auto';
  const loop = !auto ? (options.loop as Loop) : CAN_LOOP.includes(kind) ? detectLoop(motion) : 'none';
  const usable = loopPeriod(loop, motion.frames) >= 2 ? loop : 'none';
  const period = loopPeriod(usable, motion.frames);
  return {
    motion,
    world: worldPose(motion),
    kind,
    fps: options.fps ?? motion.fps,
    firstFrame: options.firstFrame ?? 1,
    loop: usable,
    period,
    cycles: usable === 'none' ? 1 : cyclesWithin(motion, period),
    roles: guessed.roles,
    axes,
    scale: figureScale(motion.joints, guessed.roles, options.metresPerUnit),
    ground: options.ground ?? 'auto',
    still: options.still ?? [],
    groups: options.groups ?? [],
    warnings: [...guessed.warnings, ...sideWarnings(motion.joints, guessed.roles, axes.left)],
  };
}

/** Label of a sample. */
export const labelOf = (shot: Pick<PreparedShot, 'firstFrame'>, sample: number): number => shot.firstFrame + sample;
