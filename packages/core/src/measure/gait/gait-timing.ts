import { GAITS } from '../../motion/kinds.ts';
import { framesIn, type PreparedShot } from '../../motion/prepared-shot.ts';
import { mean } from '../../signal/statistics.ts';
import { after, atFrames, frames, percent } from '../../say/words.ts';
import { footName } from '../../say/part-names.ts';
import { argmax } from '../../signal/runs.ts';
import { describeReading, type DetailNumber, holding } from '../describe.ts';
import { type Measured, type Reading, refuse, type Span, roundTo4, type Unmade } from '../reading.ts';
import { findSteps, type FootSide, type GaitView, opposite, SIDES, type Step, viewGait } from './gait-view.ts';

const FEET = 'hips and both feet, planted at some time';
const STEP = 'one foot that lands after the other';

const UNEVENNESS: DetailNumber = {
  name: 'difference between the sides',
  unit: '%',
  say: ({ detail }) =>
    `the steps of one side take ${percent((detail as { unevenness: number }).unevenness)} longer than the other’s`,
};

export const CONTACT = describeReading({
  id: 'gait.contact',
  about: 'feet and ground',
  holds: holding<number, Span>(),
  name: 'contact',
  unit: 'frames',
  isLabel: true,
  needs: FEET,
  kinds: GAITS,
  mark: 'timing',
  region: 'legs and feet',
  keyPose: 'contact',
  say: ({ value, part }) => `${footName(part)} lands at frame ${Math.round(value)}`,
});
export const DOWN = describeReading({
  id: 'gait.down',
  holds: holding<number>(),
  name: 'down',
  unit: 'frames',
  isLabel: true,
  needs: STEP,
  kinds: GAITS,
  mark: 'timing',
  shows: 'hips',
  keyPose: 'down',
  say: ({ value, part }) => `after ${footName(part)} lands the hips are lowest at frame ${Math.round(value)}`,
});
export const PASSING = describeReading({
  id: 'gait.passing',
  holds: holding<number>(),
  name: 'passing',
  unit: 'frames',
  isLabel: true,
  needs: STEP,
  kinds: GAITS,
  mark: 'timing',
  region: 'legs and feet',
  keyPose: 'passing',
  say: ({ value, part }) => `the free foot passes ${footName(part)} at frame ${Math.round(value)}`,
});
export const UP = describeReading({
  id: 'gait.up',
  holds: holding<number>(),
  name: 'up',
  unit: 'frames',
  isLabel: true,
  needs: STEP,
  kinds: GAITS,
  mark: 'timing',
  shows: 'hips',
  keyPose: 'up',
  say: ({ value, part }) => `over ${footName(part)} the hips are highest at frame ${Math.round(value)}`,
});
export const STEP_TIME = describeReading({
  id: 'gait.step',
  holds: holding<number, { steps: number[]; unevenness: number }>(),
  name: 'time of a step',
  unit: 'frames',
  needs: STEP,
  kinds: GAITS,
  time: true,
  mark: 'timing',
  region: 'legs and feet',
  numbers: { unevenness: UNEVENNESS },
  explains: { 'mirror.off': 'always', 'mirror.height': 'always', 'gait.stance': 'always' },
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value, detail: { unevenness } }) =>
    `a step takes ${frames(value)}${Math.round(unevenness) > 0 ? `, and those of one side ${percent(unevenness)} longer than the other’s` : ''}`,
});
const STANCE = describeReading({
  id: 'gait.stance',
  about: 'feet and ground',
  holds: holding<number>(),
  name: 'time on the ground',
  unit: '%',
  needs: 'a whole cycle with hips and both feet',
  kinds: GAITS,
  mark: 'timing',
  region: 'legs and feet',
  say: ({ value, part }) => `${footName(part)} is planted for ${percent(value)} of the cycle`,
});
const FLIGHT = describeReading({
  id: 'gait.flight',
  about: 'feet and ground',
  holds: holding<number>(),
  name: 'both feet in the air',
  unit: 'frames',
  needs: 'a whole cycle with hips and both feet',
  kinds: GAITS,
  time: true,
  mark: 'timing',
  shows: 'hips',
  region: 'legs and feet',
  explains: { 'gait.float': 'always' },
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value, frames: labels }, _, told) =>
    value === 0
      ? told && told.judgement !== 'inside'
        ? 'the body never leaves the ground'
        : 'one foot is always on the ground'
      : `no foot is on the ground for ${frames(value)} a cycle${atFrames(labels)}`,
});
const LOW_AFTER = describeReading({
  id: 'gait.lowAfter',
  holds: holding<number, { each: number[] }>(),
  name: 'down after contact',
  sign: 'after the contact',
  unit: 'frames',
  needs: STEP,
  kinds: GAITS,
  time: true,
  mark: 'timing',
  shows: 'hips',
  explains: {
    'arm.late': 'always',
    'nod.late': 'always',
    'knee.contact': 'always',
    'knee.down': 'always',
    'knee.passing': 'always',
    'knee.up': 'always',
  },
  thrownBy: { cutLoop: 'anywhere', strayFrame: true },
  say: ({ value }) => `the hips are lowest ${after(value, 'the contact')}`,
});

const OF_STEPS = [DOWN, PASSING, UP, STEP_TIME, LOW_AFTER] as const;
export const GAIT_TIMING = [CONTACT, ...OF_STEPS, STANCE, FLIGHT] as const;

/** When things happen in a walk: landings, down, passing and up of each step, how long a foot stands and how long none does. */
export function measureGaitTiming(shot: PreparedShot): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return refuse(GAIT_TIMING, view);
  const landings = view.landings.filter(({ standing }) => !standing);
  const readings: Reading[] = landings.map(({ side, at, until }) => {
    const from = view.label(at);
    return CONTACT.of(from, {
      part: `leg.${side}`,
      frames: [from],
      detail: { from, to: from + framesIn(shot, until - at) },
    });
  });
  const unmade: Unmade[] = [];
  if (landings.length === 0) unmade.push(...refuse([CONTACT], 'no foot lands in the shot').unmade);
  const steps = stepPoses(view);
  if (steps.length === 0) unmade.push(...refuse(OF_STEPS, 'no foot lands after the other, so there is no step').unmade);
  else {
    const poses = readingsOf(view, steps);
    readings.push(...poses, stepTime(view, steps), lowAfter(view, steps));
    if (!poses.some(({ id }) => id === PASSING.id))
      unmade.push(...refuse([PASSING, UP], 'the free foot never passes the planted one').unmade);
  }
  if (view.cycles.length > 0) readings.push(...stance(view), flight(view));
  else unmade.push(...refuse([STANCE, FLIGHT], 'it is a share of a cycle, and no whole cycle is there').unmade);
  return { readings, unmade };
}

/** Half the window about a contact in which the hips' low belongs to it. */
const halfStep = ({ from, to }: Step): number => Math.max(1, Math.floor((to - from) / 2));

/** Lowest hips after a contact. */
const lowestAfter = (view: GaitView, step: Step): number =>
  argmax({ from: step.from, to: Math.min(step.to - 1, step.from + halfStep(step) + 1) }, (s) => -view.hipsUp(s));

/** Samples from a contact to the hips' low nearest to it, by a parabola between samples; negative before it. */
function lowDelay(view: GaitView, step: Step): number {
  const half = halfStep(step);
  const first = view.wraps ? step.from - half : Math.max(0, step.from - half);
  const last = view.wraps ? step.from + half : Math.min(view.frames - 1, step.from + half);
  const low = argmax({ from: first, to: last }, (s) => -view.hipsUp(s));
  if (!view.wraps && (low < 1 || low + 1 >= view.frames)) return low - step.from;
  const [a, b, c] = [view.hipsUp(low - 1), view.hipsUp(low), view.hipsUp(low + 1)];
  const bend = a - 2 * b + c;
  const shift = bend > 0 ? Math.max(-0.5, Math.min(0.5, (a - c) / (2 * bend))) : 0;
  return low + shift - step.from;
}

/** The swinging ankle is first ahead of the planted one, the way the figure goes; undefined where it never is. */
function passing(view: GaitView, { side, from, to }: Step): number | undefined {
  const planted = view.shot.roles[`foot.${side}`]!;
  const swinging = view.shot.roles[`foot.${opposite(side)}`]!;
  // Side by side is passed, whatever rounding says.
  const level = 1e-6 * view.shot.scale.legLength;
  for (let s = from; s < to; s++) {
    const ahead = view.forward(swinging, s) - view.forward(planted, s);
    if (view.direction * ahead >= -level) return s;
  }
  return undefined;
}

/** The key poses of a step, in samples: of a loop those of its end may lie past the period. */
export interface StepPoses extends Step {
  readonly down: number;
  /** Undefined where the free foot never passes. */
  readonly passing?: number;
  readonly up?: number;
}

const found = new WeakMap<GaitView, readonly StepPoses[]>();

/** Contact, down, passing and up of every step. Worked out once a shot. */
export function stepPoses(view: GaitView): readonly StepPoses[] {
  const poses = found.get(view) ?? findSteps(view).map((step): StepPoses => posesOf(view, step));
  found.set(view, poses);
  return poses;
}

function posesOf(view: GaitView, step: Step): StepPoses {
  const down = lowestAfter(view, step);
  const pass = passing(view, step);
  if (pass === undefined) return { ...step, down };
  const last = view.wraps ? step.to : Math.min(step.to, view.frames - 1);
  return { ...step, down, passing: pass, up: argmax({ from: pass, to: last }, (s) => view.hipsUp(s)) };
}

const readingsOf = (view: GaitView, steps: readonly StepPoses[]): Reading[] =>
  steps.flatMap(({ side, down, passing: pass, up }) => {
    const at = (kind: Pick<typeof DOWN, 'of'>, sample: number | undefined): Reading[] =>
      sample === undefined ? [] : [kind.of(view.label(sample), { part: `leg.${side}`, frames: [view.label(sample)] })];
    return [...at(DOWN, down), ...at(PASSING, pass), ...at(UP, up)];
  });

function stepTime(view: GaitView, steps: readonly Step[]): Reading {
  const lengths = steps.map(({ from, to }) => framesIn(view.shot, to - from));
  const of = (side: FootSide): number => mean(steps.flatMap((step, k) => (step.side === side ? [lengths[k]!] : [])));
  const [left, right] = [of('L'), of('R')];
  const difference = Math.abs(left - right) / Math.min(left, right);
  return STEP_TIME.of(roundTo4(mean(lengths)), {
    detail: { steps: lengths.map(roundTo4), unevenness: Number.isFinite(difference) ? roundTo4(100 * difference) : 0 },
  });
}

function lowAfter(view: GaitView, steps: readonly Step[]): Reading {
  const delays = steps.map((step) => framesIn(view.shot, lowDelay(view, step)));
  return LOW_AFTER.of(roundTo4(mean(delays)), {
    frames: steps.map((step) => view.label(lowestAfter(view, step))),
    detail: { each: delays.map(roundTo4) },
  });
}

/** Share of a cycle: the whole stands of each foot over the cycles’ mean length. */
function stance(view: GaitView): Reading[] {
  const T = mean(view.cycles.map(({ from, to }) => to - from));
  return SIDES.flatMap((side) => {
    // Where a shot does not loop, a stand that its ends cut is shorter than it was.
    const lasts = view.landings
      .filter(
        (landing) => landing.side === side && !landing.standing && (view.wraps || landing.until < view.frames - 1),
      )
      .map(({ at, until }) => until - at);
    return lasts.length > 0 ? [STANCE.of(roundTo4((100 * mean(lasts)) / T), { part: `leg.${side}` })] : [];
  });
}

/**
 * Frames a cycle in which no foot is planted: from one foot's leaving to the other's landing, wherever a sample lies between in which neither stands. A stand
 * lasts from its landing to its last planted sample, so that stands and flights make up the whole cycle.
 */
function flight(view: GaitView): Reading {
  const planted = new Uint8Array(view.frames);
  for (const { at, until } of view.landings) for (let s = at; s <= until; s++) planted[view.index(s)] = 1;
  const inAir: number[] = [];
  let time = 0;
  for (const { from, to } of view.cycles)
    for (let s = from; s < to; s++) {
      if (planted[view.index(s)]) continue;
      inAir.push(view.label(s));
      // The step on to the first sample in the air is in the air as well.
      time += s > from && !planted[view.index(s - 1)] ? 1 : 2;
    }
  return FLIGHT.of(roundTo4(framesIn(view.shot, time / view.cycles.length)), {
    ...(inAir.length > 0 && { frames: inAir.sort((a, b) => a - b) }),
  });
}
