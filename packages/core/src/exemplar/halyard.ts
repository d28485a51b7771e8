import type { Joint, Motion } from '../motion/motion.ts';
import { axisAngle, compose, type Quat, rotateX } from '../motion/quaternion.ts';
import type { Vec3 } from '../motion/vector.ts';
import { motionOf } from './exemplar-pose.ts';
import { hermiteCurve } from './curve.ts';
import { smoothStep } from '../signal/smooth-step.ts';

/** How the drill is made. Frames at 24 fps, angles degrees. */
export interface HalyardOptions {
  readonly length: number;
  readonly fps: number;
  /** Swing of the mast. */
  readonly swing: number;
  /** Pennants on the rope. */
  readonly pennants: number;
  /** Delay of each joint behind the one before it. */
  readonly delay: number;
  /** How far each joint swings, against the one before it. */
  readonly gain: number;
  /** ζ of the swinging-out once the mast has stopped, and its period. */
  readonly damping: number;
  readonly period: number;
}

/** A mast that swings and stops, with a rope of pennants behind it. Two frames a joint on ones (common practice). */
export const HALYARD_DEFAULTS: HalyardOptions = Object.freeze({
  length: 48,
  fps: 24,
  swing: 16,
  pennants: 4,
  delay: 2,
  gain: 0.9,
  damping: 0.28,
  period: 13,
});

/** What can be wrong with the drill. */
export interface HalyardFaults {
  /** 1: the rope moves with the mast as one piece. */
  readonly noDelay?: number;
  /** Each joint is so many frames later still. */
  readonly lateChain?: number;
  /** 1: the rope stops when the mast stops, with no swinging-out. */
  readonly stopsDead?: number;
  /** The deck under the mast is moved by so many percent of half the rig's height. */
  readonly stray?: number;
  /** One joint in the rope is off by so many degrees for one frame. */
  readonly pop?: number;
}

export const HALYARD_FAULTS = [
  'noDelay',
  'lateChain',
  'stopsDead',
  'stray',
  'pop',
] as const satisfies readonly (keyof HalyardFaults)[];

const MAST = 180;
const LINK = 32;

/** The rig: a deck that stays where it is (the master), a mast on it, and a rope of pennants from its top. */
function halyardJoints(pennants: number): Joint[] {
  const joints: Joint[] = [
    { name: 'master', parent: -1, offset: [0, 0, 0], ends: [] },
    { name: 'mast', parent: 0, offset: [0, 10, 0], ends: [] },
  ];
  for (let k = 0; k < pennants; k++)
    joints.push({
      name: `pennant${k + 1}`,
      parent: k + 1,
      offset: k === 0 ? [0, MAST, 0] : [0, 0, -LINK],
      ends: k === pennants - 1 ? [[0, 0, -LINK]] : [],
    });
  return joints;
}

/**
 * The overlap drill: the mast swings over and stops; every joint of the rope makes the same move later, and swings out.
 * @param changes what differs from {@link HALYARD_DEFAULTS}
 * @throws RangeError for a rope of no or too many pennants, or a shot too short
 */
export function halyardExemplar(changes: Partial<HalyardOptions> = {}, faults: HalyardFaults = {}): Motion {
  const options = { ...HALYARD_DEFAULTS, ...changes };
  const { pennants, fps } = options;
  if (!(Number.isInteger(pennants) && pennants >= 1 && pennants <= 24))
    throw new RangeError('pennants: expected a whole number from 1 to 24');
  if (!(options.length * (24 / fps) >= 36)) throw new RangeError('length: the swing does not fit into the shot');
  const delay = (options.delay + (faults.lateChain ?? 0)) * (1 - (faults.noDelay ?? 0));
  const [ζ, ω] = [options.damping, (2 * Math.PI) / options.period];
  const ringing = ω * Math.sqrt(1 - ζ * ζ);
  const stop = 13;
  const past = 0.24 * (1 - (faults.stopsDead ?? 0));
  // A small move the other way, the swing, and from its end on each joint swings out about its rest, as a second-order system does.
  const base = hermiteCurve([
    [2, 0, 0],
    [5.5, -0.12, 0],
    [stop, 1, past * ringing],
  ]);
  const s = (t: number): number =>
    t < stop ? base(t) : 1 + past * Math.exp(-ζ * ω * (t - stop)) * Math.sin(ringing * (t - stop));
  const joints = halyardJoints(pennants);
  const half = (MAST + 10) / 2;
  return motionOf(joints, options.length, fps, (f) => {
    const t = f * (24 / fps);
    const pose: Record<string, Quat> = { mast: rotateX(options.swing * s(t)) };
    for (let k = 1; k <= pennants; k++) {
      const pop = k === Math.min(2, pennants) && f === Math.round(42 * (fps / 24)) ? (faults.pop ?? 0) : 0;
      const angle = options.swing * options.gain ** k * s(t - k * delay);
      // The rope hangs down from the mast's top and streams behind.
      const hang: Quat = k === 1 ? axisAngle([1, 0, 0], -62) : [0, 0, 0, 1];
      pose[`pennant${k}`] = compose(rotateX(angle + pop), hang);
    }
    const drift = ((faults.stray ?? 0) / 100) * half * smoothStep((t - 6) / 20);
    const place: Vec3 = [0, 0, drift];
    return { pose, place };
  });
}
