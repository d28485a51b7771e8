import type { PreparedShot } from '../motion/prepared-shot.ts';
import { wayOf } from '../motion/way.ts';
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
  const body = new Body(shot);
  const own = [...WEIGHTS.keys()].flatMap((part) => partDirection(shot, part, body.direction(part)));
  if (own.length > 0) return own;
  return shot.motion.joints.flatMap(({ name }, joint) => partDirection(shot, name, body.outOf(joint)));
}

function partDirection(shot: PreparedShot, part: string, direction: Direction | undefined): PartDirection[] {
  if (!direction) return [];
  // A point on a picture has no turn of its own.
  if (shot.isFlat && 'joint' in direction) return [];
  const read = directionAt(shot, direction);
  if (length(read(0) as Vec3) < 1e-9) return [];
  const way = wayOf(shot);
  const { up } = shot.axes;
  const period = way.turn.length;
  return [
    {
      part,
      at(sample) {
        const v = normalise([...read(sample)] as unknown as Vec3);
        const s = shot.loop === 'none' ? sample : sample % period;
        return [dot(v, way.forward(s)), dot(v, way.left(s)), dot(v, up)];
      },
    },
  ];
}
