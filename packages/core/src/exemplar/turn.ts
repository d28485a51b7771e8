import type { Motion } from '../motion/motion.ts';
import { exemplarMotion } from './exemplar-pose.ts';
import { monotoneCurve } from './curve.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { alive, poseStanding } from './standing.ts';

/** How the head turns are made. Frames at 24 fps, angles degrees. */
export interface TurnOptions {
  readonly length: number;
  readonly fps: number;
  /** Turn to the left, then as far to the right. */
  readonly turn: number;
  /** Frames a turn takes, and the rest before it, between the two and after. */
  readonly turnFrames: number;
  readonly holdFrames: number;
  /** How far the chin dips in the middle of a turn. */
  readonly dip: number;
  /** Drift of the hold, percent of the turn before it. */
  readonly drift: number;
}

/** The harbour pilot listening left, then right. A head turn takes about 8 frames, the hold between about 12 (common practice). */
export const TURN_DEFAULTS: TurnOptions = Object.freeze({
  length: 64,
  fps: 24,
  turn: 38,
  turnFrames: 9,
  holdFrames: 14,
  dip: 11,
  drift: 3,
});

/** What can be wrong with the head turns. */
export interface TurnFaults {
  /** 1: nothing at all moves in the holds. */
  readonly deadHold?: number;
  /** The head drifts on by so many percent more of its turn. */
  readonly creep?: number;
  /** So many frames of the hold between the turns are missing. */
  readonly shortHold?: number;
  /** 1: the head turns on a straight line. */
  readonly noDip?: number;
  /** Each turn takes so many frames more. */
  readonly slowTurn?: number;
  /** The head is off by so many degrees for one frame. */
  readonly pop?: number;
}

export const TURN_FAULTS = [
  'deadHold',
  'creep',
  'shortHold',
  'noDip',
  'slowTurn',
  'pop',
] as const satisfies readonly (keyof TurnFaults)[];

/**
 * A head turn to the left, a moving hold, a turn to the right, and a moving hold. The chin dips on the way; the chest follows the head a
 * little, later.
 *
 * @param changes what differs from {@link TURN_DEFAULTS}
 * @throws RangeError when the turns and holds do not fit into the shot
 */
export function turnExemplar(changes: Partial<TurnOptions> = {}, faults: TurnFaults = {}): Motion {
  const options = { ...TURN_DEFAULTS, ...changes };
  const turning = options.turnFrames + (faults.slowTurn ?? 0);
  const hold = options.holdFrames - (faults.shortHold ?? 0);
  const own = options.length * (24 / options.fps);
  const first = 8;
  const second = first + turning + hold;
  if (!(turning >= 2 && hold >= 0 && own >= second + turning + 6))
    throw new RangeError('length: the turns and holds do not fit into the shot');
  const drift = ((options.drift + (faults.creep ?? 0)) / 100) * options.turn * (1 - (faults.deadHold ?? 0));
  const yaw = monotoneCurve([
    [0, 0],
    [first, 0.01],
    [first + turning, options.turn],
    [second, options.turn + drift],
    [second + turning, -options.turn],
    [own, -options.turn - 2 * drift],
  ]);
  const within = (t: number, from: number): number =>
    Math.sin(Math.PI * Math.min(1, Math.max(0, (t - from) / turning))) ** 2;
  const dip = options.dip * (1 - (faults.noDip ?? 0));
  const breath = 1 - (faults.deadHold ?? 0);
  return exemplarMotion(options.length, options.fps, (f) => {
    const t = f * (24 / options.fps);
    // The chest goes with the head by a quarter, two frames later, the hips by a tenth.
    const chest = 0.25 * yaw(t - 2);
    const hips = 0.1 * yaw(t - 3);
    const life = breath * smoothStep(t / 4);
    const nod = 3 + dip * (within(t, first) + within(t, second));
    const pop = f === Math.round((first + turning + 0.5 * hold) * (options.fps / 24)) ? (faults.pop ?? 0) : 0;
    const arm = (side: 'L' | 'R', shift: number) => ({
      ahead: 2 + (side === 'L' ? -0.12 : 0.12) * chest + 0.25 * life * alive(t, 44, shift),
      out: 4,
      bend: 20 + 0.4 * life * alive(t, 44, shift - 0.06),
      wrist: 8,
    });
    return poseStanding({
      hipsAt: [0.08 * hips, -0.2 * (within(t, first) + within(t, second)), 0],
      hips: { turn: hips },
      chest: { turn: chest, bend: 3 + 0.25 * life * alive(t, 40) },
      head: { turn: yaw(t), bend: nod + pop, tilt: 0.06 * yaw(t) },
      arms: { L: arm('L', 0), R: arm('R', 0.12) },
      hang: (late) => -2 + 0.12 * yaw(t - 2 - late),
    });
  });
}
