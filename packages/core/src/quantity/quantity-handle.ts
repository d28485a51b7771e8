import { jointIndex } from '../motion/motion.ts';
import type { WorldPose } from '../motion/pose.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { vec3At } from '../motion/quaternion.ts';
import type { Role } from '../motion/role.ts';
import { add, dot, length, normalise, reject, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { figureAxes } from '../motion/way.ts';
import { Body, type Direction } from './body.ts';
import {
  type BendParts,
  bendParts,
  directionAt,
  directionOf,
  projection,
  type QuantityOf,
  quantitySignal,
  WRONG_WAY,
} from './measure-quantity.ts';

/** What a quantity is pulled by at a sample: a place on the figure that goes where the quantity wants it. Places in the file's axes and units. */
export interface QuantityHandle {
  /** What it turns about, or where the way to it begins. */
  readonly pivot: Vec3;
  /** Where it lies now. */
  readonly at: Vec3;
  /** Where it would lie with another value, degrees or %L. */
  placeFor(value: number): Vec3;
  /** The value with which it would lie nearest to a place. */
  valueAt(place: Vec3): number;
}

const DEGREES = 180 / Math.PI;

/** How far from its joint a direction is taken hold of that has no length of its own: a head's, a foot's. Share of leg length. */
const REACH = 0.4;

/**
 * The place that a quantity is pulled by: the lower end of a limb, the neck of a trunk, the joint of a height.
 *
 * @param world the pose of one frame that is meant; the shot's own at the sample where it is left out
 * @returns undefined where the figure does not show the quantity
 * @example quantityHandle(shot, 4, { quantity: 'bend', of: 'knee.L' })!.placeFor(0) // where the ankle lies with a straight leg
 */
export function quantityHandle(
  shot: PreparedShot,
  sample: number,
  asked: QuantityOf,
  world?: WorldPose,
): QuantityHandle | undefined {
  return quantityHandles(shot, asked)?.(sample, world);
}

/** The handles of a quantity at any sample: what does not change with it is worked out once. */
export function quantityHandles(
  shot: PreparedShot,
  { quantity, of }: QuantityOf,
): ((sample: number, world?: WorldPose) => QuantityHandle | undefined) | undefined {
  const signal = quantitySignal(shot, quantity, of);
  if (typeof signal === 'string') return undefined;
  const body = new Body(shot);
  const posedAt = (sample: number, world?: WorldPose): Posed => ({
    shot,
    world: world ?? shot.world,
    row: world ? 0 : sample,
  });
  if (quantity === 'height' || quantity === 'shift' || quantity === 'ahead') {
    const joint = shot.roles[of as Role] ?? jointIndex(shot.motion, of);
    const unit = shot.scale.legLength / 100;
    return (sample, world) => {
      const axis = figureAxes(shot, sample)[PLACES[quantity]];
      const at = placeOf(posedAt(sample, world), [joint]);
      const was = placeOf(posedAt(sample), [joint]);
      return along(at, axis, signal[sample]! + dot(subtract(at, was), axis) / unit, unit);
    };
  }
  if (quantity === 'bend') {
    const parts = bendParts(body, of);
    return typeof parts === 'string' ? undefined : (sample, world) => bending(posedAt(sample, world), parts);
  }
  const direction = directionOf(body, quantity, of);
  if (!direction) return undefined;
  const { over, under } = projection(quantity, of);
  return (sample, world) => {
    const axes = figureAxes(shot, sample);
    const [zero, quarter] = [under, over].map(([k, sign]) => scale(axes[k]!, sign)) as [Vec3, Vec3];
    const posed = posedAt(sample, world);
    return turning(originOf(posed, direction), grasped(posed, direction), zero, quarter);
  };
}

const PLACES = { ahead: 0, shift: 1, height: 2 } as const;

/** A pose: a frame of a world. */
interface Posed {
  readonly shot: PreparedShot;
  readonly world: WorldPose;
  readonly row: number;
}

function bending(posed: Posed, { upper, lower, towards }: BendParts): QuantityHandle | undefined {
  const u = normalise(read(posed, upper));
  const v = grasped(posed, lower);
  const out = reject(v, u);
  const bends = towards && reject(read(posed, towards), u);
  // A straight limb shows no way out of its line, and one that is bent the wrong way the wrong one: it bends as such a joint does.
  const straight = length(out) < 1e-6 * length(v);
  const way = straight ? bends : bends && dot(normalise(out), normalise(bends)) < WRONG_WAY ? scale(out, -1) : out;
  return way && turning(originOf(posed, lower), v, u, normalise(way));
}

const read = ({ shot: { motion }, world, row }: Posed, direction: Direction): Vec3 =>
  [...directionAt({ motion, world }, direction)(row)] as unknown as Vec3;

/** A direction as long as what shows it; an axis that is fixed to a joint as long as it is taken hold of. */
function grasped(posed: Posed, direction: Direction): Vec3 {
  const v = read(posed, direction);
  return 'joint' in direction ? scale(normalise(v), REACH * posed.shot.scale.legLength) : v;
}

const originOf = (posed: Posed, direction: Direction): Vec3 =>
  placeOf(posed, 'joint' in direction ? [direction.joint] : direction.from);

function placeOf({ shot, world, row }: Posed, joints: readonly number[]): Vec3 {
  const n = shot.motion.joints.length;
  const sum = joints.reduce<Vec3>((own, j) => add(own, vec3At(world.positions, row * n + j)), [0, 0, 0]);
  return scale(sum, 1 / joints.length);
}

/** A place that goes along an axis, so many units for 1. */
function along(at: Vec3, axis: Vec3, now: number, unit: number): QuantityHandle {
  return {
    pivot: subtract(at, scale(axis, now * unit)),
    at,
    placeFor: (value) => add(at, scale(axis, (value - now) * unit)),
    valueAt: (place) => now + dot(subtract(place, at), axis) / unit,
  };
}

/** A place that turns about a pivot in the plane of two axes: at `zero` the angle is 0, at `quarter` 90 degrees. What lies across the plane stays. */
function turning(pivot: Vec3, v: Vec3, zero: Vec3, quarter: Vec3): QuantityHandle {
  const [a, b] = [dot(v, zero), dot(v, quarter)];
  const across = subtract(v, add(scale(zero, a), scale(quarter, b)));
  const radius = Math.hypot(a, b);
  return {
    pivot,
    at: add(pivot, v),
    placeFor(value) {
      const angle = value / DEGREES;
      const inPlane = add(scale(zero, radius * Math.cos(angle)), scale(quarter, radius * Math.sin(angle)));
      return add(pivot, add(across, inPlane));
    },
    valueAt(place) {
      const from = subtract(place, pivot);
      return DEGREES * Math.atan2(dot(from, quarter), dot(from, zero));
    },
  };
}
