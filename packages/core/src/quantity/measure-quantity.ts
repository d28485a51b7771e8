import { findContacts } from '../motion/feet/contacts.ts';
import { jointIndex } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { FIGURE_ROLES, type Role } from '../motion/role.ts';
import { figureAxes, wayOf } from '../motion/way.ts';
import { sampled } from '../signal/sampled.ts';
import { mean } from '../signal/statistics.ts';
import { Body, type Direction, type Side, SIDES } from './body.ts';
import { type Quantity, QUANTITIES, QUANTITY_KINDS } from './quantities.ts';

const DEGREES = 180 / Math.PI;

/** A quantity of a part. */
export interface QuantityOf {
  readonly quantity: Quantity;
  /** The part, or the name of a point: `trunk`, `upperArm.L`, a role, or a joint's own name. */
  readonly of: string;
}

/** A quantity's value at a frame, in degrees or %L. */
export interface QuantityValue extends QuantityOf {
  readonly value: number;
  readonly unit: '°' | '%L';
}

/** A quantity that a figure does not show, and why. */
export interface UnmadeQuantity extends QuantityOf {
  readonly why: string;
}

const known = new WeakMap<PreparedShot, Map<string, Float64Array | string>>();

/**
 * A quantity at every sample of a shot, or why the figure does not show it. Worked out once a shot.
 *
 * @example quantitySignal(shot, 'bend', 'knee.L') // degrees a sample: 0 straight, over 0 bent, under 0 bent the wrong way
 */
export function quantitySignal(shot: PreparedShot, quantity: Quantity, of: string): Float64Array | string {
  const own = known.get(shot) ?? new Map<string, Float64Array | string>();
  known.set(shot, own);
  const key = `${quantity} ${of}`;
  const signal = own.get(key) ?? workOut(shot, quantity, of);
  own.set(key, signal);
  return signal;
}

/** Every quantity of a figure at a sample, and those that it does not show. */
export function quantitiesAt(
  shot: PreparedShot,
  sample: number,
): { readonly quantities: QuantityValue[]; readonly unmade: UnmadeQuantity[] } {
  const quantities: QuantityValue[] = [];
  const unmade: UnmadeQuantity[] = [];
  for (const { quantity, of } of quantitiesOf(shot)) {
    const signal = quantitySignal(shot, quantity, of);
    if (typeof signal === 'string') unmade.push({ quantity, of, why: signal });
    else quantities.push({ quantity, of, value: signal[sample]!, unit: QUANTITY_KINDS[quantity].unit });
  }
  return { quantities, unmade };
}

/** Every quantity there is to ask of a figure: of the parts of a body, of its fingers, and of its points. */
export function quantitiesOf(shot: PreparedShot): QuantityOf[] {
  const { joints } = shot.motion;
  const body = new Body(shot);
  const roleAt = new Map(
    FIGURE_ROLES.flatMap((role) => (shot.roles[role] === undefined ? [] : [[shot.roles[role], role]])),
  );
  const points = joints.map(({ name }, j) => roleAt.get(j) ?? name);
  const fingers = SIDES.flatMap((side) => body.fingers(side)).map((j) => joints[j]!.name);
  return QUANTITIES.flatMap((quantity) => {
    const { of } = QUANTITY_KINDS[quantity];
    const parts = of === 'points' ? points : quantity === 'bend' ? [...of, ...fingers] : of;
    return parts.map((part) => ({ quantity, of: part }));
  });
}

function workOut(shot: PreparedShot, quantity: Quantity, of: string): Float64Array | string {
  const kind = QUANTITY_KINDS[quantity];
  if (shot.isFlat && kind.unseen) return 'it needs depth, which a picture does not show';
  const body = new Body(shot);
  if (kind.of === 'points') return placeOf(body, quantity, of);
  if (quantity === 'bend') return bendOf(body, of);
  if (!kind.of.includes(of)) return `there is no ${kind.name} of “${of}”`;
  const direction = directionOf(body, quantity, of);
  if (!direction) return `${WANTS[of.split('.')[0]!] ?? of} is not known; set the roles`;
  if (!shot.hasTurns && of === 'head') return 'a point does not show how what it lies on turns by itself';
  const at = directionAt(shot, direction);
  if (isShort(at(0))) return `${WANTS[of.split('.')[0]!] ?? of} has no length`;
  return anglesOf(shot, at, projection(quantity, of));
}

/** A direction this short is none: its joints lie in one place. */
const isShort = ([x, y, z]: readonly number[]): boolean => Math.hypot(x!, y!, z!) < 1e-9;

/** What each part is told by. */
const WANTS: Readonly<Record<string, string>> = {
  trunk: 'the hips or the neck',
  neck: 'the neck or the head',
  head: 'the head',
  pelvis: 'the hips',
  chest: 'the chest',
  shoulders: 'an upper arm',
  thigh: 'the thigh or the shin',
  shin: 'the shin or the foot',
  foot: 'the foot',
  upperArm: 'the upper arm or the forearm',
};

/** The direction whose angle a quantity is; undefined where the figure lacks what shows it. */
export function directionOf(body: Body, quantity: Quantity, of: string): Direction | undefined {
  const { axes } = body.shot;
  const facing = (joint: number | undefined): Direction | undefined =>
    joint === undefined ? undefined : { joint, local: axes.forward };
  if (quantity === 'turn' && of !== 'shoulders') {
    const joint =
      of === 'pelvis' ? body.joint('hips') : of === 'chest' ? body.joint('chest', 'spine') : body.joint('head');
    return facing(joint);
  }
  if (quantity === 'turn' || quantity === 'tilt') {
    const pair = body.pair(of === 'pelvis' ? 'thigh' : 'upperArm');
    return pair && { from: [pair[1]], to: [pair[0]] };
  }
  if (quantity === 'pitch') return of === 'head' ? facing(body.joint('head')) : body.sole(of.slice(-1) as Side);
  return body.direction(of);
}

/** A direction's parts in the figure's own axes: forward, left, up. */
const FORWARD = 0;
const LEFT = 1;
const UP = 2;

/** An angle in a plane: atan2 of one part of the direction over another, each with its sign. */
export interface Projection {
  readonly over: readonly [part: number, sign: 1 | -1];
  readonly under: readonly [part: number, sign: 1 | -1];
}

/** The plane in which a quantity is seen, and from where its angle is told. */
export function projection(quantity: Quantity, of: string): Projection {
  const hangs = !['trunk', 'neck', 'head'].includes(of);
  const along: Projection['under'] = [UP, hangs ? -1 : 1];
  switch (quantity) {
    case 'lean':
    case 'swing':
      return { over: [FORWARD, 1], under: along };
    case 'side':
      return { over: [LEFT, 1], under: along };
    case 'spread':
      return { over: [LEFT, of.endsWith('.R') ? -1 : 1], under: along };
    case 'tilt':
      return { over: [UP, 1], under: [LEFT, 1] };
    case 'pitch':
      return { over: [UP, of === 'head' ? -1 : 1], under: [FORWARD, 1] };
    default:
      // The shoulders' line points to the left of what they face.
      return of === 'shoulders' ? { over: [FORWARD, -1], under: [LEFT, 1] } : { over: [LEFT, 1], under: [FORWARD, 1] };
  }
}

/** An angle at every sample: no list is made a sample. */
function anglesOf(
  shot: PreparedShot,
  at: (sample: number) => readonly number[],
  { over: [a, signA], under: [b, signB] }: Projection,
): Float64Array {
  const { axes, loop, motion } = shot;
  const way = wayOf(shot);
  const period = way.turn.length;
  const axis = [axes.up, axes.up, axes.up];
  const angles = new Float64Array(motion.frames);
  const part = (v: readonly number[], k: number): number => {
    const own = axis[k]!;
    return v[0]! * own[0] + v[1]! * own[1] + v[2]! * own[2];
  };
  for (let sample = 0; sample < motion.frames; sample++) {
    // A loop's repeated last frame faces as its first.
    const s = loop === 'none' ? sample : sample % period;
    axis[FORWARD] = way.forward(s);
    axis[LEFT] = way.left(s);
    const v = at(sample);
    angles[sample] = DEGREES * Math.atan2(signA * part(v, a), signB * part(v, b));
  }
  return angles;
}

/** Reads a direction at a sample, in the file's axes; not of length 1, and the same list at every call. */
export function directionAt(
  { motion, world }: Pick<PreparedShot, 'motion' | 'world'>,
  direction: Direction,
): (sample: number) => readonly number[] {
  const n = motion.joints.length;
  const out = [0, 0, 0];
  if ('joint' in direction) {
    const { joint, local } = direction;
    const q = world.rotations;
    return (sample) => {
      const k = 4 * (sample * n + joint);
      const x = q[k]!;
      const y = q[k + 1]!;
      const z = q[k + 2]!;
      const w = q[k + 3]!;
      const [vx, vy, vz] = local;
      const tx = 2 * (y * vz - z * vy);
      const ty = 2 * (z * vx - x * vz);
      const tz = 2 * (x * vy - y * vx);
      out[0] = vx + w * tx + y * tz - z * ty;
      out[1] = vy + w * ty + z * tx - x * tz;
      out[2] = vz + w * tz + x * ty - y * tx;
      return out;
    };
  }
  const p = world.positions;
  const { from, to } = direction;
  if (from.length === 1 && to.length === 1) {
    const a = from[0]!;
    const b = to[0]!;
    return (sample) => {
      const i = 3 * (sample * n + a);
      const k = 3 * (sample * n + b);
      out[0] = p[k]! - p[i]!;
      out[1] = p[k + 1]! - p[i + 1]!;
      out[2] = p[k + 2]! - p[i + 2]!;
      return out;
    };
  }
  return (sample) => {
    for (let c = 0; c < 3; c++) {
      let [a, b] = [0, 0];
      for (const j of from) a += p[3 * (sample * n + j) + c]!;
      for (const j of to) b += p[3 * (sample * n + j) + c]!;
      out[c] = b / to.length - a / from.length;
    }
    return out;
  };
}

/** A bend that lies less than this against the way a joint bends is still one to the side, and no bend the wrong way. */
export const WRONG_WAY = -0.35;

/** The angle between the parts before and behind a joint: over 0 bent as it bends, under 0 the wrong way. */
function bendOf(body: Body, of: string): Float64Array | string {
  const { shot } = body;
  const parts = bendParts(body, of);
  if (typeof parts === 'string') return parts;
  const { upper, lower, towards } = parts;
  const [u, v, t] = [directionAt(shot, upper), directionAt(shot, lower), towards && directionAt(shot, towards)];
  return sampled(shot.motion.frames, (s) => {
    const [a, b] = [u(s), v(s)];
    const ux = a[0]!;
    const uy = a[1]!;
    const uz = a[2]!;
    const vx = b[0]!;
    const vy = b[1]!;
    const vz = b[2]!;
    const cx = uy * vz - uz * vy;
    const cy = uz * vx - ux * vz;
    const cz = ux * vy - uy * vx;
    const across = Math.sqrt(cx * cx + cy * cy + cz * cz);
    const along = ux * vx + uy * vy + uz * vz;
    const size = DEGREES * Math.atan2(across, along);
    if (!t || across === 0) return size;
    // The lower part's way out of the upper one's line, beside the way the joint bends.
    const square = ux * ux + uy * uy + uz * uz;
    const wx = vx - (along / square) * ux;
    const wy = vy - (along / square) * uy;
    const wz = vz - (along / square) * uz;
    const way = t(s);
    const with_ = (wx * way[0]! + wy * way[1]! + wz * way[2]!) / Math.sqrt(wx * wx + wy * wy + wz * wz);
    return with_ < WRONG_WAY ? -size : size;
  });
}

/** What a bend lies between; or why the figure does not show it. */
export function bendParts(body: Body, of: string): BendParts | string {
  const { shot } = body;
  const [part, side] = of.split('.') as [string, Side | undefined];
  const limb = LIMBS[part];
  const finger = limb ? undefined : jointIndex(shot.motion, of);
  if (!limb && (finger === undefined || finger < 0)) return `there is no joint called “${of}”`;
  const parent = finger === undefined ? undefined : shot.motion.joints[finger]!.parent;
  const upper = limb
    ? body.direction(`${limb[0]}.${side}`)
    : parent! >= 0
      ? { from: [parent!], to: [finger!] }
      : undefined;
  const lower = limb ? body.direction(`${limb[1]}.${side}`) : body.outOf(finger);
  if (!upper || !lower) return `${limb?.[2] ?? `what “${of}” bends`} is not known; set the roles`;
  const hand = SIDES.find((own) => (part === 'wrist' ? side === own : body.fingers(own).includes(finger ?? -1)));
  const towards = limb && part !== 'wrist' ? body.bendsTowards(of) : hand && body.palm(hand);
  if ([upper, lower].some((own) => isShort(directionAt(shot, own)(0)))) return 'it has no length';
  return { upper, lower, towards };
}

/** What a bend lies between: the parts before and behind its joint, and the way it bends. */
export interface BendParts {
  readonly upper: Direction;
  readonly lower: Direction;
  readonly towards: Direction | undefined;
}

const LIMBS: Readonly<Record<string, readonly [upper: string, lower: string, wants: string]>> = {
  elbow: ['upperArm', 'foreArm', 'the elbow'],
  knee: ['thigh', 'shin', 'the knee'],
  wrist: ['foreArm', 'hand', 'the hand, or where it ends,'],
};

/** Height over the ground, or the way ahead or to the left of the middle between the hip joints; the hips' own from their mean way. */
function placeOf(body: Body, quantity: Quantity, of: string): Float64Array | string {
  const { shot } = body;
  const { motion, world, axes, scale } = shot;
  const joint = shot.roles[of as Role] ?? jointIndex(motion, of);
  if (joint < 0) return `there is no joint called “${of}”`;
  if (!motion.joints.some(({ offset, ends }) => [offset, ...ends].some((own) => !isShort(own))) && !shot.isFlat)
    return 'the figure has no size';
  const n = motion.joints.length;
  const p = world.positions;
  const percent = 100 / scale.legLength;
  const along = (j: number, s: number, axis: readonly number[]): number => {
    const k = 3 * (s * n + j);
    return p[k]! * axis[0]! + p[k + 1]! * axis[1]! + p[k + 2]! * axis[2]!;
  };
  if (quantity === 'height') {
    const { ground } = findContacts(shot);
    return sampled(motion.frames, (s) => percent * (along(joint, s, axes.up) - ground));
  }
  const middle = body.hipMiddle;
  if (!middle) return 'the hips are not known; set the roles';
  const axis = (s: number): readonly number[] => figureAxes(shot, s)[quantity === 'ahead' ? FORWARD : LEFT];
  if (joint === shot.roles.hips) {
    const step = (s: number): number => along(joint, s + 1, axis(s)) - along(joint, s, axis(s));
    return ownWay(body, percent, step);
  }
  return sampled(motion.frames, (s) => {
    const a = axis(s);
    let hips = 0;
    for (const j of middle) hips += along(j, s, a);
    return percent * (along(joint, s, a) - hips / middle.length);
  });
}

/** The hips beside their own mean way, step by step along the way they go: a straight line through the middle of all they do, where they travel. */
function ownWay(body: Body, percent: number, step: (sample: number) => number): Float64Array {
  const { frames } = body.shot.motion;
  const places = new Float64Array(frames);
  for (let s = 0; s + 1 < frames; s++) places[s + 1] = places[s]! + percent * step(s);
  const own = places.subarray(0, body.samples);
  const middle = (own.length - 1) / 2;
  let [across, square] = [0, 0];
  for (let s = 0; s < own.length; s++) {
    across += (s - middle) * own[s]!;
    square += (s - middle) ** 2;
  }
  const slope = Math.abs(own[own.length - 1]! - own[0]!) > TRAVELS && square > 0 ? across / square : 0;
  const usual = mean(own);
  return places.map((place, s) => place - usual - slope * (s - middle));
}

/** Hips that end farther than this from where they began, %L, go somewhere. */
const TRAVELS = 25;
