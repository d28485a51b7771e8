import { FIGURE_LEG } from './exemplar-figure.ts';
import { rollFoot } from './exemplar-pose.ts';
import { hermiteCurve, type Key, monotoneCurve, wrapUnit } from './curve.ts';
import { smoothStep } from '../signal/smooth-step.ts';

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
  /** Distance gone in a cycle, cm. */
  readonly cycleTravel: number;
  /** Slip forward of the planted foot, cm. */
  readonly slide: number;
  /** Sinking of the loaded foot, cm. */
  readonly depth: number;
}

/** How a foot goes through its own cycle, in shares of the cycle from its contact. */
export interface FootStyle {
  /** It leaves the ground. */
  readonly toeOff: number;
  /** Where it lands and stands ahead of the hips: its flat ankle at contact, as a share of what the ground travels in a cycle, and cm. */
  readonly reach: number;
  readonly behind: number;
  /** Pitch over the cycle, with its slopes at both ends. */
  readonly pitch: readonly Key[];
  readonly pitchSlopes: readonly [number, number];
  /** The foot is flat from here on, and the toes it lands on come down until then. */
  readonly flatFrom: number;
  /** Heights of the ankle in the air: share of the cycle, cm over where it left the ground (`over`) or over the ground. */
  readonly swing: readonly { readonly at: number; readonly up: number; readonly over?: 'toeOff' }[];
  readonly landing: number;
  /** The swinging ankle passes the planted one at this share, so many times as fast as the ground. */
  readonly passing: number;
  readonly passingSpeed: number;
}

/**
 * A walking foot: heel, flat, heel rises over the ball, toe off, toes pulled up, heel. It leaves the ground after about 60 % of the
 * cycle (Perry, *Gait Analysis*; from memory), and 2 % of toe contact.
 */
export const WALKING_FOOT: FootStyle = Object.freeze<FootStyle>({
  toeOff: 0.62,
  // A planted foot passes under the hips at a quarter of the cycle, its middle rather than its ankle.
  reach: 0.25,
  behind: 0.8,
  pitch: [
    [0, 20],
    [0.09, 0],
    [0.3, 0],
    [0.375, -9],
    [0.5, -30],
    [0.62, -60],
    [0.67, -62],
    [0.77, -20],
    [0.92, 16],
    [1, 20],
  ],
  pitchSlopes: [-330, 0],
  flatFrom: 0.09,
  swing: [
    { at: 0.7, up: 4.5, over: 'toeOff' },
    { at: 0.82, up: 15 },
    { at: 0.92, up: 11 },
  ],
  landing: -20,
  passing: 0.75,
  passingSpeed: 1.55,
});

/**
 * A running foot: it lands on its whole sole with the toes just up, carries for a third of the cycle, kicks up behind, and comes
 * through high (share of stance in running: about a third; Novacheck, *The biomechanics of running*, 1998; from memory).
 */
export const RUNNING_FOOT: FootStyle = Object.freeze<FootStyle>({
  toeOff: 0.35,
  reach: 0.165,
  behind: 3.5,
  pitch: [
    [0, 8],
    [0.06, 0],
    [0.16, 0],
    [0.22, -12],
    [0.35, -62],
    [0.45, -88],
    [0.62, -70],
    [0.82, -12],
    [0.93, 7],
    [1, 8],
  ],
  pitchSlopes: [-150, 0],
  flatFrom: 0.06,
  swing: [
    { at: 0.5, up: 27, over: 'toeOff' },
    { at: 0.65, up: 40 },
    { at: 0.82, up: 27 },
    { at: 0.93, up: 14 },
  ],
  landing: -60,
  passing: 0.66,
  passingSpeed: 1.05,
});

/**
 * The path of one foot over its own cycle, 0 at its contact. While it is planted the point it stands on (heel, sole, ball) travels
 * back at the speed of the ground; in the air the ankle follows a smooth curve that joins on to both ends.
 */
export function footPath(options: FootOptions, style: FootStyle): (phase: number) => FootPlace {
  const { cycleTravel } = options;
  const { toeOff, flatFrom } = style;
  const start = cycleTravel * style.reach - style.behind;
  const pitchAt = monotoneCurve(style.pitch, style.pitchSlopes);
  // Toes lie flat on the ground while the heel rises, and straighten in the air.
  const toesDown = monotoneCurve([
    [0, 0],
    [toeOff, 1],
    [toeOff + 0.18, 0],
    [1, 0],
  ]);
  const flatTo = style.pitch.findLast(([, value]) => value === 0)![0];

  const planted = (phase: number): { forward: number; up: number } => {
    const slip = options.slide * smoothStep((phase - flatFrom - 0.055) / (flatTo - flatFrom - 0.065));
    const sink = options.depth * smoothStep(phase / 0.1) * (1 - smoothStep((phase - 0.6 * flatTo) / 0.1));
    const roll = rollFoot(pitchAt(phase));
    return {
      forward: start - cycleTravel * phase + slip + roll.forward,
      up: FIGURE_LEG.ankle + roll.up - sink,
    };
  };

  const step = 1e-4;
  const off = planted(toeOff);
  const before = planted(toeOff - step);
  const land = planted(0);
  // Forward: the swinging ankle takes over its speed at toe off, passes the planted one, and lands while drawing back with half
  // the ground's speed.
  const swingForward = hermiteCurve([
    [toeOff, off.forward, (off.forward - before.forward) / step],
    [style.passing, start - cycleTravel * (style.passing - 0.5), style.passingSpeed * cycleTravel],
    [1, land.forward, -0.5 * cycleTravel],
  ]);
  const swingUp = monotoneCurve(
    [[toeOff, off.up], ...style.swing.map(({ at, up, over }): Key => [at, up + (over ? off.up : 0)]), [1, land.up]],
    [(off.up - before.up) / step, style.landing],
  );

  return (cyclePhase) => {
    const phase = wrapUnit(cyclePhase);
    const pitch = pitchAt(phase);
    const toeBend =
      Math.max(0, -pitch) * (phase <= toeOff ? 1 : toesDown(phase)) +
      (phase > 0.9 ? 6 : 0) * smoothStep((phase - 0.9) / 0.1);
    if (phase <= toeOff)
      return { ...planted(phase), pitch, toeBend: phase < flatFrom ? 6 * (1 - phase / flatFrom) : toeBend };
    return { forward: swingForward(phase), up: swingUp(phase), pitch, toeBend };
  };
}
