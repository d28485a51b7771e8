import type { PosedFigure } from './prepared-shot.ts';
import { dot, type Vec3 } from './vector.ts';

/** Hips that get farther than this from where they began travel, leg lengths. */
export const TRAVELS = 0.5;

type Placed = Pick<PosedFigure, 'motion' | 'world' | 'roles' | 'axes' | 'scale'>;

/** How far the hips get from where they began, over the ground, in leg lengths. */
export function farthestTravel({ motion, world, roles, axes, scale }: Placed): number {
  const n = motion.joints.length;
  const hips = roles.hips ?? 0;
  const at = (f: number): Vec3 => {
    const k = 3 * (f * n + hips);
    return [world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!];
  };
  const first = at(0);
  let farthest = 0;
  for (let f = 1; f < motion.frames; f++) {
    const p = at(f);
    const gone: Vec3 = [p[0] - first[0], p[1] - first[1], p[2] - first[2]];
    const up = dot(gone, axes.up);
    farthest = Math.max(farthest, gone[0] ** 2 + gone[1] ** 2 + gone[2] ** 2 - up ** 2);
  }
  return Math.sqrt(Math.max(0, farthest)) / scale.legLength;
}

/** Whether somebody with hips and feet stays where they are. */
export const staysOnTheSpot = (placed: Placed): boolean =>
  placed.roles.hips !== undefined && placed.roles['foot.L'] !== undefined && farthestTravel(placed) < TRAVELS;
