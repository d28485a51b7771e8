import { GAITS, KINDS } from '../../motion/kinds.ts';
import { restPositions } from '../../motion/motion.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate, vec3At } from '../../motion/quaternion.ts';
import { add, angleBetweenDirections, dot, normalise, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { Body } from '../../quantity/body.ts';
import { quantitySignal } from '../../quantity/measure-quantity.ts';
import type { Quantity } from '../../quantity/quantities.ts';
import { sampled } from '../../signal/sampled.ts';
import { partName } from '../../say/part-names.ts';
import { degrees, ofLeg } from '../../say/words.ts';
import { describeReading, holding, type ReadingKind } from '../describe.ts';
import { made, type Measured, type Reading, refuse, roundTo4, together } from '../reading.ts';
import { type Extremes, OF_A_BODY, sizedOver } from './over-cycles.ts';

const shared = { ...OF_A_BODY, kinds: KINDS } as const;

/** Which way something is off: “12° forward”, “3° back”. */
const leaning = (value: number, plus: string, minus: string): string =>
  `${degrees(Math.abs(value))} ${value < 0 ? minus : plus}`;

/** Whether what carries a part is off to the same side as the part. */
const isSameWay = (cause: Reading, effect: Reading): boolean =>
  cause.part !== effect.part && Number(cause.value) * Number(effect.value) > 0;

const LEAN = describeReading({
  ...shared,
  id: 'posture.lean',
  holds: holding<number, Extremes>(),
  name: 'lean of the trunk',
  sign: 'forward',
  needs: 'hips and a neck',
  shows: 'chest',
  quantity: { quantity: 'lean', of: () => 'trunk', amount: 'mean' },
  explains: { 'posture.head': 'always', 'size.lean': 'always', 'size.tilt': 'always' },
  say: ({ value }, _, told) =>
    told && told.side !== 0
      ? `the trunk leans ${told.side > 0 ? 'too far forward' : value < 0 ? 'back' : 'too little'}: ${leaning(value, 'forward', 'back')} on average`
      : `the trunk leans ${leaning(value, 'forward', 'back')} on average`,
});
const SIDE = describeReading({
  ...shared,
  id: 'posture.side',
  holds: holding<number, Extremes>(),
  name: 'lean of the trunk to the side',
  sign: 'to the left',
  needs: 'hips and a neck',
  shows: 'chest',
  unseen: 'depth',
  quantity: { quantity: 'side', of: () => 'trunk', amount: 'mean' },
  explains: { 'mirror.off': 'always' },
  say: ({ value }) => `the trunk leans ${leaning(value, 'to the left', 'to the right')} on average`,
});
const HEAD = describeReading({
  ...shared,
  id: 'posture.head',
  holds: holding<number, Extremes>(),
  name: 'pitch of the head',
  sign: 'down',
  needs: 'a head',
  shows: 'head',
  unseen: 'own turn',
  quantity: { quantity: 'pitch', of: () => 'head', amount: 'mean' },
  say: ({ value }, _, told) =>
    told && told.side !== 0
      ? `the head ${value > 0 ? 'hangs' : 'is thrown back'}: it looks ${leaning(value, 'down', 'up')} on average`
      : `the head looks ${leaning(value, 'down', 'up')} on average`,
});
const ASIDE = describeReading({
  ...shared,
  id: 'posture.aside',
  holds: holding<number, Extremes>(),
  name: 'head turned from the way it goes',
  sign: 'to the left',
  needs: 'a head',
  shows: 'head',
  unseen: 'depth',
  quantity: { quantity: 'turn', of: () => 'head', amount: 'mean' },
  explains: { 'mirror.off': 'always' },
  say: ({ value }) => `the head faces ${leaning(value, 'to the left', 'to the right')} of the way it goes, on average`,
});
const TILT = describeReading({
  ...shared,
  id: 'posture.tilt',
  holds: holding<number, Extremes>(),
  name: 'tilt of the head',
  sign: 'to the left',
  needs: 'a head',
  shows: 'head',
  unseen: 'depth',
  quantity: { quantity: 'side', of: () => 'head', amount: 'mean' },
  explains: { 'mirror.off': 'always' },
  say: ({ value }) => `the head is tilted ${leaning(value, 'to the left', 'to the right')} on average`,
});
const NECK = describeReading({
  ...shared,
  id: 'posture.neck',
  holds: holding<number, Extremes>(),
  name: 'neck stretched forward',
  sign: 'forward',
  needs: 'a neck and a head',
  shows: 'head',
  unseen: 'depth',
  say: ({ value }) =>
    `the neck is ${value < 0 ? 'drawn back' : 'stretched forward'} by ${degrees(Math.abs(value))} on average, beside how it rests`,
});
const TURN = describeReading({
  ...shared,
  id: 'posture.turn',
  holds: holding<number, Extremes>(),
  name: 'turned from the way it goes',
  sign: 'to the left',
  needs: 'hips and a chest',
  unseen: 'depth',
  quantity: { quantity: 'turn', of: (part) => part ?? 'chest', amount: 'mean' },
  explains: {
    'posture.turn': (cause, effect) => cause.part === 'pelvis' && isSameWay(cause, effect),
    'posture.aside': (cause, effect) => isSameWay(cause, effect),
    'mirror.off': 'always',
  },
  say: ({ value }, part) =>
    `${part} faces ${leaning(value, 'to the left', 'to the right')} of the way it goes, on average`,
});
const ARM = describeReading({
  ...shared,
  id: 'posture.arm',
  holds: holding<number, Extremes>(),
  name: 'arm held forward',
  sign: 'forward',
  kinds: GAITS,
  needs: 'arms',
  quantity: { quantity: 'swing', of: (part) => part?.replace('arm', 'upperArm') ?? 'upperArm.L', amount: 'mean' },
  explains: {
    'size.spread': 'of the same part',
    'size.flap': 'of the same part',
    'gait.opposition': 'of the same part',
    'mirror.off': 'always',
  },
  say: ({ value, part }) =>
    `${partName(part)} is held ${degrees(Math.abs(value))} ${value < 0 ? 'back' : 'forward'} on average`,
});
const SHRUG = describeReading({
  ...shared,
  id: 'posture.shrug',
  holds: holding<number, Extremes>(),
  name: 'shoulder raised',
  unit: '%L',
  sign: 'up',
  needs: 'a chest and shoulders',
  unseen: 'own turn',
  tells: (part) => part.replace('arm', 'shoulder'),
  say: ({ value, part }) =>
    `${partName(part?.replace('arm', 'shoulder'))} is ${ofLeg(Math.abs(value))} ${value < 0 ? 'lower' : 'higher'} than at rest`,
});
const WRIST = describeReading({
  ...shared,
  id: 'wrist.bend',
  holds: holding<number, Extremes>(),
  name: 'bend of the wrist',
  sign: 'towards the palm',
  needs: 'hands that end in something',
  unseen: 'end of the chain',
  quantity: { quantity: 'bend', of: (part) => part?.replace('arm', 'wrist') ?? 'wrist.L', amount: 'mean' },
  say: ({ value, part }) => `${partName(part?.replace('arm', 'wrist'))} is bent by ${degrees(value)} on average`,
});

export const POSTURES = [LEAN, SIDE, HEAD, ASIDE, TILT, NECK, TURN, ARM, SHRUG, WRIST] as const;

/** Posture: what a body holds on average over a cycle, or over the shot. */
export function measurePosture(shot: PreparedShot): Measured {
  return together(
    meanOf(shot, LEAN, 'lean', 'trunk', 'spine'),
    meanOf(shot, SIDE, 'side', 'trunk', 'spine'),
    meanOf(shot, HEAD, 'pitch', 'head', 'head'),
    meanOf(shot, ASIDE, 'turn', 'head', 'head'),
    tilt(shot),
    neck(shot),
    ...['pelvis', 'chest'].map((part) => meanOf(shot, TURN, 'turn', part, part)),
    ...(['L', 'R'] as const).map((side) => meanOf(shot, ARM, 'swing', `upperArm.${side}`, `arm.${side}`)),
    ...(['L', 'R'] as const).map((side) => shrug(shot, side)),
    ...(['L', 'R'] as const).map((side) => meanOf(shot, WRIST, 'bend', `wrist.${side}`, `arm.${side}`)),
  );
}

function meanOf(
  shot: PreparedShot,
  kind: Pick<ReadingKind<string, number, Extremes>, 'of' | 'id'>,
  quantity: Quantity,
  of: string,
  part: string,
): Measured {
  const signal = quantitySignal(shot, quantity, of);
  if (typeof signal === 'string') return { readings: [], unmade: [{ id: kind.id, part, why: signal }] };
  const { mean, extremes } = sizedOver(shot, signal);
  return made(kind.of(roundTo4(mean), { part, frames: [farthest(mean, extremes)], detail: extremes }));
}

/** The frame at which it is most so. */
const farthest = (mean: number, { lowest, highest, lowestAt, highestAt }: Extremes): number =>
  Math.round(mean < 0 && Math.abs(lowest) > Math.abs(highest) ? lowestAt : highestAt);

/** A head has a tilt where its figure has a size: what has none stands no way up. */
function tilt(shot: PreparedShot): Measured {
  const trunk = quantitySignal(shot, 'side', 'trunk');
  return typeof trunk === 'string' ? refuse([TILT], trunk, 'head') : meanOf(shot, TILT, 'side', 'head', 'head');
}

/** How far the neck leans beyond the trunk, less what it does at rest: necks are built upright or bent forward. */
function neck(shot: PreparedShot): Measured {
  const [own, below] = [quantitySignal(shot, 'lean', 'neck'), quantitySignal(shot, 'lean', 'trunk')];
  if (typeof own === 'string') return refuse([NECK], own, 'neck');
  if (typeof below === 'string') return refuse([NECK], below, 'neck');
  const atRest = neckAtRest(shot);
  const { mean, extremes } = sizedOver(
    shot,
    own.map((lean, s) => lean - below[s]! - atRest),
  );
  return made(NECK.of(roundTo4(mean), { part: 'neck', frames: [farthest(mean, extremes)], detail: extremes }));
}

/** Degrees that the neck leans forward of the trunk in the rest pose, whichever way that faces. */
function neckAtRest(shot: PreparedShot): number {
  const body = new Body(shot);
  const rest = restPositions(shot.motion.joints);
  const middle = (joints: readonly number[]): Vec3 =>
    scale(
      joints.reduce<Vec3>((sum, j) => add(sum, vec3At(rest, j)), [0, 0, 0]),
      1 / joints.length,
    );
  const [neck, trunk] = ['neck', 'trunk'].map((part) => {
    const direction = body.direction(part);
    return direction && !('joint' in direction) ? subtract(middle(direction.to), middle(direction.from)) : undefined;
  });
  if (!neck || !trunk) return 0;
  const angle = angleBetweenDirections(neck, trunk);
  return dot(subtract(normalise(neck), normalise(trunk)), shot.axes.forward) < 0 ? -angle : angle;
}

/** How far a shoulder joint lies over where it rests on the chest, along the chest's own up. */
function shrug(shot: PreparedShot, side: 'L' | 'R'): Measured {
  const { roles, motion, world, axes, scale } = shot;
  const [chest, joint] = [roles.chest ?? roles.spine, roles[`upperArm.${side}`]];
  const part = `arm.${side}`;
  if (chest === undefined || joint === undefined)
    return refuse([SHRUG], 'the chest or the upper arm is not known; set the roles', part);
  const n = motion.joints.length;
  const rest = restPositions(motion.joints);
  const atRest = dot(subtract(vec3At(rest, joint), vec3At(rest, chest)), axes.up);
  const signal = sampled(motion.frames, (s) => {
    const over = subtract(vec3At(world.positions, s * n + joint), vec3At(world.positions, s * n + chest));
    return (100 * (dot(over, rotate(quatAt(world.rotations, s * n + chest), axes.up)) - atRest)) / scale.legLength;
  });
  const { mean, extremes } = sizedOver(shot, signal);
  return made(SHRUG.of(roundTo4(mean), { part, frames: [farthest(mean, extremes)], detail: extremes }));
}
