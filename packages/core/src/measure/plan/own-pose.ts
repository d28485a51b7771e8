import { loopPeriod } from '../../motion/loop.ts';
import { type PreparedShot, sampleAt } from '../../motion/prepared-shot.ts';
import { angleBetweenDirections, type Vec3 } from '../../motion/vector.ts';
import { type PartDirection, poseDirections, weightOfPart } from '../../quantity/directions.ts';
import { quantitySignal } from '../../quantity/measure-quantity.ts';
import { smallestOf } from '../../signal/statistics.ts';
import type { OwnPose } from '../../trade/planned-pose.ts';

export const OWN_POSE_DEFAULTS = Object.freeze({
  /** A frame whose parts point this far from a pose's, degrees, root of the weighted mean square, shows it … */
  within: 16,
  /** … and the nearest one to where it is planned of those that are this near to the most alike. */
  asGood: 1,
});

/** The pose at a frame, to be looked for in other shots. @example ownPose(shot, 13).directions.trunk // [0.1, 0, 0.99] */
export function ownPose(shot: PreparedShot, label: number): OwnPose {
  const sample = Math.min(shot.motion.frames - 1, Math.max(0, sampleAt(shot, label)));
  const height = heightOf(shot)?.[sample];
  return {
    directions: Object.fromEntries(
      poseDirections(shot).map(({ part, at }) => [part, at(sample).map(toThree) as unknown as Vec3]),
    ),
    ...(height !== undefined && { height: toThree(height) }),
  };
}

const toThree = (value: number): number => Math.round(value * 1e3) / 1e3 + 0;

const heightOf = (shot: PreparedShot): Float64Array | undefined => {
  const signal = shot.roles.hips === undefined ? 'no hips' : quantitySignal(shot, 'height', 'hips');
  return typeof signal === 'string' ? undefined : signal;
};

/**
 * The sample that shows a pose: of those that are about as like it as the most alike the one nearest to a label, of a loop round its end as well.
 * @returns undefined where none is like it, or the figure has none of its parts
 */
export function ownPoseAt(shot: PreparedShot, pose: OwnPose, label: number): number | undefined {
  const distances = poseDistances(shot, pose);
  if (!distances) return undefined;
  const least = smallestOf(distances);
  if (least > OWN_POSE_DEFAULTS.within) return undefined;
  const planned = sampleAt(shot, label);
  const round = shot.loop === 'none' ? Infinity : loopPeriod(shot.loop, shot.motion.frames);
  /** Samples from where it is planned: of a loop the shorter way round. */
  const away = (sample: number): number => {
    const apart = Math.abs(sample - planned) % round;
    return Math.min(apart, round - apart);
  };
  let best: number | undefined;
  distances.forEach((distance, sample) => {
    if (distance > least + OWN_POSE_DEFAULTS.asGood) return;
    if (best === undefined || away(sample) < away(best)) best = sample;
  });
  return best;
}

const DEGREES = 180 / Math.PI;

/**
 * How far every sample is from a pose, degrees; of a figure that is seen flat, and of a pose that was drawn, in the plane it is seen in. Undefined
 * where they share no part.
 */
export function poseDistances(shot: PreparedShot, { directions, height, drawn }: OwnPose): Float64Array | undefined {
  const isFlat = shot.isFlat || drawn === true;
  const shared = poseDirections(shot).filter(({ part }) => Object.hasOwn(directions, part));
  if (shared.length === 0) return undefined;
  const total = shared.reduce((sum, { part }) => sum + weightOfPart(part), 0);
  const hips = height === undefined || isFlat ? undefined : heightOf(shot);
  return Float64Array.from({ length: shot.motion.frames }, (_, sample) => {
    let sum = 0;
    for (const own of shared)
      sum += weightOfPart(own.part) * angleFrom(own, sample, directions[own.part]!, isFlat) ** 2;
    // Hips a percent of a leg higher count as much as a part that points a degree elsewhere.
    const off = hips ? hips[sample]! - height! : 0;
    return Math.sqrt(sum / total + (off * off) / total);
  });
}

function angleFrom({ at }: PartDirection, sample: number, wanted: Vec3, isFlat: boolean): number {
  const own = at(sample);
  if (!isFlat) return angleBetweenDirections(own, wanted);
  const turned = Math.atan2(own[0], own[2]) - Math.atan2(wanted[0], wanted[2]);
  return Math.abs(DEGREES * Math.atan2(Math.sin(turned), Math.cos(turned)));
}
