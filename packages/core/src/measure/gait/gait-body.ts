import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, smallestOf, rangeOf } from '../../motion/vector.ts';
import { type GaitView, SIDES, signal, viewGait } from './gait-view.ts';
import { type Measured, type Reading, tidy, type Unmade } from '../reading.ts';
import { correlation, lagBehind } from '../../signal/correlation.ts';

export const GAIT_BODY_IDS = [
  'gait.bob',
  'gait.opposition',
  'gait.shift',
  'gait.pelvis',
  'gait.counter',
  'gait.knee',
] as const;

export const BODY_DEFAULTS = Object.freeze({
  /** A knee straighter than this (degrees) … */
  straightKnee: 168,
  /** … whose angle bends by more than this, degrees a frame² at 24 fps, pops. */
  popBend: 12,
  /** A hand that goes less far forward and back against the hips does not swing, %L. */
  swings: 6,
  /** Farthest the chest may lag behind the hips, frames at 24 fps. */
  counterReach: 12,
});

/** What the body does over the feet: bob, shift, turn, counter-turn, arms against legs, and knees that snap. */
export function measureGaitBody(shot: PreparedShot): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return { readings: [], unmade: GAIT_BODY_IDS.map((id) => ({ id, why: view })) };
  const results = [
    bob(view),
    ...SIDES.map((side) => opposition(view, side)),
    shift(view),
    pelvis(view),
    counter(view),
    ...SIDES.map((side) => knee(view, side)),
  ];
  return {
    readings: results.filter((result): result is Reading => 'value' in result),
    unmade: results.filter((result): result is Unmade => 'why' in result),
  };
}

type Result = Reading | Unmade;

function bob(view: GaitView): Reading {
  const heights = signal(view, view.hipsUp);
  const [high, low] = [largestOf(heights), smallestOf(heights)];
  return {
    id: 'gait.bob',
    value: tidy((100 * (high - low)) / view.shot.scale.legLength),
    unit: '%L',
    frames: [view.label(heights.indexOf(low)), view.label(heights.indexOf(high))],
  };
}

/** A correlation as a reading; unmade where one of the two does not move. */
const correlated = (
  id: string,
  part: string | undefined,
  a: Float64Array,
  b: Float64Array,
  still: string,
  detail?: Record<string, unknown>,
): Result => {
  const value = correlation(a, b);
  const where = part === undefined ? {} : { part };
  if (Number.isNaN(value)) return { id, ...where, why: still };
  return { id, ...where, value: tidy(value), unit: '–1…1', ...(detail && { detail }) };
};

function opposition(view: GaitView, side: 'L' | 'R'): Result {
  const { roles } = view.shot;
  const hand = roles[`hand.${side}`] ?? roles[`foreArm.${side}`];
  if (hand === undefined)
    return { id: 'gait.opposition', part: `arm.${side}`, why: 'the hand is not known; set the roles' };
  const ahead = (joint: number) =>
    signal(view, (s) => view.place(joint, s).forward - view.place(roles.hips!, s).forward);
  const swing = ahead(hand);
  if (rangeOf(swing) < (BODY_DEFAULTS.swings / 100) * view.shot.scale.legLength)
    return { id: 'gait.opposition', part: `arm.${side}`, why: 'the arm does not swing' };
  return correlated(
    'gait.opposition',
    `arm.${side}`,
    swing,
    ahead(roles[`foot.${side}`]!),
    'the hand or the foot does not move',
  );
}

/** +1 while the left foot alone carries, −1 while the right alone does, 0 while both or none do. */
function carrying(view: GaitView): Float64Array {
  const weight = new Float64Array(view.frames);
  for (const { side, at, until } of view.landings) {
    for (let s = at; s <= until; s++) {
      const k = view.wraps ? s % view.frames : s;
      if (k < view.frames) weight[k]! += side === 'L' ? 1 : -1;
    }
  }
  return weight;
}

function shift(view: GaitView): Result {
  const { roles, scale } = view.shot;
  const feet = (s: number): number => (view.place(roles['foot.L']!, s).left + view.place(roles['foot.R']!, s).left) / 2;
  const aside = signal(
    view,
    (s) => view.place(roles.hips!, s).left - (Math.hypot(...view.contacts.belt) > 0 ? 0 : feet(s)),
  );
  const amplitude = (100 * rangeOf(aside)) / 2 / scale.legLength;
  return correlated('gait.shift', undefined, aside, carrying(view), 'the hips do not move from side to side', {
    amplitude: tidy(amplitude),
  });
}

function pelvis(view: GaitView): Result {
  const { roles } = view.shot;
  // A pelvis turned to the right has its left side in front.
  const turn = signal(view, (s) => -view.turn(roles.hips!, s));
  const leading = signal(
    view,
    (s) => view.place(roles['foot.L']!, s).forward - view.place(roles['foot.R']!, s).forward,
  );
  const amplitude = rangeOf(turn) / 2;
  return correlated('gait.pelvis', undefined, turn, leading, 'the hips do not turn', { amplitude: tidy(amplitude) });
}

function counter(view: GaitView): Result {
  const { roles, fps } = view.shot;
  const chest = roles.chest ?? roles.spine;
  if (chest === undefined) return { id: 'gait.counter', why: 'the chest is not known; set the roles' };
  const hips = signal(view, (s) => view.turn(roles.hips!, s));
  const turn = signal(view, (s) => view.turn(chest, s));
  const reach = Math.round(BODY_DEFAULTS.counterReach * (fps / 24));
  // The chest is compared with the hips turned the other way, so that a lag is a delay and not half a cycle.
  const { lag } = lagBehind(
    hips.map((value) => -value),
    turn,
    reach,
    view.wraps ? view.frames : undefined,
  );
  return correlated('gait.counter', undefined, hips, turn, 'the chest or the hips do not turn', { lag: tidy(lag) });
}

/** `gait.knee`: frames at which a nearly straight knee bends or straightens suddenly. */
function knee(view: GaitView, side: 'L' | 'R'): Result {
  const { roles, fps } = view.shot;
  const part = `leg.${side}`;
  const [thigh, shin, foot] = [roles[`thigh.${side}`], roles[`shin.${side}`], roles[`foot.${side}`]];
  if (thigh === undefined || shin === undefined || foot === undefined)
    return { id: 'gait.knee', part, why: 'the knee is not known; set the roles' };
  const vector = (from: number, to: number, s: number): [number, number, number] => {
    const [a, b] = [view.place(from, s), view.place(to, s)];
    return [b.forward - a.forward, b.up - a.up, b.left - a.left];
  };
  const angles = signal(view, (s) => {
    const u = vector(shin, thigh, s);
    const v = vector(shin, foot, s);
    const cosine = (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / (Math.hypot(...u) * Math.hypot(...v));
    return (Math.acos(Math.max(-1, Math.min(1, cosine))) * 180) / Math.PI;
  });
  if (!angles.every(Number.isFinite)) return { id: 'gait.knee', part, why: 'the leg has no length' };
  const limit = BODY_DEFAULTS.popBend * (24 / fps) ** 2;
  const n = view.frames;
  const pops: number[] = [];
  for (let s = view.wraps ? 0 : 1; s < (view.wraps ? n : n - 1); s++) {
    const bend = angles[(s + 1) % n]! - 2 * angles[s]! + angles[(s + n - 1) % n]!;
    if (angles[s]! > BODY_DEFAULTS.straightKnee && Math.abs(bend) > limit) pops.push(view.label(s));
  }
  return {
    id: 'gait.knee',
    part,
    value: pops.length,
    unit: 'frames',
    ...(pops.length > 0 && { frames: pops }),
    detail: { straightest: tidy(largestOf(angles)) },
  };
}
