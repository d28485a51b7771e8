import { KINDS } from '../../motion/kinds.ts';
import type { Prop } from '../../motion/motion.ts';
import { framesIn, type PreparedShot } from '../../motion/prepared-shot.ts';
import { conjugate, quatAt, rotate, vec3At } from '../../motion/quaternion.ts';
import { add, length, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { partName } from '../../say/part-names.ts';
import { atFrames, frames, ofLeg } from '../../say/words.ts';
import { runsOf } from '../../signal/runs.ts';
import { median } from '../../signal/statistics.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, notAsked, type Reading, refuse, roundTo4, together } from '../reading.ts';

const shared = {
  needs: 'a format that has things beside the figure',
  kinds: KINDS,
  unseen: 'depth',
  fromPoses: true,
} as const;

/** What stands where no prop is named. */
const NOTHING = '';

const SLIP = describeReading({
  ...shared,
  id: 'prop.slip',
  holds: holding<number, { prop: string; from?: number; to?: number }>(),
  name: 'hand slides on what it holds',
  unit: '%L',
  mark: 'spacing',
  region: 'arms and hands',
  say: ({ value, part, detail: { prop, from, to } }) =>
    prop === NOTHING
      ? `${partName(part)} holds nothing`
      : `${partName(part)} ${value === 0 ? 'keeps its hold of' : `slides by ${ofLeg(value)} on`} “${prop}” from ${from} to ${to}`,
});
const THROUGH = describeReading({
  ...shared,
  id: 'prop.through',
  holds: holding<number, { prop: string }>(),
  name: 'limb within a thing',
  unit: 'frames',
  mark: 'spacing',
  time: true,
  region: 'legs and feet',
  say: ({ value, part, detail: { prop }, frames: at }) =>
    value === 0
      ? `${partName(part)} stays outside of what stands about`
      : `${partName(part)} goes through “${prop}” for ${frames(value)}${atFrames(at)}`,
});
const CLEAR = describeReading({
  ...shared,
  id: 'prop.clear',
  holds: holding<number, { prop: string }>(),
  name: 'clearance of what stands in the way',
  unit: '%L',
  mark: 'spacing',
  region: 'legs and feet',
  isSize: true,
  say: ({ value, part, detail: { prop }, frames: at }) =>
    value === 0
      ? `${partName(part)} touches “${prop}”${atFrames(at)}`
      : `${partName(part)} clears “${prop}” by ${ofLeg(value)}${atFrames(at)}`,
});

export const PROPS = [SLIP, THROUGH, CLEAR] as const;

export const PROPS_DEFAULTS = Object.freeze({
  /** A hand that is nearer to a thing than this, %L, may hold it. */
  near: 12,
  /** It holds it where the thing moves, at least by so much a frame at 24 fps, %L … */
  moves: 0.4,
  /** … for so many frames at 24 fps … */
  frames: 8,
  /** … and goes along: what the hand moves beside it is less than this share of its own way. */
  along: 0.5,
  /** A hand that comes or lets go is no slip: ends at which it moves beside the thing by so many times what is usual, and this, %L a frame. */
  letsGo: 3,
  letsGoBy: 0.5,
  /** A limb is within a thing where it lies so deep in it on every side, %L. */
  deep: 3,
  /** What no limb comes nearer than this, %L, stands in nobody's way. */
  far: 60,
  /** What a limb rests on, or in, for more than this share of the shot is ground, or furniture. */
  rests: 0.25,
});

/** A hand that holds a thing, samples. */
interface Hold {
  readonly prop: Prop;
  readonly from: number;
  readonly to: number;
  /** How far it slides on it, %L. */
  readonly slip: number;
  /** Sample at which it has slid farthest. */
  readonly at: number;
}

const SIDES = ['L', 'R'] as const;

/**
 * What hands do with things, of a format that has them. `prop.slip`: how far the palm of a hand that goes along with a thing moves on it: the largest
 * distance between two of its places in the thing's own axes. `prop.through`: frames for which a foot, knee, hand or head lies within a solid thing that
 * nothing holds. `prop.clear`: how near the nearest of them, toes and fingertips as well, comes to such a thing, of each that the figure passes.
 */
export function measureProps(shot: PreparedShot): Measured {
  const { props } = shot.played.motion;
  if (!props || props.length === 0) return notAsked(PROPS, 'the file has nothing beside the figure');
  const limbs = limbsOf(shot);
  const hands = SIDES.flatMap((side) => {
    const hand = shot.roles[`hand.${side}`];
    return hand === undefined ? [] : [{ part: `arm.${side}`, holds: holdsOf(shot, props, palmOf(shot, hand)) }];
  });
  const held = new Set(hands.flatMap(({ holds }) => holds.map(({ prop }) => prop)));
  const slips = hands.flatMap(({ part, holds }) =>
    holds.length === 0
      ? [SLIP.of(0, { part, detail: { prop: NOTHING } })]
      : holds.map(({ prop, from, to, slip, at }) =>
          SLIP.of(roundTo4(slip), {
            part,
            frames: [labelAt(shot, at)],
            detail: { prop: prop.name, from: labelAt(shot, from), to: labelAt(shot, to) },
          }),
        ),
  );
  const others = props.filter((prop) => prop.isSolid && !held.has(prop));
  const throughs = limbs.map(({ part, points }) => {
    const deepest = others
      .map((prop) => ({ prop, samples: within(shot, prop, points) }))
      .reduce<{ prop: Prop; samples: number[] } | undefined>(
        (a, b) => (b.samples.length > (a?.samples.length ?? 0) ? b : a),
        undefined,
      );
    return deepest
      ? THROUGH.of(roundTo4(framesIn(shot, deepest.samples.length)), {
          part,
          frames: runsOf(shot.motion.frames, (s) => deepest.samples.includes(s)).map(({ from, to }) =>
            labelAt(shot, Math.floor((from + to) / 2)),
          ),
          detail: { prop: deepest.prop.name },
        })
      : THROUGH.of(0, { part, detail: { prop: NOTHING } });
  });
  const clears = others.flatMap((prop) => clearanceOf(shot, prop, limbs) ?? []);
  return together(
    made(...slips),
    made(...throughs),
    clears.length > 0 ? made(...clears) : refuse([CLEAR], 'nothing that stands about is in the way'),
  );
}

/** How near a thing the nearest limb comes; undefined where none does, or one rests on it. */
function clearanceOf(shot: PreparedShot, prop: Prop, limbs: readonly Limb[]): Reading | undefined {
  const percent = 100 / shot.scale.legLength;
  const { starts } = shot.exposures;
  let [nearest, of, at, rests] = [Infinity, limbs[0]?.part, 0, 0];
  starts.forEach((frame, s) => {
    let least = Infinity;
    for (const { part, points, tips } of limbs)
      for (const point of [...points, ...tips]) {
        const far = percent * fromBox(prop, inAxes(prop, frame, point(s)));
        least = Math.min(least, far);
        if (far < nearest) [nearest, of, at] = [far, part, s];
      }
    if (least <= PROPS_DEFAULTS.deep) rests++;
  });
  if (of === undefined || nearest > PROPS_DEFAULTS.far || rests > PROPS_DEFAULTS.rests * starts.length)
    return undefined;
  return CLEAR.of(roundTo4(nearest), { part: of, frames: [labelAt(shot, at)], detail: { prop: prop.name } });
}

/** How far a place in a thing's own axes is from its box. */
const fromBox = ({ half }: Prop, place: Vec3): number =>
  length(place.map((value, k) => Math.max(0, Math.abs(value) - half[k]!)) as unknown as Vec3);

const labelAt = (shot: PreparedShot, s: number): number => shot.firstFrame + shot.exposures.starts[s]!;

type Place = (s: number) => Vec3;

const placeOf =
  ({ motion, world }: PreparedShot, joint: number): Place =>
  (s) =>
    vec3At(world.positions, s * motion.joints.length + joint);

/** The palm: half way from the wrist to where the hand ends, or its fingers begin. */
function palmOf(shot: PreparedShot, hand: number): Place {
  const { motion, world } = shot;
  const { joints } = motion;
  const tips = [...joints[hand]!.ends, ...joints.filter(({ parent }) => parent === hand).map(({ offset }) => offset)];
  const sum = tips.reduce((a, b) => add(a, b), [0, 0, 0] as Vec3);
  const half = tips.length > 0 ? scale(sum, 0.5 / tips.length) : ([0, 0, 0] as Vec3);
  const wrist = placeOf(shot, hand);
  return (s) => add(wrist(s), rotate(quatAt(world.rotations, s * joints.length + hand), half));
}

/** A limb with its joints, and where its last ones end. */
interface Limb {
  readonly part: string;
  readonly points: readonly Place[];
  readonly tips: readonly Place[];
}

/** What of a body may not lie within a thing. */
function limbsOf(shot: PreparedShot): Limb[] {
  const { roles, motion, world } = shot;
  const { joints } = motion;
  const tipsOf = (joint: number): Place[] =>
    joints[joint]!.ends.map((end) => {
      const place = placeOf(shot, joint);
      return (s) => add(place(s), rotate(quatAt(world.rotations, s * joints.length + joint), end));
    });
  const limb = (part: string, own: readonly (number | undefined)[]): Limb[] => {
    const there = own.filter((joint) => joint !== undefined);
    return there.length > 0
      ? [{ part, points: there.map((joint) => placeOf(shot, joint)), tips: there.flatMap(tipsOf) }]
      : [];
  };
  return [
    ...SIDES.flatMap((side) => [
      ...limb(`arm.${side}`, [roles[`hand.${side}`], roles[`foreArm.${side}`]]),
      ...limb(`leg.${side}`, [roles[`shin.${side}`], roles[`foot.${side}`], roles[`toe.${side}`]]),
    ]),
    ...limb('head', [roles.head]),
  ];
}

/** A place in a thing's own axes, from the middle of its box. */
function inAxes({ positions, rotations, centre }: Prop, frame: number, place: Vec3): Vec3 {
  const turned = rotate(conjugate(quatAt(rotations, frame)), subtract(place, vec3At(positions, frame)));
  return subtract(turned, centre);
}

/** Samples at which one of some points lies within a thing. */
function within(shot: PreparedShot, prop: Prop, points: readonly Place[]): number[] {
  const deep = (PROPS_DEFAULTS.deep / 100) * shot.scale.legLength;
  const [x, y, z] = prop.half.map((half) => half - deep) as [number, number, number];
  if (Math.min(x, y, z) <= 0) return [];
  return shot.exposures.starts.flatMap((frame, s) =>
    points.some((point) => {
      const own = inAxes(prop, frame, point(s));
      return Math.abs(own[0]) < x && Math.abs(own[1]) < y && Math.abs(own[2]) < z;
    })
      ? [s]
      : [],
  );
}

function holdsOf(shot: PreparedShot, props: readonly Prop[], palm: Place): Hold[] {
  const { motion, exposures, scale: size, fps } = shot;
  const percent = 100 / size.legLength;
  const { near, moves, frames: least, along, letsGo, letsGoBy } = PROPS_DEFAULTS;
  const perFrame = 24 / fps;
  return props.flatMap((prop) => {
    const local = exposures.starts.map((frame, s) => inAxes(prop, frame, palm(s)));
    const far = local.map((own) => percent * fromBox(prop, own));
    const step = (places: readonly Vec3[], s: number): number =>
      percent * perFrame * length(subtract(places[s]!, places[s - 1]!));
    const palms = exposures.starts.map((_, s) => palm(s));
    // What turns about its own origin moves where the hand is.
    const carried = exposures.starts.map((frame, s) => {
      const before = exposures.starts[Math.max(0, s - 1)]!;
      const own = add(local[Math.max(0, s - 1)]!, prop.centre);
      const place = (f: number): Vec3 => add(vec3At(prop.positions, f), rotate(quatAt(prop.rotations, f), own));
      return percent * perFrame * length(subtract(place(frame), place(before)));
    });
    return runsOf(motion.frames, (s) => far[s]! <= near).flatMap(({ from, to }): Hold[] => {
      // From the first sample at which the thing moves to the last.
      let [a, b] = [from, to];
      while (a < b && carried[a + 1]! < moves) a++;
      while (b > a && carried[b]! < moves) b--;
      const beside = (s: number): number => step(local, s);
      const usual = median(Array.from({ length: b - a }, (_, k) => beside(a + 1 + k)));
      const loose = (s: number): boolean => beside(s) > letsGo * usual + letsGoBy;
      while (a < b && loose(a + 1)) a++;
      while (b > a && loose(b)) b--;
      if ((b - a) * perFrame < least) return [];
      let [own, way] = [0, 0];
      for (let s = a + 1; s <= b; s++) {
        own += beside(s);
        way += step(palms, s);
      }
      if (way === 0 || own > along * way) return [];
      const { slip, at } = farthest(local.slice(a, b + 1));
      return [{ prop, from: a, to: b, slip: percent * slip, at: a + at }];
    });
  });
}

/** The largest distance between two of some places, and which place is farthest from the first; of very many a part. */
function farthest(places: readonly Vec3[]): { slip: number; at: number } {
  const stride = Math.max(1, Math.ceil(places.length / 300));
  const some = places.map((place, k) => ({ place, k })).filter(({ k }) => k % stride === 0);
  let [slip, at, most] = [0, 0, 0];
  for (const { place, k } of some) {
    for (const other of some) slip = Math.max(slip, length(subtract(place, other.place)));
    const off = length(subtract(place, places[0]!));
    if (off > most) [most, at] = [off, k];
  }
  return { slip, at };
}
