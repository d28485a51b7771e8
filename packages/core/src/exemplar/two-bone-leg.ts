import { fromBasis, type Quat } from '../motion/quaternion.ts';
import { add, cross, length, normalise, scale, subtract, type Vec3 } from '../motion/vector.ts';

/** World rotations of thigh and shin that put the ankle where it is wanted, and the angle at the knee. */
export interface LegPose {
  readonly thigh: Quat;
  readonly shin: Quat;
  /** Where the ankle came to lie: the target, or the nearest point the leg reaches. */
  readonly ankle: Vec3;
}

/**
 * A leg of two bones by the law of cosines. Both bones point down (−Y) at rest; the knee bends towards `forward`.
 *
 * @param hip hip joint in the world
 * @param target where the ankle should be
 * @param a length of the thigh
 * @param b length of the shin
 */
export function twoBoneLeg(hip: Vec3, target: Vec3, forward: Vec3, a: number, b: number): LegPose {
  const reach = subtract(target, hip);
  const d = Math.min(Math.max(length(reach), Math.abs(a - b) + 1e-6), (a + b) * 0.99999);
  const down = normalise(reach);
  const up = scale(down, -1);
  const hinge = normalise(cross(up, forward));
  const front = cross(hinge, up);
  const cosine = (a * a + d * d - b * b) / (2 * a * d);
  const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
  const thighDown = add(scale(down, cosine), scale(front, sine));
  const knee = add(hip, scale(thighDown, a));
  const ankle = add(hip, scale(down, d));
  const shinDown = normalise(subtract(ankle, knee));
  const bone = (direction: Vec3): Quat => {
    const y = scale(direction, -1);
    return fromBasis(hinge, y, cross(hinge, y));
  };
  return { thigh: bone(thighDown), shin: bone(shinDown), ankle };
}

/** Longest distance from hip to ankle at which the knee's angle stays at `degrees` or under. */
export const reachAtKnee = (a: number, b: number, degrees: number): number =>
  Math.sqrt(a * a + b * b - 2 * a * b * Math.cos((degrees * Math.PI) / 180));
