import { GAITS } from '../../motion/kinds.ts';
import { restPositions } from '../../motion/motion.ts';
import { framesIn, type PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate, vec3At } from '../../motion/quaternion.ts';
import { dot, length, reject, subtract } from '../../motion/vector.ts';
import { quantitySignal } from '../../quantity/measure-quantity.ts';
import { footName, partName } from '../../say/part-names.ts';
import { atFrames, degrees, frames, ofLeg } from '../../say/words.ts';
import { mean } from '../../signal/statistics.ts';
import { describeReading, holding } from '../describe.ts';
import { lowestHeights } from '../gait/gait-feet.ts';
import { stepPoses } from '../gait/gait-timing.ts';
import { type FootSide, type GaitView, type Landing, opposite, SIDES, viewGait } from '../gait/gait-view.ts';
import { made, type Measured, notAsked, type Reading, refuse, roundTo4, together } from '../reading.ts';

const PITCH = {
  quantity: 'pitch' as const,
  of: (part: string | undefined) => part?.replace('leg', 'foot') ?? 'foot.L',
};
const shared = {
  kinds: GAITS,
  mark: 'amount',
  region: 'legs and feet',
  needs: 'feet that land',
  thrownBy: { strayFrame: true },
} as const;

/** On steps the knees bend as the climb asks, and backwards a foot lands on its toes. */
export interface Ways {
  readonly climbs?: true;
  readonly backwards?: true;
}
const WAYS = { climbs: 'steps that climb', backwards: 'a walk that goes backwards' };

const LAND = describeReading({
  ...shared,
  id: 'foot.land',
  holds: holding<number, Ways & { each: number[] }>(),
  flags: WAYS,
  name: 'foot at the contact',
  unit: '°',
  sign: 'toes up',
  quantity: PITCH,
  explains: { 'foot.flat': 'of the same part' },
  say: ({ value, part }, _, told) =>
    value < -2
      ? `${footName(part)} lands on its toes, which point ${degrees(-value)} down`
      : told?.side === -1
        ? `${footName(part)} lands flat: its toes are up by only ${degrees(Math.max(0, value))}`
        : `${footName(part)} lands with its toes ${degrees(Math.max(0, value))} up`,
});
const FLAT = describeReading({
  ...shared,
  id: 'foot.flat',
  holds: holding<number, Ways & { each: number[] }>(),
  flags: WAYS,
  name: 'contact to flat foot',
  unit: 'frames',
  time: true,
  mark: 'timing',
  needs: 'feet that land and come flat',
  quantity: PITCH,
  say: ({ value, part }) => `${footName(part)} is flat ${frames(value)} after its contact`,
});
const LEAVE = describeReading({
  ...shared,
  id: 'foot.leave',
  holds: holding<number, Ways & { each: number[] }>(),
  flags: WAYS,
  name: 'foot as it leaves',
  unit: '°',
  sign: 'toes up',
  quantity: PITCH,
  say: ({ value, part }, _, told) =>
    told?.side === 1
      ? `${footName(part)} leaves the ground flat: it does not roll over its toes`
      : `${footName(part)} leaves the ground with its toes ${degrees(Math.abs(value))} ${value < 0 ? 'down' : 'up'}`,
});
const TRAIL = describeReading({
  ...shared,
  id: 'foot.trail',
  holds: holding<number, { each: number[] }>(),
  name: 'foot in the air',
  unit: '°',
  sign: 'toes up',
  quantity: PITCH,
  isSize: true,
  say: ({ value, part }) =>
    `behind the body ${footName(part)} points ${degrees(Math.abs(value))} ${value < 0 ? 'down' : 'up'} at most`,
});
const CLEAR = describeReading({
  ...shared,
  id: 'foot.clear',
  holds: holding<number, { each: number[] }>(),
  name: 'foot over the ground as it passes',
  unit: '%L',
  needs: 'feet that pass each other on flat ground',
  say: ({ value, part, frames: at }, _, told) =>
    told?.side === 1
      ? `${footName(part)} is lifted high as it passes, ${ofLeg(value)} over the ground`
      : value < 0
        ? `${footName(part)} goes through the ground as it passes, by ${ofLeg(-value)}${atFrames(at)}`
        : `${footName(part)} passes ${ofLeg(value)} over the ground`,
});
const TURN = describeReading({
  ...shared,
  id: 'foot.turn',
  holds: holding<number>(),
  name: 'toes turned out',
  unit: '°',
  sign: 'out',
  needs: 'feet with toes',
  unseen: 'depth',
  say: ({ value, part }) =>
    `the toes of ${footName(part)} point ${degrees(Math.abs(value))} ${value < 0 ? 'in' : 'out'} while it stands`,
});
const ASIDE = describeReading({
  ...shared,
  id: 'knee.aside',
  about: 'legs',
  holds: holding<number>(),
  name: 'knee beside the leg’s line',
  unit: '%L',
  sign: 'out',
  needs: 'legs',
  unseen: 'depth',
  say: ({ value, part, frames: at }) =>
    `${partName(part?.replace('leg', 'knee'))} lies ${ofLeg(Math.abs(value))} ${value < 0 ? 'inside' : 'outside'} the line from hip to ankle${atFrames(at)}`,
});
const KNEE = {
  ...shared,
  flags: WAYS,
  unit: '°',
  sign: 'bent, under 0 the wrong way',
  needs: 'legs, and feet that land',
} as const;
const kneeQuantity = {
  quantity: 'bend' as const,
  of: (part: string | undefined) => part?.replace('leg', 'knee') ?? 'knee.L',
};
const knee = (part: string | undefined): string => partName(part?.replace('leg', 'knee'));
const bent = (value: number): string =>
  value < 0 ? `is bent ${degrees(-value)} the wrong way` : `is bent by ${degrees(value)}`;
const tooMuch = (told: { side: number } | undefined): string =>
  told?.side === 1 ? ', which is a lot' : told?.side === -1 ? ', as good as straight' : '';
const CONTACT = describeReading({
  ...KNEE,
  id: 'knee.contact',
  about: 'legs',
  holds: holding<number, Ways & { each: number[] }>(),
  name: 'carrying knee at the contact',
  quantity: kneeQuantity,
  say: ({ value, part }, _, told) => `at the contact ${knee(part)} ${bent(value)}${tooMuch(told)}`,
});
const DOWN = describeReading({
  ...KNEE,
  id: 'knee.down',
  about: 'legs',
  holds: holding<number, Ways & { each: number[] }>(),
  name: 'carrying knee at the down',
  quantity: kneeQuantity,
  say: ({ value, part }, _, told) => `at the down ${knee(part)} ${bent(value)}${tooMuch(told)}`,
});
const PASSING = describeReading({
  ...KNEE,
  id: 'knee.passing',
  about: 'legs',
  holds: holding<number, Ways & { each: number[]; swinging: number }>(),
  name: 'carrying knee at the passing',
  quantity: kneeQuantity,
  numbers: {
    swinging: {
      name: 'swinging knee',
      unit: '°',
      say: ({ detail, part }) =>
        `as it passes, the other knee than ${knee(part)} is bent by ${degrees((detail as { swinging: number }).swinging)}`,
    },
  },
  say: ({ value, part }, _, told) => `at the passing ${knee(part)} ${bent(value)}${tooMuch(told)}`,
});
const UP = describeReading({
  ...KNEE,
  id: 'knee.up',
  about: 'legs',
  holds: holding<number, Ways & { each: number[] }>(),
  name: 'carrying knee at the up',
  quantity: kneeQuantity,
  explains: { 'knee.passing': 'of the same part' },
  say: ({ value, part }, _, told) => `at the up ${knee(part)} ${bent(value)}${tooMuch(told)}`,
});

const KNEES = [CONTACT, DOWN, PASSING, UP] as const;
const ROLL = [LAND, FLAT, LEAVE, TRAIL, CLEAR] as const;
export const FOOT_ROLL = [...ROLL, TURN, ASIDE, ...KNEES] as const;

export const FOOT_ROLL_DEFAULTS = Object.freeze({
  /** A sole within this of level is flat, degrees. */
  flat: 4,
  /** The hip is this much of a leg over the ankle of a leg that stands. */
  stands: 0.4,
  /** Toes point where their line is this much of its length over the ground. */
  level: 0.75,
  /** The swinging foot is looked at for this share of its swing to each side of where it passes. */
  passes: 0.15,
});

/** How the feet roll and the knees bend: at the contact, flat, leaving, in the air, and at the key poses. */
export function measureFootRoll(shot: PreparedShot): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return refuse(FOOT_ROLL, view);
  return together(
    ...SIDES.flatMap((side) => [
      roll(view, side),
      clearance(view, side),
      toesOut(view, side),
      kneeAside(view, side),
      knees(view, side),
    ]),
  );
}

/** Landings of a foot that come down within the shot. */
const landingsOf = (view: GaitView, side: FootSide): Landing[] =>
  view.landings.filter((landing) => landing.side === side && !landing.standing);

/** What of the walk a gauge may leave out: steps that climb, and one that goes backwards. */
const ways = (view: GaitView): Ways => ({
  ...(view.contacts.kind === 'steps' && { climbs: true as const }),
  ...(view.direction < 0 && { backwards: true as const }),
});

const reading = (
  kind: {
    of: (value: number, more: { part: string; frames: number[]; detail: Ways & { each: number[] } }) => Reading;
  },
  part: string,
  found: readonly { value: number; at: number }[],
  view: GaitView,
): Reading =>
  kind.of(roundTo4(mean(found.map(({ value }) => value))), {
    part,
    frames: [...new Set(found.map(({ at }) => Math.round(view.label(at))))],
    detail: { each: found.map(({ value }) => roundTo4(value)), ...ways(view) },
  });

function roll(view: GaitView, side: FootSide): Measured {
  const { shot } = view;
  const part = `leg.${side}`;
  const pitch = quantitySignal(shot, 'pitch', `foot.${side}`);
  if (typeof pitch === 'string') return refuse([LAND, FLAT, LEAVE, TRAIL], pitch, part);
  const all = view.landings.filter((landing) => landing.side === side);
  const landings = landingsOf(view, side);
  const at = (s: number): number => pitch[view.index(s)]!;
  if (landings.length === 0) return refuse([LAND, FLAT, LEAVE, TRAIL], 'no foot lands in the shot', part);
  const flats = landings.flatMap(({ at: from, until }) => {
    for (let s = from; s <= until; s++)
      if (Math.abs(at(s)) <= FOOT_ROLL_DEFAULTS.flat) return [{ value: framesIn(shot, s - from), at: s }];
    return [];
  });
  // A foot that leaves is at the last sample of its stand; a stand that the shot's end cuts does not leave.
  const leaves = all
    .filter(({ until }) => view.wraps || until < view.frames - 1)
    .map(({ until }) => ({ value: at(until), at: until }));
  const swings = leaves.flatMap(({ at: off }) => {
    const next = all.find(({ at: on }) => on > off) ?? (view.wraps ? { at: all[0]!.at + view.frames } : undefined);
    if (!next || next.at - off < 2) return [];
    let lowest = off;
    for (let s = off; s < next.at; s++) if (at(s) < at(lowest)) lowest = s;
    return [{ value: at(lowest), at: lowest }];
  });
  const land = landings.map((landing) => ({ value: at(landing.at), at: landing.at }));
  return together(
    made(reading(LAND, part, land, view)),
    flats.length > 0
      ? made(reading(FLAT, part, flats, view))
      : refuse([FLAT], 'the sole never comes flat on the ground', part),
    leaves.length > 0
      ? made(reading(LEAVE, part, leaves, view))
      : refuse([LEAVE], 'the foot never leaves the ground', part),
    swings.length > 0 ? made(reading(TRAIL, part, swings, view)) : refuse([TRAIL], 'the foot never swings', part),
  );
}

/** `foot.clear`: the lowest the swinging foot is over the ground about where it passes the other. */
function clearance(view: GaitView, side: FootSide): Measured {
  const part = `leg.${side}`;
  if (view.contacts.kind === 'steps')
    return notAsked([CLEAR], 'on steps each foot stands at a height of its own', part);
  const heights = lowestHeights(view, side);
  const found = stepPoses(view)
    .filter((step) => step.side === opposite(side) && step.passing !== undefined)
    .map(({ from, to, passing }) => {
      const reach = Math.max(1, Math.round(FOOT_ROLL_DEFAULTS.passes * (to - from)));
      let best = { value: Infinity, at: passing! };
      for (let s = passing! - reach; s <= passing! + reach; s++) {
        if (!view.wraps && (s < 0 || s >= view.frames)) continue;
        const value = (100 * heights[view.index(s)]!) / view.shot.scale.legLength;
        if (value < best.value) best = { value, at: s };
      }
      return best;
    });
  return found.length > 0
    ? made(reading(CLEAR, part, found, view))
    : refuse([CLEAR], 'the free foot never passes the planted one', part);
}

/** Samples in which a foot carries: between its landing and where it leaves. */
function standing(view: GaitView, side: FootSide): number[] {
  return view.landings
    .filter((landing) => landing.side === side)
    .flatMap(({ at, until }) => Array.from({ length: until - at + 1 }, (_, k) => view.index(at + k)));
}

function toesOut(view: GaitView, side: FootSide): Measured {
  const { motion, roles, world, axes } = view.shot;
  const part = `leg.${side}`;
  const [foot, toe] = [roles[`foot.${side}`]!, roles[`toe.${side}`]];
  const rest = restPositions(motion.joints);
  const way = toe === undefined ? motion.joints[foot]!.ends[0] : subtract(vec3At(rest, toe), vec3At(rest, foot));
  if (!way) return refuse([TURN], 'the foot has neither toes nor an end', part);
  const samples = standing(view, side);
  if (samples.length === 0) return refuse([TURN], 'the foot never stands', part);
  const outward = side === 'L' ? 1 : -1;
  const turns = samples.flatMap((s) => {
    const toes = rotate(quatAt(world.rotations, s * motion.joints.length + foot), way);
    const level = reject(toes, axes.up);
    // A foot that stands on its toes does not say where they point.
    if (length(level) < FOOT_ROLL_DEFAULTS.level * length(way)) return [];
    const [ahead, left] = [dot(level, view.heading.forward(s)), dot(level, view.heading.left(s))];
    return [(outward * Math.atan2(left, ahead) * 180) / Math.PI];
  });
  if (turns.length === 0) return refuse([TURN], 'the foot never stands flat', part);
  return made(TURN.of(roundTo4(mean(turns)), { part }));
}

/** `knee.aside`: how far a knee lies beside the line from hip to ankle as seen from ahead, where it does most while it carries. */
function kneeAside(view: GaitView, side: FootSide): Measured {
  const { roles, scale } = view.shot;
  const part = `leg.${side}`;
  const [thigh, shin, foot] = [roles[`thigh.${side}`], roles[`shin.${side}`], roles[`foot.${side}`]];
  if (thigh === undefined || shin === undefined || foot === undefined)
    return refuse([ASIDE], 'the leg is not known; set the roles', part);
  const samples = standing(view, side);
  if (samples.length === 0) return refuse([ASIDE], 'the foot never stands', part);
  const outward = side === 'L' ? 1 : -1;
  let worst = { value: 0, at: samples[0]! };
  for (const s of samples) {
    const [hip, middle, ankle] = [view.place(thigh, s), view.place(shin, s), view.place(foot, s)];
    // A leg that lies has no line down.
    if (hip.up - ankle.up < FOOT_ROLL_DEFAULTS.stands * scale.legLength) continue;
    const down = (hip.up - middle.up) / (hip.up - ankle.up);
    const value = (100 * outward * (middle.left - (hip.left + down * (ankle.left - hip.left)))) / scale.legLength;
    if (Number.isFinite(value) && Math.abs(value) > Math.abs(worst.value)) worst = { value, at: s };
  }
  return made(ASIDE.of(roundTo4(worst.value), { part, frames: [Math.round(view.label(worst.at))] }));
}

function knees(view: GaitView, side: FootSide): Measured {
  const { shot } = view;
  const part = `leg.${side}`;
  const bend = quantitySignal(shot, 'bend', `knee.${side}`);
  const other = quantitySignal(shot, 'bend', `knee.${opposite(side)}`);
  if (typeof bend === 'string' || typeof other === 'string')
    return refuse(KNEES, 'the knee is not known; set the roles', part);
  const steps = stepPoses(view).filter((step) => step.side === side);
  if (steps.length === 0) return refuse(KNEES, 'no foot lands after the other, so there is no step', part);
  const within = (s: number | undefined): s is number => s !== undefined && (view.wraps || s < view.frames);
  const at = (samples: readonly (number | undefined)[]) =>
    samples.filter(within).map((s) => ({ value: bend[view.index(s)]!, at: s }));
  const passing = steps.map((step) => step.passing).filter(within);
  const one = (kind: typeof CONTACT | typeof DOWN | typeof UP, found: { value: number; at: number }[]): Measured =>
    found.length > 0
      ? made(reading(kind, part, found, view))
      : refuse([kind], 'the free foot never passes the planted one', part);
  return together(
    one(CONTACT, at(steps.map(({ from }) => from))),
    one(DOWN, at(steps.map(({ down }) => down))),
    passing.length > 0
      ? made(
          PASSING.of(roundTo4(mean(passing.map((s) => bend[view.index(s)]!))), {
            part,
            frames: passing.map((s) => Math.round(view.label(s))),
            detail: {
              each: passing.map((s) => roundTo4(bend[view.index(s)]!)),
              swinging: roundTo4(mean(passing.map((s) => other[view.index(s)]!))),
              ...ways(view),
            },
          }),
        )
      : refuse([PASSING], 'the free foot never passes the planted one', part),
    one(UP, at(steps.map(({ up }) => up))),
  );
}
