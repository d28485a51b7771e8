import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate } from '../../motion/quaternion.ts';
import { largestOf, rangeOf } from '../../signal/statistics.ts';
import { dot, type Vec3 } from '../../motion/vector.ts';
import { measureMoveEnds, MOVE_ENDS } from '../moves/move-ends.ts';
import { measureMoves, MOVES_AND_HOLDS } from '../moves/moves-and-holds.ts';
import { scalarSignal } from '../moves/moving-signal.ts';
import { isMove, stretchesOf } from '../moves/stretches.ts';
import { type Measured, refuse, together } from '../reading.ts';
import { ARC_RISE, riseReading } from '../spacing/paths.ts';
import type { PointPath } from '../spacing/point-path.ts';
import { headFacing } from './head-signal.ts';

export const HEAD_MOVE_DEFAULTS = Object.freeze({
  /** A head that turns by less than this over the shot, degrees, does not turn. */
  turns: 5,
  /** A move of the head is a turn from this share of the largest on. */
  share: 0.4,
});

/**
 * Moves, holds and ends of the head's turn about up, with part `head`, and the arc of the face over each turn as seen from the front:
 * `arc.rise`, negative where the chin dips.
 */
export function measureHeadMoves(shot: PreparedShot): Measured {
  const own = [...MOVES_AND_HOLDS, ...(shot.kinds.includes('turn') ? MOVE_ENDS : []), ARC_RISE];
  const facing = headFacing(shot);
  if (!facing) return refuse(own, 'the head is not known; set the roles', 'head');
  const { turn } = facing;
  if (turn.length < 6) return refuse(own, `it needs 6 poses or more, the shot has ${turn.length}`, 'head');
  if (rangeOf(turn) < HEAD_MOVE_DEFAULTS.turns) return refuse(own, 'the head does not turn', 'head');
  const signal = scalarSignal(turn);
  const moves = stretchesOf(signal, shot.fps).filter(isMove);
  const largest = largestOf(moves.map(({ from, to }) => signal.distance(from, to)));
  const turns = moves.filter(
    ({ from, to }) => to - from >= 2 && signal.distance(from, to) >= HEAD_MOVE_DEFAULTS.share * largest,
  );
  const path = facePath(shot, facing.forward);
  return together(
    measureMoves(shot, signal, 'head'),
    ...(shot.kinds.includes('turn') ? [measureMoveEnds(shot, turn, 'head')] : []),
    turns.length > 0
      ? together(...turns.map((move) => riseReading(shot, path, 'head', move)))
      : refuse([ARC_RISE], 'the head makes no turn of two frames or more', 'head'),
  );
}

/** Path of a point before the face, as seen from where the head mostly looks to: its part towards there is left out. */
export function facePath({ motion, world, roles, axes, scale }: PreparedShot, view: Vec3): PointPath {
  const n = motion.joints.length;
  const points = new Float64Array(3 * motion.frames);
  const reach = 0.15 * scale.legLength;
  for (let f = 0; f < motion.frames; f++) {
    const ahead = rotate(quatAt(world.rotations, f * n + roles.head!), axes.forward);
    const k = 3 * (f * n + roles.head!);
    const p: Vec3 = [0, 1, 2].map((c) => world.positions[k + c]! + reach * ahead[c]!) as unknown as Vec3;
    const depth = dot(p, view);
    points.set([p[0] - depth * view[0], p[1] - depth * view[1], p[2] - depth * view[2]], 3 * f);
  }
  return { points, count: motion.frames };
}
