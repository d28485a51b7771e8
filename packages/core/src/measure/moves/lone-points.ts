import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { mainAxis } from '../../motion/joint-turn.ts';
import { sampled } from '../../signal/sampled.ts';
import { type Measured, together } from '../reading.ts';
import { measureMoveEnds } from './move-ends.ts';
import { largestOf, rangeOf } from '../../signal/statistics.ts';
import { type MovingSignal, scalarSignal } from './moving-signal.ts';
import { measureMoves } from './moves-and-holds.ts';

export const LONE_DEFAULTS = Object.freeze({
  /** More points than this are a figure or a cloud, and none of them is looked at alone. */
  most: 12,
  /** A point that gets less far than this share of the leg (or of half the points' extent) stands still. */
  goes: 0.02,
  /** A point whose way leaves its main line by less than this share of its length goes on a line. */
  straight: 0.2,
});

/** Points on pictures that belong to no figure: what each of them does, it does alone. */
export function lonePoints({ isFlat, motion, roles }: PreparedShot): readonly number[] {
  // A tail or a rope is told by its links.
  if (!isFlat || Object.keys(roles).some((role) => !role.startsWith('chain:'))) return [];
  const inRow = (j: number): boolean =>
    motion.joints[j]!.parent >= 0 || motion.joints.some(({ parent }) => parent === j);
  const points = motion.joints.flatMap((_, j) => (inRow(j) ? [] : [j]));
  return points.length <= LONE_DEFAULTS.most ? points : [];
}

/** Moves and holds of each lone point, of its way on the picture; undefined where the shot has none. */
export function measureLoneMoves(shot: PreparedShot): Measured | undefined {
  const points = lonePoints(shot);
  if (points.length === 0) return undefined;
  return together(...points.map((joint) => measureMoves(shot, movingOf(shot, joint), shot.motion.joints[joint]!.name)));
}

/** The ends of each lone point's moves, along the line it mostly goes. */
export function measureLoneEnds(shot: PreparedShot): Measured | undefined {
  const points = lonePoints(shot).filter((joint) => goesAnywhere(shot, joint));
  if (points.length === 0) return undefined;
  return together(...points.map((joint) => measureMoveEnds(shot, along(shot, joint), shot.motion.joints[joint]!.name)));
}

/** A point that goes to and fro on a line moves there with a direction, so that what comes back is no move of its own; any other along its way. */
function movingOf(shot: PreparedShot, joint: number): MovingSignal {
  const way = wayOf(shot, joint);
  const line = along(shot, joint);
  const aside = sampled(line.length, (s) =>
    Math.sqrt(Math.max(0, way.distance(0, s) ** 2 - (line[s]! - line[0]!) ** 2)),
  );
  return largestOf(aside) <= LONE_DEFAULTS.straight * rangeOf(line) ? scalarSignal(line) : way;
}

/** A point's way as something that moves and rests: distances in percent of L. */
function wayOf(shot: PreparedShot, joint: number): MovingSignal {
  const { motion, world, scale } = shot;
  const n = motion.joints.length;
  const apart = (a: number, b: number): number => {
    let square = 0;
    for (let c = 0; c < 3; c++)
      square += (world.positions[3 * (b * n + joint) + c]! - world.positions[3 * (a * n + joint) + c]!) ** 2;
    return (100 * Math.sqrt(square)) / scale.legLength;
  };
  return { steps: sampled(Math.max(0, motion.frames - 1), (s) => apart(s, s + 1)), distance: apart };
}

const goesAnywhere = (shot: PreparedShot, joint: number): boolean => {
  const { steps } = wayOf(shot, joint);
  return steps.reduce((sum, step) => sum + step, 0) > 100 * LONE_DEFAULTS.goes;
};

/** A point's place along the line it mostly goes, percent of L. */
function along({ motion, world, scale }: PreparedShot, joint: number): Float64Array {
  const n = motion.joints.length;
  const places = new Float64Array(3 * motion.frames);
  const middle = [0, 0, 0];
  for (let s = 0; s < motion.frames; s++)
    for (let c = 0; c < 3; c++) {
      places[3 * s + c] = world.positions[3 * (s * n + joint) + c]!;
      middle[c]! += places[3 * s + c]! / motion.frames;
    }
  const axis = mainAxis([places.map((v, k) => v - middle[k % 3]!)]);
  return sampled(motion.frames, (s) => {
    let sum = 0;
    for (let c = 0; c < 3; c++) sum += axis[c]! * places[3 * s + c]!;
    return (100 * sum) / scale.legLength;
  });
}
