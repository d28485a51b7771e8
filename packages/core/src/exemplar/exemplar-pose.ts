import type { Joint, Motion } from '../motion/motion.ts';
import {
  axisAngle,
  compose,
  conjugate,
  mirrorX,
  multiply,
  type Quat,
  rotate,
  rotateX,
  rotateY,
  rotateZ,
  slerp,
} from '../motion/quaternion.ts';
import { add, type Vec3 } from '../motion/vector.ts';
import { FIGURE_LEG, type ExemplarJoint, exemplarJoints } from './exemplar-figure.ts';
import { twoBoneLeg } from './two-bone-leg.ts';

/** Local rotations by joint name; a joint left out is as at rest. */
export type ExemplarPose = Partial<Record<ExemplarJoint, Quat>>;

/** Both sides: the sign of their X, left first. */
export const SIDES = [
  ['L', 1],
  ['R', -1],
] as const;

/** Thigh and shin together, cm: L. */
export const LEG = FIGURE_LEG.thigh + FIGURE_LEG.shin;
/** Half the distance of the feet across, and how far the toes point out, of a figure that stands or walks. */
export const TRACK = 5.2;
export const TOE_OUT = 6;

/** Where a foot is: its ankle in the world, its pitch (toes up positive) and the bend of its toes, degrees. */
export interface FootPose {
  readonly ankle: Vec3;
  readonly pitch: number;
  readonly toeBend: number;
}

/** What an arm does, degrees. */
export interface ArmPose {
  /** Swing of the upper arm forward. */
  readonly ahead: number;
  /** Away from the body. */
  readonly out?: number;
  /** Bend of the elbow, and of the wrist. */
  readonly bend: number;
  readonly wrist: number;
  /** Collar bone: forward, up. */
  readonly shoulder?: number;
  readonly shrug?: number;
}

/** World rotations of the trunk above the hips. */
export interface TrunkPose {
  readonly spine: Quat;
  readonly chest: Quat;
  readonly head: Quat;
}

/** Where the hip joint of a side is. */
export const hipJoint = (place: Vec3, hips: Quat, sign: number): Vec3 =>
  add(place, rotate(hips, [sign * FIGURE_LEG.hipAcross, -FIGURE_LEG.hipDown, 0]));

/**
 * Poses a leg on its foot by the law of cosines.
 * @param straight 1: the knee is snapped straight, whatever the foot does; 0: not at all
 */
export function poseLeg(
  pose: ExemplarPose,
  side: 'L' | 'R',
  place: Vec3,
  hips: Quat,
  foot: FootPose,
  straight = 0,
): void {
  const sign = side === 'L' ? 1 : -1;
  const facing = rotateY(sign * TOE_OUT);
  const { thigh, shin } = FIGURE_LEG;
  const leg = twoBoneLeg(hipJoint(place, hips, sign), foot.ankle, rotate(facing, [0, 0, 1]), thigh, shin);
  const lower = straight > 0 ? slerp(leg.shin, multiply(leg.thigh, rotateX(1)), Math.min(1, straight)) : leg.shin;
  pose[`thigh.${side}`] = multiply(conjugate(hips), leg.thigh);
  pose[`shin.${side}`] = multiply(conjugate(leg.thigh), lower);
  pose[`foot.${side}`] = multiply(conjugate(lower), compose(facing, rotateX(-foot.pitch)));
  pose[`toe.${side}`] = rotateX(-foot.toeBend);
}

/** Poses spine, chest, neck and head from their world rotations; the neck goes halfway with the head. */
export function poseTrunk(pose: ExemplarPose, hips: Quat, { spine, chest, head }: TrunkPose): void {
  const neck = slerp(chest, head, 0.5);
  pose.hips = hips;
  pose.spine = multiply(conjugate(hips), spine);
  pose.chest = multiply(conjugate(spine), chest);
  pose.neck = multiply(conjugate(chest), neck);
  pose.head = multiply(conjugate(neck), head);
}

/** Poses an arm that hangs from the held-out arms of the rest pose. */
export function poseArm(pose: ExemplarPose, side: 'L' | 'R', arm: ArmPose): void {
  const { ahead, out = 0, bend, wrist, shoulder = 0, shrug = 0 } = arm;
  const put = (name: 'clavicle' | 'upperArm' | 'foreArm' | 'hand', left: Quat): void => {
    pose[`${name}.${side}`] = side === 'L' ? left : mirrorX(left);
  };
  put('clavicle', compose(rotateZ(shrug - 2), rotateY(-shoulder)));
  put('upperArm', compose(rotateX(-ahead), rotateZ(out - 78), rotateX(22)));
  put('foreArm', rotateY(-bend));
  put('hand', compose(rotateX(12), rotateY(-wrist)));
}

/** Hangs the bag: its strap in the world, and its swing forward and sideways against the strap, degrees. */
export function poseBag(pose: ExemplarPose, chest: Quat, strap: Quat, swing: number, aside: number): void {
  pose.strap = multiply(conjugate(chest), strap);
  pose.bag = compose(axisAngle([1, 0, 0], swing), rotateZ(aside));
}

/** A foot on the ground rolls over its heel (toes up) or its ball (heel up): where its ankle is against where it is when flat, cm. */
export function rollFoot(pitch: number): { forward: number; up: number } {
  const { ankle, ballDown, ballForward, heelBack } = FIGURE_LEG;
  const s = Math.sin((pitch * Math.PI) / 180);
  const c = Math.cos((pitch * Math.PI) / 180);
  return pitch >= 0
    ? { forward: heelBack * (c - 1) - ankle * s, up: ankle * (c - 1) + heelBack * s }
    : { forward: ballForward * (1 - c) - ballDown * s, up: ballDown * (c - 1) - ballForward * s };
}

/** Makes a motion of the letter carrier from a pose a frame. */
export const exemplarMotion = (
  frames: number,
  fps: number,
  at: (frame: number) => { readonly pose: ExemplarPose; readonly place: Vec3 },
): Motion => motionOf(exemplarJoints(), frames, fps, at);

/** Makes a motion whose first joint moves, from local rotations by joint name a frame. */
export function motionOf(
  joints: readonly Joint[],
  frames: number,
  fps: number,
  at: (frame: number) => { readonly pose: Readonly<Record<string, Quat | undefined>>; readonly place: Vec3 },
): Motion {
  const rotations = new Float64Array(4 * joints.length * frames);
  const translations = new Float64Array(3 * frames);
  for (let f = 0; f < frames; f++) {
    const { pose, place } = at(f);
    joints.forEach(({ name }, j) => rotations.set(pose[name] ?? [0, 0, 0, 1], 4 * (f * joints.length + j)));
    translations.set(place, 3 * f);
  }
  return { joints, frames, fps, rotations, moving: [0], translations };
}
