import type { Joint } from '../motion/motion.ts';
import type { Vec3 } from '../motion/vector.ts';

/** Standing height in centimetres. */
export const FIGURE_HEIGHT = 170;

/** Joints by name, so that a pose can be written down by name. */
export type ExemplarJoint =
  | 'hips'
  | 'spine'
  | 'chest'
  | 'neck'
  | 'head'
  | `${'clavicle' | 'upperArm' | 'foreArm' | 'hand' | 'thigh' | 'shin' | 'foot' | 'toe'}.${'L' | 'R'}`
  | 'strap'
  | 'bag';

/** Segment lengths as shares of standing height, from the segment table of Winter, *Biomechanics and Motor Control of Human Movement*. */
const SHARE = Object.freeze({ thigh: 0.245, shin: 0.246, ankle: 0.039, upperArm: 0.186, foreArm: 0.146, hand: 0.108 });

/** Lengths of the leg and foot in centimetres that the walk's mathematics needs. */
export const FIGURE_LEG = Object.freeze({
  thigh: SHARE.thigh * FIGURE_HEIGHT,
  shin: SHARE.shin * FIGURE_HEIGHT,
  /** Height of the ankle over the sole. */
  ankle: SHARE.ankle * FIGURE_HEIGHT,
  /** From the ankle to the ball, forward and down. */
  ballForward: 12.5,
  ballDown: 5.1,
  /** From the ankle back to the heel. */
  heelBack: 5,
  /** Hip joint against the hips' own origin. */
  hipAcross: 8.8,
  hipDown: 4,
});

/** A letter carrier with a shoulder bag: 23 joints, each followed by all that hangs from it, centimetres, Y up, facing Z, standing with arms held out to the sides, hips at the origin. */
export function exemplarJoints(): Joint[] {
  const joints: Joint[] = [];
  const index = new Map<string, number>();
  const put = (name: ExemplarJoint, parent: ExemplarJoint | null, offset: Vec3, ends: Vec3[] = []): void => {
    index.set(name, joints.length);
    joints.push({ name, parent: parent === null ? -1 : index.get(parent)!, offset, ends });
  };
  const leg = FIGURE_LEG;
  put('hips', null, [0, 0, 0]);
  put('spine', 'hips', [0, 9.5, -0.5]);
  put('chest', 'spine', [0, 15, 0]);
  put('neck', 'chest', [0, 22.5, -1]);
  put('head', 'neck', [0, 7, 1.5], [[0, 19.5, 1]]);
  for (const [side, k] of [
    ['L', 1],
    ['R', -1],
  ] as const) {
    put(`clavicle.${side}`, 'chest', [2.5 * k, 20, 1]);
    put(`upperArm.${side}`, `clavicle.${side}`, [14 * k, -0.5, -1.5]);
    put(`foreArm.${side}`, `upperArm.${side}`, [SHARE.upperArm * FIGURE_HEIGHT * k, 0, 0]);
    put(
      `hand.${side}`,
      `foreArm.${side}`,
      [SHARE.foreArm * FIGURE_HEIGHT * k, 0, 0],
      [[SHARE.hand * FIGURE_HEIGHT * k, 0, 0]],
    );
  }
  // The strap runs from the left shoulder across the chest to the bag on the right hip.
  put('strap', 'chest', [9, 18, 12.5]);
  put('bag', 'strap', [-30, -55, -3.5], [[-2, -22, -2]]);
  for (const [side, k] of [
    ['L', 1],
    ['R', -1],
  ] as const) {
    put(`thigh.${side}`, 'hips', [leg.hipAcross * k, -leg.hipDown, 0]);
    put(`shin.${side}`, `thigh.${side}`, [0, -leg.thigh, 0]);
    put(`foot.${side}`, `shin.${side}`, [0, -leg.shin, 0]);
    put(`toe.${side}`, `foot.${side}`, [0, -leg.ballDown, leg.ballForward], [[0, leg.ballDown - leg.ankle, 7]]);
  }
  return joints;
}
