import { type Joint, restPositions } from './motion.ts';
import type { Roles } from './role.ts';

/** Thigh + shin of a 1.70 m adult: 0.491 of standing height (Winter, *Biomechanics and Motor Control of Human Movement*, segment table). */
export const ADULT_LEG_METRES = 0.835;

/** Standard gravity in m/s² (BIPM, *The International System of Units*; CGPM 1901). */
export const STANDARD_GRAVITY = 9.80665;

/** A figure smaller than this, in any unit, has no size: nothing can be told as a share of it. */
const NO_SIZE = 1e-9;

export interface FigureScale {
  /** L: thigh + shin at rest in the file's units, mean of both sides; without legs half the rest pose's largest extent. */
  readonly legLength: number;
  readonly metresPerUnit: number;
  readonly fromLegs: boolean;
}

/**
 * The figure's size.
 * @param metresPerUnit real scale when it is known; else a leg is taken to be an adult's
 * @param known L, when it is known from elsewhere
 */
export function figureScale(
  joints: readonly Joint[],
  roles: Roles,
  metresPerUnit?: number,
  known?: number,
): FigureScale {
  if (known !== undefined)
    return { legLength: known, metresPerUnit: metresPerUnit ?? ADULT_LEG_METRES / known, fromLegs: true };
  const rest = restPositions(joints);
  const distance = (a: number, b: number): number =>
    Math.hypot(rest[3 * a]! - rest[3 * b]!, rest[3 * a + 1]! - rest[3 * b + 1]!, rest[3 * a + 2]! - rest[3 * b + 2]!);
  const legs: number[] = [];
  for (const side of ['L', 'R'] as const) {
    const thigh = roles[`thigh.${side}`];
    const shin = roles[`shin.${side}`];
    const foot = roles[`foot.${side}`];
    if (thigh !== undefined && shin !== undefined && foot !== undefined)
      legs.push(distance(thigh, shin) + distance(shin, foot));
  }
  const fromLegs = legs.length > 0 && legs.every((leg) => leg > NO_SIZE);
  const extent = restExtent(joints, rest) / 2;
  const own = extent > NO_SIZE ? extent : 1;
  const legLength = fromLegs ? legs.reduce((a, b) => a + b, 0) / legs.length : own;
  return { legLength, metresPerUnit: metresPerUnit ?? ADULT_LEG_METRES / legLength, fromLegs };
}

/** Largest side of the box around the rest pose, end sites included. */
function restExtent(joints: readonly Joint[], rest: Float64Array): number {
  let largest = 0;
  for (let axis = 0; axis < 3; axis++) {
    let low = Infinity;
    let high = -Infinity;
    joints.forEach((joint, j) => {
      const value = rest[3 * j + axis]!;
      for (const v of [value, ...joint.ends.map((end) => value + end[axis]!)]) {
        low = Math.min(low, v);
        high = Math.max(high, v);
      }
    });
    largest = Math.max(largest, high - low);
  }
  return largest;
}
