import type { WorldPose } from '../motion/pose.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { figureAxes } from '../motion/way.ts';
import { dot, length, normalise, type Vec3 } from '../motion/vector.ts';
import { Body, type Direction, SIDES } from './body.ts';
import { directionAt } from './measure-quantity.ts';

/** Parts of a body whose directions make a pose, and how much each tells of it. */
const WEIGHTS: ReadonlyMap<string, number> = new Map([
  ['trunk', 3],
  ['neck', 0.5],
  ['head', 1],
  ...SIDES.flatMap((side): [string, number][] => [
    [`thigh.${side}`, 2],
    [`shin.${side}`, 2],
    [`upperArm.${side}`, 2],
    [`foreArm.${side}`, 2],
    [`hand.${side}`, 0.3],
  ]),
]);

/** How much the direction of a part tells of a pose; a joint that is no part of a body counts 1. */
export const weightOfPart = (part: string): number => WEIGHTS.get(part) ?? 1;

/** A part's direction at any sample: a unit vector in the figure's own forward, left and up. */
export interface PartDirection {
  readonly part: string;
  at(sample: number): Vec3;
}

/** The directions that make a figure's pose: of the parts of its body; of what has none, from each joint to what hangs from it. */
export function poseDirections(shot: PreparedShot): PartDirection[] {
  return directionsOfParts(shot).map(([part, direction]) => {
    const read = directionAt(shot, direction);
    return { part, at: (sample) => inOwnAxes(shot, sample, read(sample)) };
  });
}

/**
 * The directions that a figure's parts have in a pose of one frame, as {@link poseDirections} tells them.
 *
 * @param sample the sample whose forward and left are meant
 * @param world places and rotations of every joint in that pose
 */
export function directionsIn(shot: PreparedShot, sample: number, world: WorldPose): Record<string, Vec3> {
  return Object.fromEntries(
    directionsOfParts(shot).map(([part, direction]) => [
      part,
      inOwnAxes(shot, sample, directionAt({ motion: shot.motion, world }, direction)(0)),
    ]),
  );
}

/** A direction as a unit vector in the figure's own forward, left and up at a sample. */
function inOwnAxes(shot: PreparedShot, sample: number, direction: readonly number[]): Vec3 {
  const v = normalise([...direction] as unknown as Vec3);
  return figureAxes(shot, sample).map((axis) => dot(v, axis)) as unknown as Vec3;
}

type DirectionOfPart = readonly [part: string, direction: Direction];

function directionsOfParts(shot: PreparedShot): DirectionOfPart[] {
  const body = new Body(shot);
  const known = (part: string, direction: Direction | undefined): DirectionOfPart[] => {
    // A point on a picture has no turn of its own.
    if (!direction || (!shot.hasTurns && 'joint' in direction)) return [];
    return length(directionAt(shot, direction)(0) as Vec3) < 1e-9 ? [] : [[part, direction]];
  };
  const own = [...WEIGHTS.keys()].flatMap((part) => known(part, body.direction(part)));
  if (own.length > 0) return own;
  return shot.motion.joints.flatMap(({ name }, joint) => known(name, body.outOf(joint)));
}
