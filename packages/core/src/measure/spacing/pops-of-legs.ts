import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { add, dot, length, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { logarithm } from '../../motion/joint-turn.ts';
import { conjugate, multiply, type Quat } from '../../motion/quaternion.ts';
import { type FigurePoses, figurePoses } from '../cycle/figure-pose.ts';
import { partners, reflect } from '../cycle/mirror.ts';
import { CUBIC_NEIGHBOURS } from '../../signal/neighbours.ts';
import { everyFor } from './point-path.ts';
import { CUBIC, displaced, roomFor } from './displaced-sample.ts';

/** Thresholds of a leg's joint that is out of place where its foot lands or leaves. */
export const LEG_POP_DEFAULTS = Object.freeze({
  /** What hangs from the joint is thrown by at least this, %L. */
  least: 3,
  /** Beside the sample the legs differ by less than this share of the displacement. */
  beside: 0.5,
  /** Share of the displacement that the other leg may have: where one foot lands a frame after the other's time, each has a half. */
  shared: 0.3,
});

const DEGREES = 180 / Math.PI;

/** One joint of a leg at one sample, turned by so many degrees from what the other leg does half a cycle away. */
export interface LegPop {
  readonly joint: number;
  readonly sample: number;
  readonly degrees: number;
}

/**
 * Where a foot lands or leaves, the turns of its leg have corners, beside which a displaced sample can't be told from its neighbours. The other leg
 * has the same corner half a cycle away: in the difference of both it is gone, and a sample that is out of place stands alone. Which of both
 * is out of place is told by its own neighbours.
 *
 * @param reaches how far what hangs from each joint reaches from it; units
 */
export function legPops(shot: PreparedShot, reaches: ArrayLike<number>): LegPop[] {
  const half = halfCycle(shot);
  if (half === undefined) return [];
  const poses = figurePoses(shot, 2 * half);
  const partner = partners(shot);
  const L = shot.scale.legLength;
  return (['thigh', 'shin', 'foot', 'toe'] as const).flatMap((role) => {
    const joint = shot.roles[`${role}.L`];
    if (joint === undefined || !(reaches[joint]! > 0)) return [];
    const least = (DEGREES * (LEG_POP_DEFAULTS.least / 100) * L) / reaches[joint]!;
    return popsOfPair({ shot, poses, half, joint, other: partner[joint]! }, least);
  });
}

/** Samples of half a cycle, where the shot is one or several even cycles that loop; undefined where no sample lies half a cycle from another. */
function halfCycle(shot: PreparedShot): number | undefined {
  if (shot.loop === 'none' || shot.fourLegs || !shot.axes.forwardKnown || shot.exposures.blocking) return undefined;
  if (shot.roles['thigh.L'] === undefined || shot.roles['thigh.R'] === undefined) return undefined;
  const half = shot.period / shot.cycles / 2;
  return Number.isInteger(half) && half >= 4 ? half : undefined;
}

interface Pair {
  readonly shot: PreparedShot;
  readonly poses: FigurePoses;
  readonly half: number;
  /** The left joint, and the right one. */
  readonly joint: number;
  readonly other: number;
}

/** @param least degrees */
function popsOfPair({ shot, poses, half, joint, other }: Pair, least: number): LegPop[] {
  const { period } = shot;
  const own = (sample: number): Quat => poses.at(sample, joint);
  const mirrored = (sample: number): Quat => reflect(poses.at(sample + half, other), shot.axes.left);
  const turn = (from: Quat, to: Quat): Vec3 => logarithm(multiply(conjugate(from), to));
  const values = new Float64Array(3 * period);
  const sizes = new Float64Array(period);
  for (let s = 0; s < period; s++) {
    const difference = turn(mirrored(s), own(s));
    values.set(difference, 3 * s);
    sizes[s] = length(difference);
  }
  const channel = { values, width: 3, count: period, wraps: true, every: everyFor(shot.fps) };
  return displaced(channel, CUBIC, least, roomFor(3, period)).flatMap(({ sample, size }) => {
    // Legs that do not do the same anyway say nothing of each other.
    const beside = Math.max(sizes[(sample + 1) % period]!, sizes[(sample + period - 1) % period]!);
    if (beside > LEG_POP_DEFAULTS.beside * size) return [];
    // What each leg is turned off what its own neighbours predict, along the way they differ.
    const off = (pose: (sample: number) => Quat): Vec3 =>
      CUBIC_NEIGHBOURS.reduce<Vec3>(
        (sum, [by, weight]) => add(sum, scale(turn(pose(sample + by), pose(sample)), weight)),
        [0, 0, 0],
      );
    const [left, right] = [off(own), off(mirrored)];
    const apart = subtract(left, right);
    const share = dot(left, apart) / Math.max(dot(apart, apart), 1e-12);
    const isLeft = share > 1 - LEG_POP_DEFAULTS.shared;
    if (!isLeft && share > LEG_POP_DEFAULTS.shared) return [];
    return [{ joint: isLeft ? joint : other, sample: isLeft ? sample : (sample + half) % period, degrees: size }];
  });
}
