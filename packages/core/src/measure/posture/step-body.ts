import { massAt } from '../../motion/centre-of-mass.ts';
import { GAITS } from '../../motion/kinds.ts';
import { framesIn, type PreparedShot } from '../../motion/prepared-shot.ts';
import { footTracks, stepOf } from '../../motion/feet/standing-feet.ts';
import { dot, length, subtract, type Vec3 } from '../../motion/vector.ts';
import { quantitySignal } from '../../quantity/measure-quantity.ts';
import { partName } from '../../say/part-names.ts';
import { after, figures, frames, percent } from '../../say/words.ts';
import { lagBehind } from '../../signal/correlation.ts';
import { argmax } from '../../signal/runs.ts';
import { sampled } from '../../signal/sampled.ts';
import { mean, median, rangeOf } from '../../signal/statistics.ts';
import { describeReading, holding } from '../describe.ts';
import { stepPoses } from '../gait/gait-timing.ts';
import { type GaitView, opposite, viewGait } from '../gait/gait-view.ts';
import { made, type Measured, notAsked, type Reading, refuse, roundTo4, together } from '../reading.ts';

const shared = { kinds: GAITS, mark: 'spacing', needs: 'a step', thrownBy: { strayFrame: true } } as const;

const REACH = describeReading({
  ...shared,
  id: 'step.reach',
  about: 'feet and ground',
  holds: holding<number, { each: number[] }>(),
  name: 'step ahead of the body against behind it',
  unit: 'ratio',
  region: 'legs and feet',
  say: ({ value }, _, told) =>
    told && told.side !== 0
      ? `the body ${told.side > 0 ? 'sits behind its feet' : 'falls ahead of its feet'}: they land ${figures(value, 2)} times as far ahead of it as the others trail behind`
      : `the feet land about as far ahead of the body as they trail behind (${figures(value, 2)} times)`,
});
const FIT = describeReading({
  ...shared,
  id: 'travel.fit',
  holds: holding<number>(),
  name: 'travel against the feet',
  unit: 'ratio',
  needs: 'a figure that travels on its feet',
  shows: 'hips',
  explains: { 'gait.slide': 'always', 'gait.even': 'always' },
  say: ({ value }, _, told) =>
    told && told.side !== 0
      ? `the body travels ${told.side > 0 ? 'faster' : 'slower'} than its feet carry it, ${figures(value, 3)} times as far: it skates ${told.side > 0 ? 'forward' : 'back'}`
      : `the body travels as far as its feet carry it (${figures(value, 3)} times)`,
});
const BALANCE = describeReading({
  ...shared,
  id: 'balance.off',
  holds: holding<number, { each: number[] }>(),
  name: 'weight beside the carrying foot',
  unit: '%',
  sign: 'towards the other foot',
  needs: 'a trunk, thighs, and feet that pass each other',
  shows: 'hips',
  unseen: 'depth',
  say: ({ value }) =>
    `as the feet pass, the weight lies ${percent(Math.abs(value))} of their distance ${value < 0 ? 'outside' : 'inside'} the foot that carries`,
});
const HANG = describeReading({
  ...shared,
  id: 'hang.share',
  about: 'timing',
  holds: holding<number>(),
  name: 'time near the highest',
  unit: '%',
  mark: 'timing',
  shows: 'hips',
  needs: 'hips that go up and down',
  say: ({ value }) => `the body stays near its highest for ${percent(value)} of a step`,
});
const ARM_LATE = describeReading({
  ...shared,
  id: 'arm.late',
  holds: holding<number, { each: number[] }>(),
  name: 'widest arms after the lowest body',
  unit: 'frames',
  sign: 'later',
  time: true,
  mark: 'timing',
  needs: 'arms that swing',
  region: 'arms and hands',
  explains: { 'gait.opposition': 'always', 'mirror.off': 'always' },
  say: ({ value }) => `the arms are widest ${after(value, 'the lowest body')}`,
});
const NOD_LATE = describeReading({
  ...shared,
  id: 'nod.late',
  holds: holding<number, { likeness: number }>(),
  name: 'nod behind what carries it',
  unit: 'frames',
  sign: 'later',
  time: true,
  mark: 'timing',
  needs: 'a body that goes up and down and nods',
  say: ({ value, part }) =>
    `the nod of ${partName(part)} comes ${Math.abs(value) < 0.5 ? 'together with' : `${frames(Math.abs(value))} ${value < 0 ? 'before' : 'after'}`} ${part === 'spine' ? 'the body’s up and down' : part === 'neck' ? 'the trunk’s' : 'the neck’s'}`,
});

export const STEP_BODY = [REACH, FIT, BALANCE, HANG, ARM_LATE, NOD_LATE] as const;

export const STEP_BODY_DEFAULTS = Object.freeze({
  /** Arms whose distance along the way changes by less than this over a cycle do not swing, degrees. */
  swings: 6,
  /** A trunk, neck or head that nods by less than this does not nod, degrees. */
  nods: 0.8,
  /** Nods less alike than this with what carries them have no delay of it. */
  likeness: 0.6,
  /** Hips that go up and down by less than this do not, %L. */
  bobs: 0.5,
  /** Near the highest: within this share of the way up and down. */
  near: 0.1,
});

/** What the body does over its steps: over its feet, as fast as they carry it, and in time with its own up and down. */
export function measureStepBody(shot: PreparedShot): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return refuse(STEP_BODY, view);
  return together(reach(view), travelFit(view), balance(view), hang(view), armLate(view), nodLate(view));
}

function reach(view: GaitView): Measured {
  if (view.contacts.kind === 'steps') return notAsked([REACH], 'on steps the body climbs over the foot it lands on');
  const { roles } = view.shot;
  const thighs = [roles['thigh.L'], roles['thigh.R']];
  const hips = thighs.every((joint) => joint !== undefined) ? thighs : [roles.hips!];
  const each = view.landings
    .filter(({ standing }) => !standing)
    .flatMap(({ side, at }) => {
      const middle = mean(hips.map((joint) => view.forward(joint, at)));
      const [own, other] = [side, opposite(side)].map(
        (foot) => view.direction * (view.forward(roles[`foot.${foot}`]!, at) - middle),
      );
      return other! < 0 ? [own! / -other!] : [];
    });
  if (each.length === 0) return refuse([REACH], 'no foot lands ahead of the body with the other behind it');
  return made(REACH.of(roundTo4(mean(each)), { detail: { each: each.map(roundTo4) } }));
}

/** `travel.fit`: the hips' way over the ground, over what the planted feet go back under them meanwhile; of most samples. */
function travelFit(view: GaitView): Measured {
  const { shot } = view;
  if (length(view.contacts.groundVelocity) > 0) return notAsked([FIT], 'it stays on the spot');
  const { world, motion, roles } = shot;
  const n = motion.joints.length;
  const hipsAt = (s: number): Vec3 => {
    const k = 3 * (s * n + roles.hips!);
    return [world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!];
  };
  const fits: number[] = [];
  const tracks = footTracks(shot);
  for (const { side, at, until } of view.landings) {
    const track = tracks.find((own) => own.side === side)!;
    // The ends of a stand roll; only what stands for sure is asked.
    for (let s = at + 1; s + 1 < until; s++) {
      const [here, next] = [view.index(s), view.index(s + 1)];
      if (next < here) continue;
      const ahead = view.heading.forward(here);
      const hips = view.direction * dot(subtract(hipsAt(next), hipsAt(here)), ahead);
      // Of the points a foot may stand on the one that keeps the stillest is the one it stands on.
      const steps = track.points.map((points) => view.direction * dot(stepOf(points, here, next), ahead));
      const low = track.height[here]! + 0.02 * shot.scale.legLength;
      const standing = steps.filter((_, k) => track.heights[k]![here]! <= low);
      const foot = standing.reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a));
      if (hips - foot > 0.002 * shot.scale.legLength) fits.push(hips / (hips - foot));
    }
  }
  if (fits.length < 4) return refuse([FIT], 'no foot carries it anywhere');
  // Of three samples in four: a foot that slips for a part of its stand slides, and the body still travels as fast as its feet.
  fits.sort((a, b) => a - b);
  const [low, high] = [fits[Math.floor(0.25 * fits.length)]!, fits[Math.floor(0.75 * fits.length)]!];
  return made(FIT.of(roundTo4(low > 1 ? low : high < 1 ? high : 1)));
}

function balance(view: GaitView): Measured {
  const { shot } = view;
  const { roles, motion, world } = shot;
  const put = massAt(motion.joints, roles, world);
  const mass = new Float64Array(3);
  if (!put) return refuse([BALANCE], 'the centre of mass needs the trunk and the thighs; set the roles');
  const each = stepPoses(view).flatMap(({ side, passing }) => {
    if (passing === undefined || (!view.wraps && passing >= view.frames)) return [];
    const s = view.index(passing);
    const left = view.heading.left(s);
    put(s, mass, 0);
    const weight = mass[0]! * left[0] + mass[1]! * left[1] + mass[2]! * left[2];
    const own = view.left(roles[`foot.${side}`]!, s);
    const other = view.left(roles[`foot.${opposite(side)}`]!, s);
    const apart = Math.max(Math.abs(other - own), 0.02 * shot.scale.legLength);
    return [(100 * (weight - own) * Math.sign(other - own || (side === 'L' ? -1 : 1))) / apart];
  });
  if (each.length === 0) return refuse([BALANCE], 'the free foot never passes the planted one');
  return made(BALANCE.of(roundTo4(mean(each)), { detail: { each: each.map(roundTo4) } }));
}

function hang(view: GaitView): Measured {
  const shares = stepPoses(view).flatMap(({ from, to }) => {
    const last = view.wraps ? to - 1 : Math.min(to - 1, view.frames - 1);
    const heights = Array.from({ length: last - from + 1 }, (_, k) => view.hipsUp(from + k));
    const range = rangeOf(heights);
    if (!((100 * range) / view.shot.scale.legLength >= STEP_BODY_DEFAULTS.bobs)) return [];
    const high = Math.max(...heights) - STEP_BODY_DEFAULTS.near * range;
    return [(100 * heights.filter((height) => height >= high).length) / heights.length];
  });
  return shares.length > 0 ? made(HANG.of(roundTo4(mean(shares)))) : refuse([HANG], 'the hips do not go up and down');
}

/** The lowest body nearest to a step's contact, by a parabola between samples, and half the step about it. */
function lowOf(view: GaitView, { from, to }: { from: number; to: number }): { at: number; half: number } | undefined {
  const half = Math.max(2, Math.floor((to - from) / 2));
  const first = view.wraps ? from - half : Math.max(0, from - half);
  const last = view.wraps ? from + half : Math.min(view.frames - 1, from + half);
  const at = argmax({ from: first, to: last }, (s) => -view.hipsUp(s));
  return { at: refined(at, (s) => -view.hipsUp(s), view), half };
}

function refined(at: number, value: (sample: number) => number, view: GaitView): number {
  if (!view.wraps && (at < 1 || at + 1 >= view.frames)) return at;
  const [a, b, c] = [value(at - 1), value(at), value(at + 1)];
  const bend = a - 2 * b + c;
  return bend < 0 ? at + Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : at;
}

/** `arm.late`: from the lowest body to the widest arms. */
function armLate(view: GaitView): Measured {
  const { shot } = view;
  const [left, right] = (['L', 'R'] as const).map((side) => quantitySignal(shot, 'swing', `upperArm.${side}`));
  if (left === undefined || right === undefined || typeof left === 'string' || typeof right === 'string')
    return refuse([ARM_LATE], 'the arms are not known; set the roles');
  // About how they hang on average: one that is held forward all along swings about there.
  const usual = mean(left) - mean(right);
  const apart = (s: number): number => Math.abs(left[view.index(s)]! - right[view.index(s)]! - usual);
  const swings = Math.max(rangeOf(left), rangeOf(right));
  if (swings < STEP_BODY_DEFAULTS.swings) return notAsked([ARM_LATE], 'the arms do not swing');
  const each = stepPoses(view).flatMap((step) => {
    const low = lowOf(view, step);
    if (!low) return [];
    const middle = Math.round(low.at);
    const first = middle - low.half;
    const last = middle + low.half;
    if (!view.wraps && (first < 0 || last >= view.frames)) return [];
    const widest = argmax({ from: first, to: last }, apart);
    return [framesIn(shot, refined(widest, apart, view) - low.at)];
  });
  if (each.length === 0) return refuse([ARM_LATE], 'no step has its lowest body with the arms about it');
  return made(ARM_LATE.of(roundTo4(mean(each)), { detail: { each: each.map(roundTo4) } }));
}

/** `nod.late`: trunk behind the body's up and down, neck behind the trunk, head behind the neck: deepest against lowest. */
function nodLate(view: GaitView): Measured {
  const { shot } = view;
  const steps = stepPoses(view);
  if (steps.length === 0) return refuse([NOD_LATE], 'no foot lands after the other, so there is no step');
  const down = sampled(view.frames, (s) => -view.hipsUp(s));
  if ((100 * rangeOf(down)) / shot.scale.legLength < STEP_BODY_DEFAULTS.bobs)
    return notAsked([NOD_LATE], 'the hips do not go up and down');
  const half = Math.max(1, Math.floor(median(steps.map(({ from, to }) => to - from)) / 2));
  let before: Float64Array = down;
  let whose = 'the body';
  const results: Measured[] = [];
  for (const [part, quantity, of] of [
    ['spine', 'lean', 'trunk'],
    ['neck', 'lean', 'neck'],
    ['head', 'pitch', 'head'],
  ] as const) {
    const signal = quantitySignal(shot, quantity, of);
    if (typeof signal === 'string') {
      results.push(refuse([NOD_LATE], signal, part));
      continue;
    }
    const own = signal.subarray(0, view.frames);
    if (rangeOf(own) < STEP_BODY_DEFAULTS.nods) {
      results.push(notAsked([NOD_LATE], 'it does not nod', part));
      continue;
    }
    const { lag, likeness } = lagBehind(before, own, half, view.wraps ? view.frames : undefined);
    const reading: Reading = NOD_LATE.of(roundTo4(framesIn(shot, lag)), {
      part,
      detail: { likeness: roundTo4(likeness) },
    });
    results.push(
      likeness >= STEP_BODY_DEFAULTS.likeness ? made(reading) : notAsked([NOD_LATE], `it nods unlike ${whose}`, part),
    );
    [before, whose] = [own, `what carries it`];
  }
  return together(...results);
}
