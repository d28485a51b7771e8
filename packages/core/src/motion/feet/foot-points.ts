import { restPositions } from '../motion.ts';
import type { PosedFigure } from '../prepared-shot.ts';
import { quatAt, rotate } from '../quaternion.ts';
import { add, dot, scale, subtract, type Vec3 } from '../vector.ts';

/** A point that is fixed to a joint: where it lies in the joint's own axes. */
export interface FixedPoint {
  readonly joint: number;
  readonly local: Vec3;
}

/** The points of a foot that can touch the ground; ball and toe end only where the figure has them. */
export interface FootPoints {
  readonly ankle: FixedPoint;
  /** Under the ankle, at the height of the sole at rest. */
  readonly heel: FixedPoint;
  readonly front: readonly FixedPoint[];
}

/** The points of one foot; undefined where the foot is not known. */
export function footPoints({ motion, roles, axes }: PosedFigure, side: 'L' | 'R'): FootPoints | undefined {
  const foot = roles[`foot.${side}`];
  if (foot === undefined) return undefined;
  const toe = roles[`toe.${side}`];
  const rest = restPositions(motion.joints);
  const at = (j: number): Vec3 => [rest[3 * j]!, rest[3 * j + 1]!, rest[3 * j + 2]!];
  const tip = toe ?? foot;
  const ends = motion.joints[tip]!.ends.slice(0, 1);
  const soles = [...(toe === undefined ? [] : [at(toe)]), ...ends.map((end) => add(at(tip), end))];
  const depth = Math.max(0, ...soles.map((p) => dot(subtract(at(foot), p), axes.up)));
  return {
    ankle: { joint: foot, local: [0, 0, 0] },
    heel: { joint: foot, local: scale(axes.up, -depth) },
    front: [
      ...(toe === undefined ? [] : [{ joint: toe, local: [0, 0, 0] as const }]),
      ...ends.map((local) => ({ joint: tip, local })),
    ],
  };
}

/** Writes where a fixed point is in the world at a sample into `out`, from index `to` on: for whole paths, without an array a sample. */
export function putPoint(
  { motion, world }: PosedFigure,
  sample: number,
  { joint, local }: FixedPoint,
  out: Float64Array,
  to: number,
): void {
  const k = sample * motion.joints.length + joint;
  const { positions: p, rotations: q } = world;
  const x = q[4 * k]!;
  const y = q[4 * k + 1]!;
  const z = q[4 * k + 2]!;
  const w = q[4 * k + 3]!;
  const vx = local[0];
  const vy = local[1];
  const vz = local[2];
  const tx = 2 * (y * vz - z * vy);
  const ty = 2 * (z * vx - x * vz);
  const tz = 2 * (x * vy - y * vx);
  out[to] = p[3 * k]! + vx + w * tx + y * tz - z * ty;
  out[to + 1] = p[3 * k + 1]! + vy + w * ty + z * tx - x * tz;
  out[to + 2] = p[3 * k + 2]! + vz + w * tz + x * ty - y * tx;
}

/** Where a fixed point is in the world at a sample. */
export function pointAt({ motion, world }: PosedFigure, sample: number, { joint, local }: FixedPoint): Vec3 {
  const k = sample * motion.joints.length + joint;
  const p: Vec3 = [world.positions[3 * k]!, world.positions[3 * k + 1]!, world.positions[3 * k + 2]!];
  return add(p, rotate(quatAt(world.rotations, k), local));
}
