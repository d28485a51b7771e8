import type { Motion } from '../motion/motion.ts';
import { exemplarMotion } from './exemplar-pose.ts';
import { monotoneCurve, wrapUnit } from './curve.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { poseStanding } from './standing.ts';

/** How the idle is made. Frames are the shot's own, angles degrees. */
export interface IdleOptions {
  /** Frames of the loop. */
  readonly length: number;
  readonly fps: number;
  /** `repeat`: one frame more than the loop, equal to the first. */
  readonly loop: 'repeat' | 'follow';
  /** Breaths in the loop, and in over out. */
  readonly breaths: number;
  readonly ratio: number;
  /** Lean back of the chest as it fills. */
  readonly depth: number;
  /** Shift of the weight from foot to foot, cm each way. */
  readonly sway: number;
}

/**
 * Waiting on the pier on a cold morning. Calm breathing: in 20 frames, out 15, 1 to 2 degrees of lean (common practice); three breaths
 * fill the loop, in slower than out.
 */
export const IDLE_DEFAULTS: IdleOptions = Object.freeze({
  length: 96,
  fps: 24,
  loop: 'repeat',
  breaths: 3,
  ratio: 4 / 3,
  depth: 1.8,
  sway: 2.2,
});

/** What can be wrong with an idle. */
export interface IdleFaults {
  /** So many breaths more in the same time. */
  readonly panting?: number;
  /** 1: in is as much faster than out as it should be slower. */
  readonly gasping?: number;
  /** Nothing moves for so many frames. */
  readonly freeze?: number;
  /** The trunk has turned by so many degrees when the loop ends, and jumps back. */
  readonly seam?: number;
  /** 1: the first pose is there once more at the end. */
  readonly doubledFrame?: number;
  /** The right forearm is off by so many degrees for one frame. */
  readonly pop?: number;
}

export const IDLE_FAULTS = [
  'panting',
  'gasping',
  'freeze',
  'seam',
  'doubledFrame',
  'pop',
] as const satisfies readonly (keyof IdleFaults)[];

const TAU = 2 * Math.PI;

/**
 * An idle loop: breathing, a slow shift of weight, a head that drifts: several parts alive, each in its own time.
 * @param changes what differs from {@link IDLE_DEFAULTS}
 * @throws RangeError for a loop too short to breathe in
 */
export function idleExemplar(changes: Partial<IdleOptions> = {}, faults: IdleFaults = {}): Motion {
  const options = { ...IDLE_DEFAULTS, ...changes };
  const period = options.length;
  const breaths = Math.round(options.breaths + (faults.panting ?? 0));
  if (!Number.isInteger(period) || !(period >= 8 * breaths) || breaths < 1)
    throw new RangeError('length: it needs a whole number of frames, 8 or more a breath');
  const ratio = options.ratio ** (1 - 2 * (faults.gasping ?? 0));
  const filled = ratio / (1 + ratio);
  const breath = monotoneCurve([
    [0, 0],
    [filled, 1],
    [1, 0],
  ]);
  const frames = period + (options.loop === 'repeat' ? 1 : 0) + (faults.doubledFrame ? 1 : 0);
  const freezeFrom = Math.round(0.4 * period);
  return exemplarMotion(frames, options.fps, (f) => {
    let at = f >= period ? (options.loop === 'repeat' && f === period ? 1 : 0) : f / period;
    if (faults.freeze && f >= freezeFrom && f < freezeFrom + faults.freeze) at = freezeFrom / period;
    // A move that begins and ends at rest would read as a hold: each part swings in its own time.
    const wave = (times: number, shift: number): number => Math.sin(TAU * (times * at + shift));
    const air = (late: number): number => breath(wrapUnit(at * breaths - late));
    const turned = (faults.seam ?? 0) * smoothStep(at) ** 0.5 * at;
    const sway = options.sway * wave(1, 0);
    const pop = f === Math.round(period / 3) ? (faults.pop ?? 0) : 0;
    const arm = (side: 'L' | 'R', shift: number) => ({
      ahead: 2 + 0.9 * wave(1, shift) + 0.5 * air(0.1),
      out: 4 + 0.6 * air(0.06),
      bend: 20 + 1.4 * wave(2, shift - 0.1) + (side === 'R' ? pop : 0),
      wrist: 8 + wave(2, shift - 0.2),
      shrug: 1.2 * air(0.04),
    });
    return poseStanding({
      hipsAt: [sway, 0.25 * wave(2, 0.1) - 0.4, 0.5 * wave(1, 0.3)],
      hips: { turn: 0.8 * wave(1, 0.1), tilt: 0.5 * sway },
      chest: { turn: 1.2 * wave(1, 0) + turned, bend: 4 - options.depth * air(0), tilt: -0.35 * sway },
      head: {
        turn: 3 * wave(1, -0.1) + turned,
        bend: 5 + 0.8 * wave(2, 0.2) - 0.4 * air(0.08),
        tilt: 0.6 * wave(1, 0.4),
      },
      arms: { L: arm('L', 0.05), R: arm('R', 0.3) },
      hang: (late) => -2 + 0.7 * Math.sin(TAU * (at - late / period)),
    });
  });
}
