import { jointIndex } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { Role } from '../motion/role.ts';
import { partName } from '../say/part-names.ts';
import { Body, type Side } from './body.ts';
import type { QuantityOf } from './measure-quantity.ts';
import { type Quantity, QUANTITIES, QUANTITY_KINDS } from './quantities.ts';

/** Where a quantity is seen on a figure, by joints; of several joints the middle is meant. */
export type DrawnQuantity =
  /** A bend: at a joint, between the part before it and the part behind it. */
  | {
      readonly as: 'bend';
      readonly before: readonly number[];
      readonly at: readonly number[];
      readonly behind: readonly number[];
    }
  /** A direction against upright (or hanging), or level. */
  | {
      readonly as: 'line';
      readonly from: readonly number[];
      readonly to: readonly number[];
      readonly against: 'up' | 'down' | 'level';
    }
  /** A value at a joint, where it is no line that could be drawn. */
  | { readonly as: 'value'; readonly at: readonly number[] };

/** A quantity as it is called: “bend of the left knee”. */
export const quantityName = ({ quantity, of }: QuantityOf): string =>
  `${QUANTITY_KINDS[quantity].name} of ${partName(of)}`;

/** A quantity as one word for programs, and back. */
export const quantityId = ({ quantity, of }: QuantityOf): string => `${quantity}:${of}`;
export function quantityOfId(id: string): QuantityOf | undefined {
  const quantity = QUANTITIES.find((own) => id.startsWith(`${own}:`));
  return quantity && { quantity, of: id.slice(quantity.length + 1) };
}

/** Where a quantity is seen; undefined where the figure lacks what shows it. */
export function drawnQuantity(shot: PreparedShot, { quantity, of }: QuantityOf): DrawnQuantity | undefined {
  const body = new Body(shot);
  if (quantity === 'bend') return bend(body, of);
  if (quantity === 'tilt') {
    const pair = body.pair(of === 'pelvis' ? 'thigh' : 'upperArm');
    return pair && { as: 'line', from: [pair[1]], to: [pair[0]], against: 'level' };
  }
  const direction = AGAINST_UPRIGHT.includes(quantity) ? body.direction(of) : undefined;
  if (direction && 'from' in direction) {
    const stands = ['trunk', 'neck', 'head'].includes(of);
    return { as: 'line', ...direction, against: stands ? 'up' : 'down' };
  }
  const at = WHERE[of]?.map((role) => shot.roles[role]).find((joint) => joint !== undefined);
  const joint = at ?? shot.roles[of as Role] ?? jointIndex(shot.motion, of);
  return joint < 0 ? undefined : { as: 'value', at: [joint] };
}

/** Quantities whose direction is told against upright, or hanging. */
const AGAINST_UPRIGHT: readonly Quantity[] = ['lean', 'side', 'swing', 'spread'];

/** Joints that tell of parts which are no role. */
const WHERE: Readonly<Record<string, readonly Role[]>> = {
  trunk: ['chest', 'spine'],
  pelvis: ['hips'],
  shoulders: ['neck', 'chest'],
};

function bend(body: Body, of: string): DrawnQuantity | undefined {
  const { roles, motion } = body.shot;
  const [part, side] = of.split('.') as [string, Side];
  const limb = LIMBS[part];
  if (limb) {
    const [before, at, behind] = limb.map((role) => roles[`${role}.${side}` as Role]);
    if (before === undefined || at === undefined) return undefined;
    if (behind !== undefined) return { as: 'bend', before: [before], at: [at], behind: [behind] };
    const out = body.outOf(at);
    return out && 'from' in out
      ? { as: 'bend', before: [before], at: [at], behind: out.to }
      : { as: 'value', at: [at] };
  }
  const joint = jointIndex(motion, of);
  const out = joint < 0 ? undefined : body.outOf(joint);
  if (!out) return undefined;
  const { parent } = motion.joints[joint]!;
  return parent >= 0 && 'from' in out
    ? { as: 'bend', before: [parent], at: [joint], behind: out.to }
    : { as: 'value', at: [joint] };
}

const LIMBS: Readonly<Record<string, readonly string[]>> = {
  elbow: ['upperArm', 'foreArm', 'hand'],
  knee: ['thigh', 'shin', 'foot'],
  wrist: ['foreArm', 'hand'],
};
