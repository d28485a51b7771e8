import type { Motion } from '../motion/motion.ts';
import { exemplarMotion } from './exemplar-pose.ts';
import { monotoneCurve } from './curve.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { alive, poseStanding } from './standing.ts';

/** How the lean is made. Frames at 24 fps, angles degrees. */
export interface LeanOptions {
  readonly length: number;
  readonly fps: number;
  /** Largest lean forward. */
  readonly lean: number;
  /** The move the other way before it. */
  readonly anticipation: number;
  /** What is left of the largest lean once the body has settled, percent. */
  readonly settle: number;
  /** Delay of each part behind the one below: hips, spine, chest, head. */
  readonly delay: number;
}

/**
 * Leaning over the pier's rail to look down: 20 degrees, 4 to 5 the other way before it, settled to between 60 and 90 percent of the peak,
 * two frames a joint (common practice).
 */
export const LEAN_DEFAULTS: LeanOptions = Object.freeze({
  length: 56,
  fps: 24,
  lean: 20,
  anticipation: 4.5,
  settle: 82,
  delay: 2,
});

/** What can be wrong with a lean. */
export interface LeanFaults {
  /** 1: hips, spine, chest and head lean at the same time. */
  readonly noDelay?: number;
  /** 1: no move the other way before it. */
  readonly noAnticipation?: number;
  /** 1: it stops at its end, with no way past it and back. */
  readonly noOvershoot?: number;
  /** 1: the hold behind it is a freeze. */
  readonly deadHold?: number;
  /** The hold behind it drifts by so many percent of the lean. */
  readonly creep?: number;
}

export const LEAN_FAULTS = [
  'noDelay',
  'noAnticipation',
  'noOvershoot',
  'deadHold',
  'creep',
] as const satisfies readonly (keyof LeanFaults)[];

/**
 * A lean forward that starts at the hips, goes up the spine and ends at the head.
 * @param changes what differs from {@link LEAN_DEFAULTS}
 * @throws RangeError when it does not fit into the shot
 */
export function leanExemplar(changes: Partial<LeanOptions> = {}, faults: LeanFaults = {}): Motion {
  const options = { ...LEAN_DEFAULTS, ...changes };
  const own = options.length * (24 / options.fps);
  const delay = options.delay * (1 - (faults.noDelay ?? 0));
  if (!(own >= 44 + 3 * options.delay)) throw new RangeError('length: the lean does not fit into the shot');
  const back = (options.anticipation / options.lean) * (1 - (faults.noAnticipation ?? 0));
  const rest = options.settle / 100;
  const peak = rest + (1 - rest) * (1 - (faults.noOvershoot ?? 0));
  const drift = 0.02 + (faults.creep ?? 0) / 100;
  const shape = monotoneCurve([
    [8, 0],
    [13, -back],
    [21, peak],
    [28, rest],
    [own, rest * (1 + drift)],
  ]);
  const s = (t: number): number => (t < 8 ? 0 : shape(t));
  // Of the whole lean the hips make 30 percent, spine and chest as much, the head the rest.
  return exemplarMotion(options.length, options.fps, (f) => {
    // A freeze: time stands still once the body has settled.
    const now = f * (24 / options.fps);
    const t = faults.deadHold ? Math.min(now, 28 + 3 * delay) : now;
    const part = (k: number): number => options.lean * s(t - k * delay);
    const life = smoothStep(t / 4);
    const hips = 0.3 * part(0);
    const chest = hips + 0.3 * part(1) + 0.3 * part(2) + 0.12 * life * alive(t, 40);
    const arm = (late: number, shift: number) => ({
      ahead: 2 + 0.55 * options.lean * s(t - 3 * delay - late) + 0.2 * life * alive(t, 44, shift),
      out: 4,
      bend: 20 + 0.5 * options.lean * s(t - 4 * delay - late) + 0.25 * life * alive(t, 44, shift),
      wrist: 8 + 0.2 * options.lean * s(t - 5 * delay - late),
    });
    return poseStanding({
      hipsAt: [0, -0.06 * Math.abs(hips), -0.5 * hips],
      hips: { bend: hips },
      chest: { bend: chest },
      head: { bend: chest + 0.1 * part(3) + 0.1 * life * alive(t, 36, 0.1) },
      arms: { L: arm(0, 0), R: arm(1, 0.15) },
      hang: (late) => -0.6 * options.lean * s(t - (1.5 + 0.5 * late) * delay),
    });
  });
}
