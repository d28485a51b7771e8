import { COURIER_LEG } from './courier.ts';
import { hermiteCurve, monotoneCurve, smoothStep, wrapUnit } from './curve.ts';

/** A foot in the plane it walks in: where its ankle is (forward, up; cm), how it is pitched and how its toes are bent (degrees). */
export interface FootPlace {
  readonly forward: number;
  readonly up: number;
  /** Positive: toes up. */
  readonly pitch: number;
  /** Positive: toes bent up against the foot. */
  readonly toeBend: number;
}

export interface FootOptions {
  /** Distance walked in a cycle, cm. */
  readonly cycleTravel: number;
  /** Slip forward of the planted foot, cm. */
  readonly slide: number;
  /** Sinking of the loaded foot, cm. */
  readonly depth: number;
}

/** Share of the cycle after which a foot leaves the ground: about 60 % (Perry, *Gait Analysis*; from memory), and 2 % of toe contact. */
export const TOE_OFF = 0.62;

/** Share of the cycle at which the swinging ankle passes the planted one. */
const PASSING = 0.75;

/** Pitch over a foot's own cycle from its contact: heel, flat, heel rises over the ball, toe off, toes pulled up, heel. */
const PITCH = monotoneCurve(
  [
    [0, 20],
    [0.075, 0],
    [0.3, 0],
    [0.375, -9],
    [0.5, -30],
    [TOE_OFF, -60],
    [0.68, -64],
    [0.8, -22],
    [0.92, 16],
    [1, 20],
  ],
  [-420, 0],
);

/** Toes lie flat on the ground while the heel rises, and straighten in the air. */
const TOES_DOWN = monotoneCurve([
  [0, 0],
  [TOE_OFF, 1],
  [0.8, 0],
  [1, 0],
]);

const RADIANS = Math.PI / 180;

/**
 * The path of one foot over its own cycle, 0 at its contact. While it is planted the point it stands on (heel, sole, ball) travels
 * back at the speed of the ground; in the air the ankle follows a smooth curve that joins on to both ends.
 */
export function footPath(options: FootOptions): (phase: number) => FootPlace {
  const { ankle, ballDown, ballForward, heelBack } = COURIER_LEG;
  const ballHeight = ankle - ballDown;
  // A planted foot passes under the hips at a quarter of the cycle, its middle rather than its ankle.
  const start = options.cycleTravel * 0.25 - 3.5;

  const planted = (phase: number): { forward: number; up: number } => {
    const pitch = PITCH(phase) * RADIANS;
    const sole = start - options.cycleTravel * phase + options.slide * smoothStep((phase - 0.13) / 0.16);
    const sink = options.depth * smoothStep(phase / 0.1) * (1 - smoothStep((phase - 0.18) / 0.1));
    const s = Math.sin(pitch);
    const c = Math.cos(pitch);
    if (pitch >= 0) {
      return { forward: sole - heelBack + heelBack * c - ankle * s, up: ankle * c + heelBack * s - sink };
    }
    return {
      forward: sole + ballForward - ballForward * c - ballDown * s,
      up: ballHeight + ballDown * c - ballForward * s - sink,
    };
  };

  const step = 1e-4;
  const off = planted(TOE_OFF);
  const before = planted(TOE_OFF - step);
  const land = planted(0);
  // Forward: the swinging ankle takes over its speed at toe off, passes the planted one in the middle of the cycle's half, and
  // lands while drawing back with half the ground's speed.
  const swingForward = hermiteCurve([
    [TOE_OFF, off.forward, (off.forward - before.forward) / step],
    [PASSING, start - options.cycleTravel * (PASSING - 0.5), 1.55 * options.cycleTravel],
    [1, land.forward, -0.5 * options.cycleTravel],
  ]);
  const swingUp = monotoneCurve(
    [
      [TOE_OFF, off.up],
      [0.7, off.up + 4],
      [0.82, 14.5],
      [0.92, 11],
      [1, land.up],
    ],
    [(off.up - before.up) / step, -20],
  );

  return (cyclePhase) => {
    const phase = wrapUnit(cyclePhase);
    const pitch = PITCH(phase);
    const toeBend =
      Math.max(0, -pitch) * (phase <= TOE_OFF ? 1 : TOES_DOWN(phase)) +
      (phase > 0.9 ? 6 : 0) * smoothStep((phase - 0.9) / 0.1);
    if (phase <= TOE_OFF)
      return { ...planted(phase), pitch, toeBend: phase < 0.075 ? 6 * (1 - phase / 0.075) : toeBend };
    return { forward: swingForward(phase), up: swingUp(phase), pitch, toeBend };
  };
}
