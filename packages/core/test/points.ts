import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import type { PointTracks } from '../src/motion/point-tracks.ts';

interface Projection {
  /** Pixels a leg is long. */
  readonly leg?: number;
  /** −1: seen from the other side, so that it goes to the left. */
  readonly way?: 1 | -1;
  /** Roles that were followed, without side; default: all. */
  readonly only?: readonly string[];
}

/** A figure's joints as they are seen from its side: points of a picture, each named as its role. */
export function seenFromTheSide(shot: PreparedShot, { leg = 200, way = 1, only }: Projection = {}): PointTracks {
  const { axes, world, motion, roles, scale } = shot;
  const n = motion.joints.length;
  const pixels = leg / scale.legLength;
  const along = (axis: readonly number[], at: number): number =>
    [0, 1, 2].reduce((sum, c) => sum + world.positions[at + c]! * axis[c]!, 0);
  const points = Object.entries(roles)
    .filter(([role]) => !role.startsWith('chain:') && (!only || only.includes(role.split('.')[0]!)))
    .map(([name, own]) => {
      const joint = own ?? 0;
      const places = new Float64Array(2 * motion.frames);
      for (let f = 0; f < motion.frames; f++) {
        places[2 * f] = 320 + way * pixels * along(axes.forward, 3 * (f * n + joint));
        places[2 * f + 1] = pixels * along(axes.up, 3 * (f * n + joint)) - 400;
      }
      return { name, places, confidence: new Float64Array(motion.frames).fill(1) };
    });
  return { fps: motion.fps, firstFrame: shot.firstFrame, frames: motion.frames, points };
}
