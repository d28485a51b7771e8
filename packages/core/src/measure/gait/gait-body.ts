import { GAITS } from '../../motion/kinds.ts';
import { framesIn, type PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, rangeOf, smallestOf } from '../../signal/statistics.ts';
import { length } from '../../motion/vector.ts';
import { footName, partName } from '../../say/part-names.ts';
import { after, atFrames, figures, ofLeg } from '../../say/words.ts';
import { correlation, lagBehind } from '../../signal/correlation.ts';
import { describeReading, holding, type ReadingKind } from '../describe.ts';
import { type Measured, type Reading, refuse, roundTo4, together, made } from '../reading.ts';
import { type FootSide, type GaitView, SIDES, signal, viewGait } from './gait-view.ts';

/** How one thing goes with another, in words. */
const goes = (value: number, withIt: string, against: string, neither: string): string =>
  value > 0.3 ? withIt : value < -0.3 ? against : neither;

const BOB = describeReading({
  id: 'gait.bob',
  holds: holding<number>(),
  name: 'up and down of the hips',
  unit: '%L',
  needs: 'hips and both feet, planted at some time',
  kinds: GAITS,
  mark: 'spacing',
  shows: 'hips',
  thrownBy: { strayFrame: true },
  say: ({ value }, _, told) =>
    `the hips go up and down by ${ofLeg(value)}${told?.side === 1 ? ', which is a lot' : told?.side === -1 ? ', which is hardly at all' : ''}`,
});
const OPPOSITION = describeReading({
  id: 'gait.opposition',
  holds: holding<number>(),
  name: 'arms against legs',
  sign: 'with the leg, −1 against it',
  unit: '–1…1',
  needs: 'hands and feet that swing',
  kinds: GAITS,
  mark: 'timing',
  region: 'arms and hands',
  explains: { 'mirror.off': 'always' },
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value, part }, _, told) =>
    `${partName(part)} ${told && told.judgement !== 'inside' && value < -0.3 ? 'does not swing in time' : 'swings'} ${goes(value, 'with', 'against', 'neither with nor against')} the leg of its side (${figures(value, 2)} of −1)`,
});
const SHIFT = describeReading({
  id: 'gait.shift',
  holds: holding<number, { amplitude: number }>(),
  name: 'hips over the carrying foot',
  sign: 'over the foot that carries',
  unit: '–1…1',
  needs: 'hips that move from side to side',
  kinds: GAITS,
  mark: 'spacing',
  shows: 'hips',
  unseen: 'depth',
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value, detail }) =>
    `the hips shift by ${ofLeg(detail.amplitude)}, ${goes(value, 'over the foot that carries', 'away from the foot that carries', 'not over the foot that carries')} (${figures(value, 2)} of 1)`,
});
const PELVIS = describeReading({
  id: 'gait.pelvis',
  holds: holding<number, { amplitude: number }>(),
  name: 'turn of the hips',
  sign: 'with the leading leg',
  unit: '–1…1',
  needs: 'hips that turn',
  kinds: GAITS,
  mark: 'timing',
  shows: 'hips',
  unseen: 'depth',
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value }) =>
    `the hips turn ${goes(value, 'with', 'against', 'neither with nor against')} the leading leg (${figures(value, 2)} of 1)`,
});
const COUNTER = describeReading({
  id: 'gait.counter',
  holds: holding<number, { lag: number }>(),
  name: 'chest against hips',
  sign: 'with the hips, −1 against them',
  unit: '–1…1',
  needs: 'hips and chest that turn',
  kinds: GAITS,
  mark: 'timing',
  shows: 'chest',
  unseen: 'depth',
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value, detail }) => {
    const how = goes(value, 'with', 'against', 'neither with nor against');
    const late = Math.round(detail.lag) === 0 ? 'at the same time' : after(detail.lag, 'them');
    return `the chest turns ${how} the hips${value < -0.3 ? `, ${late}` : ''} (${figures(value, 2)} of −1)`;
  },
});
const KNEE = describeReading({
  id: 'gait.knee',
  holds: holding<number, { straightest: number }>(),
  name: 'knee snap',
  explains: { 'cycle.jerk': 'always', 'stutter.frames': 'always' },
  unit: 'frames',
  needs: 'thigh, shin and foot',
  kinds: GAITS,
  mark: 'spacing',
  region: 'legs and feet',
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, part, frames, detail }) =>
    value === 0
      ? `the knee over ${footName(part)} never snaps; at its straightest it is ${figures(detail.straightest)}°`
      : `the knee over ${footName(part)} snaps straight${atFrames(frames)}`,
});

export const GAIT_BODY = [BOB, OPPOSITION, SHIFT, PELVIS, COUNTER, KNEE] as const;

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
  if (typeof view === 'string') return refuse(GAIT_BODY, view);
  return together(
    made(bob(view)),
    ...SIDES.map((side) => opposition(view, side)),
    shift(view),
    pelvis(view),
    counter(view),
    ...SIDES.map((side) => knee(view, side)),
  );
}

/** Of one cycle where there are several: a walk that goes down a slope or gets faster does not bob by that. */
function bob(view: GaitView): Reading {
  const heights = signal(view, view.hipsUp);
  const spans = view.cycles.length > 1 && !view.wraps ? view.cycles : [{ from: 0, to: view.frames - 1 }];
  const worst = spans
    .map(({ from, to }) => {
      const own = heights.subarray(from, to + 1);
      const [high, low] = [largestOf(own), smallestOf(own)];
      return { size: high - low, low: from + own.indexOf(low), high: from + own.indexOf(high) };
    })
    .reduce((a, b) => (b.size > a.size ? b : a));
  return BOB.of(roundTo4((100 * worst.size) / view.shot.scale.legLength), {
    frames: [view.label(worst.low), view.label(worst.high)],
  });
}

/** A correlation as a reading; unmade where one of the two does not move. */
function correlated<D extends object>(
  kind: ReadingKind<string, number, D>,
  part: string | undefined,
  a: Float64Array,
  b: Float64Array,
  still: string,
  detail?: D,
): Measured {
  const value = correlation(a, b);
  if (Number.isNaN(value)) return refuse([kind], still, part);
  return made(kind.of(roundTo4(value), { ...(part !== undefined && { part }), ...(detail && { detail }) }));
}

function opposition(view: GaitView, side: FootSide): Measured {
  const { roles } = view.shot;
  const part = `arm.${side}`;
  const hand = roles[`hand.${side}`] ?? roles[`foreArm.${side}`];
  if (hand === undefined) return refuse([OPPOSITION], 'the hand is not known; set the roles', part);
  const ahead = (joint: number) => signal(view, (s) => view.forward(joint, s) - view.forward(roles.hips!, s));
  const swing = ahead(hand);
  if (rangeOf(swing) < (BODY_DEFAULTS.swings / 100) * view.shot.scale.legLength)
    return refuse([OPPOSITION], 'the arm does not swing', part);
  return correlated(OPPOSITION, part, swing, ahead(roles[`foot.${side}`]!), 'the hand or the foot does not move');
}

/** +1 while the left foot alone carries, −1 while the right alone does, 0 while both or none do. */
function carrying(view: GaitView): Float64Array {
  const weight = new Float64Array(view.frames);
  for (const { side, at, until } of view.landings) {
    for (let s = at; s <= until; s++) {
      const k = view.index(s);
      if (k < view.frames) weight[k]! += side === 'L' ? 1 : -1;
    }
  }
  return weight;
}

function shift(view: GaitView): Measured {
  const { roles, scale } = view.shot;
  const feet = (s: number): number => (view.left(roles['foot.L']!, s) + view.left(roles['foot.R']!, s)) / 2;
  const onTheSpot = length(view.contacts.groundVelocity) > 0;
  const aside = signal(view, (s) => view.left(roles.hips!, s) - (onTheSpot ? 0 : feet(s)));
  const amplitude = (100 * rangeOf(aside)) / 2 / scale.legLength;
  if (amplitude < 0.05) return refuse([SHIFT], 'the hips do not move from side to side');
  return correlated(SHIFT, undefined, aside, carrying(view), 'no foot carries alone', {
    amplitude: roundTo4(amplitude),
  });
}

/** Degrees under which something does not turn. */
const TURNS = 0.2;

function pelvis(view: GaitView): Measured {
  const { roles } = view.shot;
  // A pelvis turned to the right has its left side in front.
  const turn = signal(view, (s) => -view.turn(roles.hips!, s));
  const leading = signal(view, (s) => view.forward(roles['foot.L']!, s) - view.forward(roles['foot.R']!, s));
  const amplitude = rangeOf(turn) / 2;
  if (amplitude < TURNS) return refuse([PELVIS], 'the hips do not turn');
  return correlated(PELVIS, undefined, turn, leading, 'the feet do not move', { amplitude: roundTo4(amplitude) });
}

function counter(view: GaitView): Measured {
  const { roles, fps } = view.shot;
  const chest = roles.chest ?? roles.spine;
  if (chest === undefined) return refuse([COUNTER], 'the chest is not known; set the roles');
  const hips = signal(view, (s) => view.turn(roles.hips!, s));
  const turn = signal(view, (s) => view.turn(chest, s));
  if (Math.min(rangeOf(hips), rangeOf(turn)) < 2 * TURNS) return refuse([COUNTER], 'the chest or the hips do not turn');
  const reach = Math.round(BODY_DEFAULTS.counterReach * (fps / 24));
  // The chest is compared with the hips turned the other way, so that a lag is a delay and not half a cycle.
  const { lag } = lagBehind(
    hips.map((value) => -value),
    turn,
    reach,
    view.wraps ? view.frames : undefined,
  );
  return correlated(COUNTER, undefined, hips, turn, 'the chest or the hips do not turn', {
    lag: roundTo4(framesIn(view.shot, lag)),
  });
}

/** `gait.knee`: frames at which a nearly straight knee bends or straightens suddenly. */
function knee(view: GaitView, side: FootSide): Measured {
  const { roles, fps } = view.shot;
  const part = `leg.${side}`;
  const [thigh, shin, foot] = [roles[`thigh.${side}`], roles[`shin.${side}`], roles[`foot.${side}`]];
  if (thigh === undefined || shin === undefined || foot === undefined)
    return refuse([KNEE], 'the knee is not known; set the roles', part);
  const vector = (from: number, to: number, s: number): [number, number, number] => {
    return [
      view.forward(to, s) - view.forward(from, s),
      view.up(to, s) - view.up(from, s),
      view.left(to, s) - view.left(from, s),
    ];
  };
  const angles = signal(view, (s) => {
    const u = vector(shin, thigh, s);
    const v = vector(shin, foot, s);
    const cosine = (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / (length(u) * length(v));
    return (Math.acos(Math.max(-1, Math.min(1, cosine))) * 180) / Math.PI;
  });
  if (!angles.every(Number.isFinite)) return refuse([KNEE], 'the leg has no length', part);
  const limit = BODY_DEFAULTS.popBend * (24 / fps) ** 2;
  const n = view.frames;
  const pops: number[] = [];
  for (let s = view.wraps ? 0 : 1; s < (view.wraps ? n : n - 1); s++) {
    const bend = angles[(s + 1) % n]! - 2 * angles[s]! + angles[(s + n - 1) % n]!;
    if (angles[s]! > BODY_DEFAULTS.straightKnee && Math.abs(bend) > limit) pops.push(view.label(s));
  }
  return made(
    KNEE.of(pops.length, {
      part,
      ...(pops.length > 0 && { frames: pops }),
      detail: { straightest: roundTo4(largestOf(angles)) },
    }),
  );
}
