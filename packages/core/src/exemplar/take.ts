import type { Motion } from '../motion/motion.ts';
import { exemplarMotion, LEG } from './exemplar-pose.ts';
import { type Key, monotoneCurve } from './curve.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { alive, poseStanding } from './standing.ts';

/** How the take is made. Frames at 24 fps, angles degrees, lengths percent of leg length. */
export interface TakeOptions {
  readonly length: number;
  readonly fps: number;
  /** 2: a double take: look, look away, look again. 1: the take alone. */
  readonly looks: number;
  /** Frames a look is held before the take. */
  readonly lookFrames: number;
  /** How far the head goes down before the accent, and up on it. */
  readonly anticipation: number;
  readonly accent: number;
  /** Frames the accent is held. */
  readonly accentFrames: number;
}

/** The lighthouse keeper startled by the foghorn. Around a dozen frames make a look read (common practice). */
export const TAKE_DEFAULTS: TakeOptions = Object.freeze({
  length: 72,
  fps: 24,
  looks: 2,
  lookFrames: 11,
  anticipation: 15,
  accent: 7,
  accentFrames: 12,
});

/** What can be wrong with a take. */
export interface TakeFaults {
  /** So many frames of the first look are missing. */
  readonly shortLook?: number;
  /** 1: no anticipation before the accent. */
  readonly noAnticipation?: number;
  /** 1: the body does not stretch on the accent. */
  readonly noAccent?: number;
  /** So many frames of the accent's hold are missing. */
  readonly shortAccent?: number;
  /** 1: the accent is held as a freeze. */
  readonly deadHold?: number;
  /** 1: every part starts on the same frame. */
  readonly allTogether?: number;
  /** 1: both arms do the same. */
  readonly twinArms?: number;
  /** The right forearm is off by so many degrees for one frame. */
  readonly pop?: number;
}

export const TAKE_FAULTS = [
  'shortLook',
  'noAnticipation',
  'noAccent',
  'shortAccent',
  'deadHold',
  'allTogether',
  'twinArms',
  'pop',
] as const satisfies readonly (keyof TakeFaults)[];

/** Where the horn is, and where the head looks away to: degrees to the left. */
const HORN = 36;
const AWAY = -22;

/**
 * A take: neutral, anticipation (down, squash), accent (up, stretch), held, settle; as a double take the keeper looks at the horn, looks
 * away, and looks again.
 *
 * @param changes what differs from {@link TAKE_DEFAULTS}
 * @throws RangeError when it does not fit into the shot
 */
export function takeExemplar(changes: Partial<TakeOptions> = {}, faults: TakeFaults = {}): Motion {
  const options = { ...TAKE_DEFAULTS, ...changes };
  const own = options.length * (24 / options.fps);
  const first = options.lookFrames - (faults.shortLook ?? 0);
  const double = options.looks >= 2;
  const looking: Key[] = double
    ? [
        [6, 0],
        [12, HORN],
        [12 + first, HORN + 0.8],
        [18 + first, AWAY],
        [18 + first + options.lookFrames, AWAY - 0.8],
      ]
    : [[8, 0]];
  const start = looking.at(-1)![0];
  const low = start + 5;
  const high = low + 5;
  const held = high + 2 + options.accentFrames - (faults.shortAccent ?? 0);
  if (!(own >= held + 6)) throw new RangeError('length: the take does not fit into the shot');
  const yaw = monotoneCurve([
    ...looking,
    [low, AWAY * (double ? 0.6 : 0)],
    [high, HORN],
    [held, HORN + 0.8],
    [held + 6, HORN - 4],
  ]);
  const down = -options.anticipation * (1 - (faults.noAnticipation ?? 0));
  const up = options.accent * (1 - (faults.noAccent ?? 0));
  // Down, up with a little overshoot, held with a drift, and back to rest.
  const stretch = monotoneCurve([
    [start, 0],
    [low, down],
    [high, up * 1.08],
    [high + 3, up],
    [held, up * 0.96],
    [held + 6, 0],
  ]);
  const spread = 1 - (faults.allTogether ?? 0);
  const frozen = faults.deadHold ?? 0;
  const twin = faults.twinArms ?? 0;
  return exemplarMotion(options.length, options.fps, (f) => {
    const now = f * (24 / options.fps);
    // A freeze: time stands still between the accent and its end.
    const t = frozen > 0 && now > high + 3 && now < held ? high + 3 : now;
    const s = (delay: number): number => stretch(t - delay * spread);
    const life = smoothStep(t / 4);
    const pop = f === Math.round(8 * (options.fps / 24)) ? (faults.pop ?? 0) : 0;
    const arm = (side: 'L' | 'R') => {
      const late = side === 'L' ? 1.5 : 1.5 + 1.5 * (1 - twin) * spread;
      const less = side === 'L' ? 1 : 1 - 0.35 * (1 - twin);
      const drift = side === 'L' || twin > 0 ? alive(t, 42) : alive(t, 36, 0.2);
      return {
        ahead: 2 + less * (1.6 * Math.max(0, s(late)) + 1.2 * Math.max(0, -s(late))) + 0.4 * life * drift,
        out: 4 + less * 4 * Math.max(0, s(late + 0.5)),
        bend: 22 + less * (5 * Math.max(0, s(late + 1)) + 1.6 * Math.max(0, -s(late + 1))) + (side === 'R' ? pop : 0),
        wrist: 8 + less * 2.4 * s(late + 2),
        shrug: 1.2 * Math.max(0, s(late)),
      };
    };
    const lifted = Math.max(0, s(0));
    return poseStanding({
      hipsAt: [0, (LEG / 100) * (s(0) < 0 ? 0.75 * s(0) : 0.85 * s(0)), 0.2 * Math.min(0, s(0))],
      hips: { turn: 0.15 * yaw(t - 3 * spread), bend: -0.5 * Math.min(0, s(0)) },
      chest: { turn: 0.35 * yaw(t - 2 * spread), bend: 3 - 1.3 * s(1) + 0.3 * life * alive(t, 38) },
      head: { turn: yaw(t), bend: 4 - 1.1 * s(2) + 0.5 * Math.abs(yaw(t - 1) - yaw(t + 1)), tilt: 0.05 * yaw(t) },
      heels: 3.2 * lifted,
      arms: { L: arm('L'), R: arm('R') },
      hang: (late) => -2 + 0.9 * s(1 + late),
    });
  });
}
