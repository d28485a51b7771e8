import { findContacts } from '../motion/feet/contacts.ts';
import { conjugate, quatAt, rotate, shortestTurn, slerp } from '../motion/quaternion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { Role } from '../motion/role.ts';
import { ancestors, isAncestor } from '../motion/roles.ts';
import { length, subtract, type Vec3 } from '../motion/vector.ts';
import { Body } from '../quantity/body.ts';
import { LoosePose } from './loose-pose.ts';
import { type Limb, reachWith } from './two-bone.ts';

export const PULL_DEFAULTS = Object.freeze({
  /** A trunk is bent to a place in so many rounds over its joints … */
  rounds: 24,
  /** … each time by this share of what would bring it there at once, so that every joint takes its part. */
  share: 0.35,
});

type Side = 'L' | 'R';
const SIDES: readonly Side[] = ['L', 'R'];
const TRUNK: readonly Role[] = ['spine', 'chest', 'neck'];

/**
 * A figure's pose with one of its joints pulled to a place, as somebody would bend a puppet: a hand or foot by its limb, which bends in the plane it is
 * bent in; the hips with all that hangs from them, while feet that stand stay where they are; the chest, neck or head by the trunk below; anything else
 * by turning what it hangs from. No bone changes its length; a place that is too far is reached for.
 *
 * @param sample where the pose stands in the shot: which feet stand is told by it
 * @param joint the joint that is pulled
 * @param target where it should be, in the file's axes and units
 * @throws RangeError where nothing about the joint can be moved
 * @example pullJoint(shot, 6, LoosePose.at(shot.motion, 6), hand, [20, 120, 35])
 */
export function pullJoint(shot: PreparedShot, sample: number, pose: LoosePose, joint: number, target: Vec3): LoosePose {
  const { roles, motion } = shot;
  const limb = limbEndingAt(shot, joint);
  if (limb) return pulledLimb(shot, pose, limb, target);
  if (joint === roles.hips || motion.joints[joint]!.parent < 0) return pulledHips(shot, sample, pose, joint, target);
  const trunk = joint === roles.chest || joint === roles.neck || joint === roles.head ? trunkBelow(shot, joint) : [];
  if (trunk.length > 0) return bentTo(pose, trunk, joint, target);
  return turnedTo(pose, motion.joints, joint, target);
}

interface OwnLimb extends Limb {
  readonly side: Side;
  readonly of: 'arm' | 'leg';
}

const LIMBS = { arm: ['upperArm', 'foreArm', 'hand'], leg: ['thigh', 'shin', 'foot'] } as const;

/** The limb of a side, where the figure has all three of its joints in a row. */
function limbOf({ roles, motion }: PreparedShot, of: 'arm' | 'leg', side: Side): OwnLimb | undefined {
  const [upper, middle, end] = LIMBS[of].map((role) => roles[`${role}.${side}`]);
  if (upper === undefined || middle === undefined || end === undefined) return undefined;
  const inRow = isAncestor(motion.joints, upper, middle) && isAncestor(motion.joints, middle, end);
  return inRow ? { side, of, upper, middle, end } : undefined;
}

const limbEndingAt = (shot: PreparedShot, joint: number): OwnLimb | undefined =>
  SIDES.flatMap((side) => (['arm', 'leg'] as const).map((of) => limbOf(shot, of, side))).find(
    (limb) => limb?.end === joint,
  );

function pulledLimb(shot: PreparedShot, pose: LoosePose, limb: OwnLimb, target: Vec3): LoosePose {
  const reached = reachWith(pose, limb, target, bendsTowards(shot, pose, limb));
  // A foot keeps lying as it lay; a hand goes with its forearm.
  return limb.of === 'leg' ? reached.facing(limb.end, pose.turn(limb.end)) : reached;
}

/** The way a straight limb bends: as it does at rest. */
function bendsTowards(shot: PreparedShot, pose: LoosePose, { of, side, upper }: OwnLimb): Vec3 {
  const own = new Body(shot).bendsTowards(`${of === 'leg' ? 'knee' : 'elbow'}.${side}`);
  return own && 'joint' in own ? rotate(pose.turn(own.joint), own.local) : rotate(pose.turn(upper), shot.axes.forward);
}

/** Moves the hips, and puts feet that stand back where they stood. */
function pulledHips(shot: PreparedShot, sample: number, pose: LoosePose, joint: number, target: Vec3): LoosePose {
  const moved = carriedBy(shot, pose, joint, subtract(target, pose.place(joint)));
  if (!moved) throw new RangeError('nothing that carries the hips moves by itself');
  return standingFeet(shot, sample).reduce((own, limb) => {
    const back = pulledLimb(shot, own, limb, pose.place(limb.end));
    return back.facing(limb.end, pose.turn(limb.end));
  }, moved);
}

/** A pose with what carries a joint moved by so much of the file's axes; undefined where nothing that carries it moves by itself. */
export function carriedBy(
  { motion: { joints } }: PreparedShot,
  pose: LoosePose,
  joint: number,
  by: Vec3,
): LoosePose | undefined {
  const carrier = [joint, ...ancestors(joints, joint)].find((own) => pose.ownPlace(own) !== undefined);
  if (carrier === undefined) return undefined;
  const { parent } = joints[carrier]!;
  return pose.moved(carrier, parent < 0 ? by : rotate(conjugate(pose.turn(parent)), by));
}

/** Legs whose foot stands at a sample. */
function standingFeet(shot: PreparedShot, sample: number): OwnLimb[] {
  if (shot.fourLegs || shot.isFlat) return [];
  const { feet } = findContacts(shot);
  const at = shot.loop === 'none' ? sample : sample % shot.period;
  return SIDES.flatMap((side) => {
    const limb = limbOf(shot, 'leg', side);
    // Of a loop a stand goes on past its end.
    const stands = (feet[side] ?? []).some(({ from, to }) => [at, at + shot.period].some((s) => s >= from && s <= to));
    return limb && stands ? [limb] : [];
  });
}

/** Joints of the trunk that carry another one, lowest first. */
const trunkBelow = ({ roles, motion }: PreparedShot, joint: number): number[] =>
  TRUNK.map((role) => roles[role]).filter(
    (own): own is number => own !== undefined && isAncestor(motion.joints, own, joint),
  );

/** Bends a row of joints until what they carry lies at a place, each a little at a time, so that all take part. */
function bentTo(pose: LoosePose, row: readonly number[], joint: number, target: Vec3): LoosePose {
  const { rounds, share } = PULL_DEFAULTS;
  let own = pose;
  for (let round = 0; round < rounds; round++)
    for (const bone of row) {
      const root = own.place(bone);
      const turn = shortestTurn(subtract(own.place(joint), root), subtract(target, root));
      own = own.turned(bone, slerp([0, 0, 0, 1], turn, share));
    }
  return own;
}

/** Turns what a joint hangs from, until it points at a place. */
function turnedTo(pose: LoosePose, joints: PreparedShot['motion']['joints'], joint: number, target: Vec3): LoosePose {
  const carrier = ancestors(joints, joint).find((own) => length(subtract(pose.place(joint), pose.place(own))) > 1e-9);
  if (carrier === undefined) throw new RangeError('nothing that carries the joint could turn it');
  const root = pose.place(carrier);
  return pose.turned(carrier, shortestTurn(subtract(pose.place(joint), root), subtract(target, root)));
}

/** A joint as it was in another pose, against what it hangs from; where it moves by itself there too. */
export function putBack(pose: LoosePose, from: LoosePose, joint: number): LoosePose {
  const place = from.ownPlace(joint);
  const turned = pose.withLocal(joint, quatAt(from.rotations, joint));
  return place ? turned.withPlace(joint, place) : turned;
}
