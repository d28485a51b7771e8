import { axisAngle, type Quat, rotate, shortestTurn } from '../motion/quaternion.ts';
import {
  add,
  angleBetweenDirections,
  cross,
  length,
  normalise,
  reject,
  subtract,
  type Vec3,
} from '../motion/vector.ts';
import type { LoosePose } from './loose-pose.ts';

/** Joints of a limb of two bones: hip, knee, ankle, or shoulder, elbow, wrist. */
export interface Limb {
  readonly upper: number;
  readonly middle: number;
  readonly end: number;
}

/** A limb is never pulled quite straight: a knee that is shows no way it bends. Share of its length. */
const LONGEST = 0.9995;

/**
 * A limb bent and turned so that its end comes to a place, or as near as its bones reach: the middle joint opens by the law of cosines in the plane it is
 * bent in, then the whole limb turns the shortest way. No bone is stretched.
 *
 * @param towards the way a straight limb bends, in the file's axes
 */
export function reachWith(pose: LoosePose, { upper, middle, end }: Limb, target: Vec3, towards: Vec3): LoosePose {
  const { bend, aim } = limbTurns([pose.place(upper), pose.place(middle), pose.place(end)], target, towards);
  return pose.turned(middle, bend).turned(upper, aim);
}

/** The rotations, in the file's axes, that bring a limb's end to a place: of its lower part about the middle joint, then of the whole about the upper one. */
export function limbTurns(
  [root, joint, tip]: readonly [root: Vec3, joint: Vec3, tip: Vec3],
  target: Vec3,
  towards: Vec3,
): { readonly bend: Quat; readonly aim: Quat } {
  const [a, b] = [length(subtract(joint, root)), length(subtract(tip, joint))];
  const least = Math.abs(a - b);
  const far = Math.min(Math.max(length(subtract(target, root)), least + 1e-6 * (a + b)), LONGEST * (a + b));
  const [u, v] = [subtract(joint, root), subtract(tip, joint)];
  const straight = length(cross(u, v)) < 1e-6 * a * b;
  const hinge = normalise(straight ? cross(u, reject(towards, normalise(u))) : cross(u, v));
  const now = angleBetweenDirections(u, v);
  const inner = (a * a + b * b - far * far) / (2 * a * b);
  const wanted = 180 - (Math.acos(Math.min(1, Math.max(-1, inner))) * 180) / Math.PI;
  const bend = axisAngle(hinge, wanted - now);
  const bent = add(joint, rotate(bend, v));
  return { bend, aim: shortestTurn(subtract(bent, root), subtract(target, root)) };
}
