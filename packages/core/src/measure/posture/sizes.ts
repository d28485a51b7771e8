import { GAITS, KINDS } from '../../motion/kinds.ts';
import { jointTurn } from '../../motion/joint-turn.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { dot } from '../../motion/vector.ts';
import { figureAxes } from '../../motion/way.ts';
import { Body } from '../../quantity/body.ts';
import { directionAt, quantitySignal } from '../../quantity/measure-quantity.ts';
import type { Quantity } from '../../quantity/quantities.ts';
import { partName } from '../../say/part-names.ts';
import { degrees, ofLeg } from '../../say/words.ts';
import { sampled } from '../../signal/sampled.ts';
import { mean } from '../../signal/statistics.ts';
import { describeReading, holding, type ReadingKind } from '../describe.ts';
import { stepPoses } from '../gait/gait-timing.ts';
import { made, type Measured, refuse, roundTo4, together } from '../reading.ts';
import { carriesSomething } from './carries-something.ts';
import { type Extremes, gaitOf, OF_A_BODY, type Sized, sizedOver, unwrapped } from './over-cycles.ts';

const shared = { ...OF_A_BODY, kinds: KINDS } as const;

/** What a verdict adds to a size: that it is too much, or too little. */
const much = (told: { side: number } | undefined): string =>
  told?.side === 1 ? ', which is too much' : told?.side === -1 ? ', which is too little' : '';

const LEAN = describeReading({
  ...shared,
  id: 'size.lean',
  holds: holding<number, Extremes>(),
  name: 'nod of the trunk',
  needs: 'hips and a neck',
  shows: 'chest',
  quantity: { quantity: 'lean', of: () => 'trunk' },
  explains: { 'size.head': 'always', 'nod.late': 'always' },
  say: ({ value }, _, told) => `the trunk nods by ${degrees(value)}${much(told)}`,
});
/** Parts of the trunk's line, each carried by those before it. */
const CARRIED = ['pelvis', 'chest', 'head'];
const TURN = describeReading({
  ...shared,
  id: 'size.turn',
  holds: holding<number, Extremes>(),
  name: 'size of the turn',
  needs: 'hips, a chest and a head',
  unseen: 'depth',
  quantity: { quantity: 'turn', of: (part) => part ?? 'pelvis' },
  // What hangs from a part that turns is carried along.
  explains: { 'size.turn': (cause, effect) => CARRIED.indexOf(cause.part!) < CARRIED.indexOf(effect.part!) },
  say: ({ value }, part, told) => `${part} turns by ${degrees(value)} to and fro${much(told)}`,
});
const TILT = describeReading({
  ...shared,
  id: 'size.tilt',
  holds: holding<number, Extremes>(),
  name: 'size of the tilt',
  needs: 'both hip joints, both upper arms',
  unseen: 'depth',
  quantity: { quantity: 'tilt', of: (part) => part ?? 'pelvis' },
  say: ({ value }, part, told) =>
    `${part} ${part === 'the pelvis' ? 'tilts' : 'tilt'} by ${degrees(value)} to and fro${much(told)}`,
});
const SHIFT = describeReading({
  ...shared,
  id: 'size.shift',
  holds: holding<number, Extremes>(),
  name: 'way of the hips to the side',
  unit: '%L',
  needs: 'hips',
  shows: 'hips',
  unseen: 'depth',
  quantity: { quantity: 'shift', of: () => 'hips' },
  say: ({ value }, _, told) => `the hips go from side to side by ${ofLeg(value)}${much(told)}`,
});
const SIDE = describeReading({
  ...shared,
  id: 'size.side',
  holds: holding<number, Extremes>(),
  name: 'sway',
  needs: 'hips, a neck and a head',
  unseen: 'depth',
  quantity: { quantity: 'side', of: (part) => (part === 'spine' ? 'trunk' : 'head') },
  explains: { 'size.side': (cause, effect) => cause.part === 'spine' && effect.part === 'head' },
  say: ({ value, part }, _, told) =>
    `the ${part === 'spine' ? 'trunk' : 'head'} sways by ${degrees(value)} from side to side${much(told)}`,
});
const HEAD = describeReading({
  ...shared,
  id: 'size.head',
  holds: holding<number, Extremes & { rise?: number; hipsRise?: number }>(),
  name: 'nod of the head',
  kinds: [...GAITS, 'idle'],
  needs: 'a head',
  shows: 'head',
  unseen: 'own turn',
  quantity: { quantity: 'pitch', of: () => 'head' },
  explains: { 'nod.late': 'always' },
  say: ({ value }, _, told) => `the head nods by ${degrees(value)} a step${much(told)}`,
});
const ARM = describeReading({
  ...shared,
  id: 'size.arm',
  holds: holding<number, Extremes & { carries?: true }>(),
  name: 'swing of the arm',
  flags: { carries: 'arms that carry something' },
  kinds: GAITS,
  needs: 'arms',
  quantity: { quantity: 'swing', of: (part) => part?.replace('arm', 'upperArm') ?? 'upperArm.L' },
  say: ({ value, part }, _, told) =>
    `${partName(part)} swings by ${degrees(value)} from its farthest back to its farthest forward${much(told)}`,
});
const SPREAD = describeReading({
  ...shared,
  id: 'size.spread',
  holds: holding<number, Extremes>(),
  name: 'arm away from the body',
  sign: 'away from the body',
  kinds: [...GAITS, 'idle'],
  needs: 'arms',
  unseen: 'depth',
  quantity: { quantity: 'spread', of: (part) => part?.replace('arm', 'upperArm') ?? 'upperArm.L' },
  say: ({ value, part }) =>
    value < 0
      ? `${partName(part)} is held ${degrees(-value)} across the body at its widest`
      : `${partName(part)} is held up to ${degrees(value)} away from the body`,
});
const FLAP = describeReading({
  ...shared,
  id: 'size.flap',
  holds: holding<number, Extremes>(),
  name: 'arm to and from the body',
  kinds: GAITS,
  needs: 'arms',
  unseen: 'depth',
  explains: { 'size.spread': 'of the same part' },
  say: ({ value, part }, _, told) => `${partName(part)} goes to and from the body by ${degrees(value)}${much(told)}`,
});
const WRIST = describeReading({
  ...shared,
  id: 'size.wrist',
  holds: holding<number, Extremes>(),
  name: 'swing of the hand',
  kinds: GAITS,
  needs: 'hands',
  unseen: 'own turn',
  tells: (part) => part.replace('arm', 'hand'),
  say: ({ value, part }, _, told) =>
    `${partName(part?.replace('arm', 'hand'))} swings by ${degrees(value)} at its wrist${much(told)}`,
});
const ELBOW = {
  ...shared,
  holds: holding<number, Extremes>(),
  needs: 'arms',
  sign: 'bent, under 0 the wrong way',
  quantity: { quantity: 'bend' as const, of: (part: string | undefined) => part?.replace('arm', 'elbow') ?? 'elbow.L' },
};
const elbow = (part: string | undefined): string => partName(part?.replace('arm', 'elbow'));
const ELBOW_LEAST = describeReading({
  ...ELBOW,
  id: 'elbow.least',
  name: 'elbow at its straightest',
  explains: { 'elbow.most': 'of the same part' },
  say: ({ value, part, detail }) =>
    value < 0
      ? `${elbow(part)} bends the wrong way, by ${degrees(-value)} at frame ${Math.round(detail.lowestAt)}`
      : `${elbow(part)} is bent by ${degrees(value)} at its straightest`,
});
const ELBOW_MOST = describeReading({
  ...ELBOW,
  id: 'elbow.most',
  name: 'elbow at its most bent',
  explains: { 'elbow.least': 'of the same part' },
  say: ({ value, part }, _, told) => `${elbow(part)} bends by up to ${degrees(value)}${much(told)}`,
});

export const SIZES = [LEAN, TURN, TILT, SHIFT, SIDE, HEAD, ARM, SPREAD, FLAP, WRIST, ELBOW_LEAST, ELBOW_MOST] as const;

/** Sizes: how much of each a body does over a cycle, or over the shot. */
export function measureSizes(shot: PreparedShot): Measured {
  if (shot.motion.frames < 6) return refuse(SIZES, `it needs 6 poses or more, the shot has ${shot.motion.frames}`);
  return together(
    sized(shot, LEAN, 'lean', 'trunk', 'spine'),
    ...['pelvis', 'chest', 'head'].map((part) =>
      sized(shot, TURN, 'turn', part, part, part === 'head' ? LEAST_SIZE : SIZE),
    ),
    ...['pelvis', 'shoulders'].map((part) => sized(shot, TILT, 'tilt', part, part)),
    sized(shot, SHIFT, 'shift', 'hips', 'hips'),
    ...(['spine', 'head'] as const).map((part) => sized(shot, SIDE, 'side', part === 'spine' ? 'trunk' : part, part)),
    head(shot),
    ...(['L', 'R'] as const).flatMap((side) => {
      const part = `arm.${side}`;
      return [
        swing(shot, side),
        sized(shot, SPREAD, 'spread', `upperArm.${side}`, part, ({ extremes }) => extremes.highest),
        flap(shot, side),
        wrist(shot, side),
        sized(shot, ELBOW_LEAST, 'bend', `elbow.${side}`, part, ({ extremes }) => extremes.lowest),
        sized(shot, ELBOW_MOST, 'bend', `elbow.${side}`, part, ({ extremes }) => extremes.highest),
      ];
    }),
  );
}

/** A size is told without the jumps of a whole turn; an extreme is an angle as it is seen. */
const SIZE = ({ size }: Sized): number => size;
/** Of a head what it does in every cycle: a look aside is none of its turning to and fro. */
const LEAST_SIZE = ({ least }: Sized): number => least;

function sized(
  shot: PreparedShot,
  kind: Pick<ReadingKind<string, number, Extremes>, 'of' | 'id'>,
  quantity: Quantity,
  of: string,
  part: string,
  value: (own: Sized) => number = SIZE,
): Measured {
  const signal = quantitySignal(shot, quantity, of);
  if (typeof signal === 'string') return { readings: [], unmade: [{ id: kind.id, part, why: signal }] };
  return sizeOf(shot, kind, signal, part, value);
}

/** The size of a signal, of a part, over the shot's cycles. */
function sizeOf(
  shot: PreparedShot,
  kind: Pick<ReadingKind<string, number, Extremes>, 'of' | 'id'>,
  signal: Float64Array,
  part: string,
  value: (own: Sized) => number = SIZE,
): Measured {
  const own = sizedOver(shot, value === SIZE || value === LEAST_SIZE ? unwrapped(signal) : signal);
  const { extremes } = own;
  const told = value(own);
  const frames =
    told === extremes.lowest
      ? [extremes.lowestAt]
      : told === extremes.highest
        ? [extremes.highestAt]
        : [extremes.lowestAt, extremes.highestAt];
  return made(kind.of(roundTo4(told), { part, frames: frames.map(Math.round), detail: extremes }));
}

function swing(shot: PreparedShot, side: 'L' | 'R'): Measured {
  const own = sized(shot, ARM, 'swing', `upperArm.${side}`, `arm.${side}`);
  if (!carriesSomething(shot)) return own;
  return {
    ...own,
    readings: own.readings.map((reading) => ({ ...reading, detail: { ...reading.detail, carries: true } })),
  };
}

/** How far an arm goes out of the plane it swings in, and back: also where it points ahead, an angle. */
function flap(shot: PreparedShot, side: 'L' | 'R'): Measured {
  const part = `arm.${side}`;
  const direction = new Body(shot).direction(`upperArm.${side}`);
  if (!direction) return refuse([FLAP], 'the arm is not known; set the roles', part);
  const at = directionAt(shot, direction);
  if (Math.hypot(...at(0)) < 1e-9) return refuse([FLAP], 'the arm has no length', part);
  const out = sampled(shot.motion.frames, (s) => {
    const [x, y, z] = at(s);
    const away = dot([x!, y!, z!], figureAxes(shot, s)[LEFT]);
    return (Math.asin(Math.max(-1, Math.min(1, away / Math.hypot(x!, y!, z!)))) * 180) / Math.PI;
  });
  return sizeOf(shot, FLAP, out, part);
}
const LEFT = 1;

/** How far a hand swings against its forearm, about the axis it turns about most. */
function wrist(shot: PreparedShot, side: 'L' | 'R'): Measured {
  const hand = shot.roles[`hand.${side}`];
  const part = `arm.${side}`;
  return hand === undefined
    ? refuse([WRIST], 'the hand is not known; set the roles', part)
    : sizeOf(shot, WRIST, jointTurn(shot, hand), part);
}

/** `size.head`: of a gait the mean over its steps of how far the head nods in each; else over the shot. */
function head(shot: PreparedShot): Measured {
  const signal = quantitySignal(shot, 'pitch', 'head');
  if (typeof signal === 'string') return refuse([HEAD], signal, 'head');
  const { size, extremes } = sizedOver(shot, signal);
  const view = gaitOf(shot);
  const steps = view ? stepPoses(view) : [];
  if (!view || steps.length === 0) return made(HEAD.of(roundTo4(size), { part: 'head', detail: extremes }));
  const rangeIn = (value: (sample: number) => number): number =>
    mean(
      steps.flatMap(({ from, to }) => {
        const last = view.wraps ? to : Math.min(to, view.frames - 1);
        let [low, high] = [Infinity, -Infinity];
        for (let s = from; s <= last; s++) {
          low = Math.min(low, value(s));
          high = Math.max(high, value(s));
        }
        return high >= low ? [high - low] : [];
      }),
    );
  const percent = 100 / shot.scale.legLength;
  const detail = {
    ...extremes,
    rise: roundTo4(percent * rangeIn((s) => view.up(shot.roles.head!, s))),
    hipsRise: roundTo4(percent * rangeIn((s) => view.hipsUp(s))),
  };
  const nod = rangeIn((s) => signal[view.index(s)]!);
  return made(
    HEAD.of(roundTo4(nod), { part: 'head', frames: [extremes.lowestAt, extremes.highestAt].map(Math.round), detail }),
  );
}
