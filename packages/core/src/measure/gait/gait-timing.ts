import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { mean } from '../../motion/vector.ts';
import { findSteps, type FootSide, type GaitView, SIDES, type Step, viewGait } from './gait-view.ts';
import { type Measured, type Reading, tidy, type Unmade } from '../reading.ts';

/** Ids this family makes. */
export const GAIT_TIMING_IDS = [
  'gait.contact',
  'gait.down',
  'gait.passing',
  'gait.up',
  'gait.step',
  'gait.stance',
  'gait.flight',
  'gait.lowAfter',
] as const;

/** When things happen in a walk: landings, down, passing and up of each step, how long a foot stands and how long none does. */
export function measureGaitTiming(shot: PreparedShot): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return { readings: [], unmade: GAIT_TIMING_IDS.map((id) => ({ id, why: view })) };
  const landings = view.landings.filter(({ standing }) => !standing);
  const readings: Reading[] = landings.map(({ side, at, until }) => ({
    id: 'gait.contact',
    part: `leg.${side}`,
    value: view.label(at),
    unit: 'frames',
    frames: [view.label(at)],
    detail: { from: view.label(at), to: view.label(at) + (until - at) },
  }));
  const unmade: Unmade[] = [];
  const steps = findSteps(view);
  if (steps.length === 0) {
    const why = 'no foot lands after the other, so there is no step';
    unmade.push(...['gait.down', 'gait.passing', 'gait.up', 'gait.step', 'gait.lowAfter'].map((id) => ({ id, why })));
  } else readings.push(...poses(view, steps), stepLength(steps), lowAfter(view, steps));
  if (view.wraps) readings.push(...stance(view), flight(view));
  else {
    const why = 'it is a share of a cycle, and the shot is no loop';
    unmade.push({ id: 'gait.stance', why }, { id: 'gait.flight', why });
  }
  return { readings, unmade };
}

const opposite = (side: FootSide): FootSide => (side === 'L' ? 'R' : 'L');

/** Sample in from … to − 1 with the largest value. */
function argmax(from: number, to: number, value: (sample: number) => number): number {
  let best = from;
  for (let s = from; s < to; s++) if (value(s) > value(best)) best = s;
  return best;
}

/** Contacts are known to a frame: hips that are lowest just before one are lowest on it, not eleven frames after it. */
function lowestHips(view: GaitView, { from, to }: Step): number {
  const first = view.wraps || from > 0 ? from - 1 : from;
  return argmax(first, to - 1, (s) => -view.hipsUp(s));
}

/** The swinging ankle is first ahead of the planted one; undefined where it never is. */
function passing(view: GaitView, { side, from, to }: Step): number | undefined {
  const planted = view.shot.roles[`foot.${side}`]!;
  const swinging = view.shot.roles[`foot.${opposite(side)}`]!;
  // Side by side is passed, whatever rounding says.
  const level = 1e-6 * view.shot.scale.legLength;
  for (let s = from; s < to; s++) {
    if (view.place(swinging, s).forward >= view.place(planted, s).forward - level) return s;
  }
  return undefined;
}

function poses(view: GaitView, steps: readonly Step[]): Reading[] {
  return steps.flatMap((step) => {
    const part = `leg.${step.side}`;
    const at = (id: string, sample: number): Reading => ({
      id,
      part,
      value: view.label(sample),
      unit: 'frames',
      frames: [view.label(sample)],
    });
    const pass = passing(view, step);
    if (pass === undefined) return [at('gait.down', lowestHips(view, step))];
    const up = argmax(pass, step.to + 1, (s) => view.hipsUp(s));
    return [at('gait.down', lowestHips(view, step)), at('gait.passing', pass), at('gait.up', up)];
  });
}

function stepLength(steps: readonly Step[]): Reading {
  const lengths = steps.map(({ from, to }) => to - from);
  const of = (side: FootSide): number =>
    mean(steps.filter((step) => step.side === side).map(({ from, to }) => to - from));
  const difference = Math.abs(of('L') - of('R'));
  return {
    id: 'gait.step',
    value: tidy(mean(lengths)),
    unit: 'frames',
    detail: { steps: lengths, unevenness: Number.isFinite(difference) ? tidy((100 * difference) / mean(lengths)) : 0 },
  };
}

function lowAfter(view: GaitView, steps: readonly Step[]): Reading {
  const delays = steps.map((step) => lowestHips(view, step) - step.from);
  return { id: 'gait.lowAfter', value: tidy(mean(delays)), unit: 'frames', detail: { each: delays } };
}

/** Whether each foot is planted at each sample of a loop's period. */
function planted(view: GaitView): Record<FootSide, boolean[]> {
  const state = { L: Array<boolean>(view.frames).fill(false), R: Array<boolean>(view.frames).fill(false) };
  for (const { side, at, until } of view.landings)
    for (let s = at; s <= until; s++) state[side][s % view.frames] = true;
  return state;
}

function stance(view: GaitView): Reading[] {
  return SIDES.map((side) => {
    const lasts = view.landings.filter((landing) => landing.side === side).map(({ at, until }) => until - at);
    const value = tidy((100 * lasts.reduce((a, b) => a + b, 0)) / view.frames);
    return { id: 'gait.stance', part: `leg.${side}`, value, unit: '%' };
  });
}

function flight(view: GaitView): Reading {
  const { L, R } = planted(view);
  const inAir = L.flatMap((there, s) => (!there && !R[s] ? [view.label(s)] : []));
  return {
    id: 'gait.flight',
    value: tidy(inAir.length / view.shot.cycles),
    unit: 'frames',
    ...(inAir.length > 0 && { frames: inAir }),
  };
}
