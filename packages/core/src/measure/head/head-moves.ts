import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate } from '../../motion/quaternion.ts';
import { dot, largestOf, rangeOf, type Vec3 } from '../../motion/vector.ts';
import { headFacing } from './head-signal.ts';
import { measureMoves, movesAndHolds, scalarSignal } from '../moves/moves-and-holds.ts';
import type { PointPath } from '../spacing/point-path.ts';
import { made, type Measured, type Reading, tidy, together, unmade } from '../reading.ts';
import { arcRise, SPACING_DEFAULTS } from '../spacing/spacing-and-arcs.ts';

export const HEAD_MOVE_DEFAULTS = Object.freeze({
  /** A head that turns by less than this over the shot, degrees, does not turn. */
  turns: 5,
  /** A move of the head is a turn from this share of the largest on. */
  share: 0.4,
});

/**
 * Moves and holds of the head's turn about up, with part `head`, and the arc of the face over each turn as seen from the front:
 * `arc.rise`, negative where the chin dips.
 */
export function measureHeadMoves(shot: PreparedShot): Measured {
  const facing = headFacing(shot);
  if (!facing) return unmade('move.frames', 'the head is not known; set the roles', 'head');
  const { turn } = facing;
  if (turn.length < 6 || rangeOf(turn) < HEAD_MOVE_DEFAULTS.turns)
    return unmade('move.frames', 'the head does not turn', 'head');
  const signal = scalarSignal(turn);
  const moves = movesAndHolds(signal, shot.fps).filter(({ kind }) => kind === 'move');
  const largest = largestOf(moves.map(({ from, to }) => signal.distance(from, to)));
  const turns = moves.filter(({ from, to }) => signal.distance(from, to) >= HEAD_MOVE_DEFAULTS.share * largest);
  const path = facePath(shot, facing.forward);
  const arcs = turns.map(({ from, to }): Reading => {
    const rise = arcRise(path, from, to, shot.axes.up);
    const span = { from: labelOf(shot, from), to: labelOf(shot, to) };
    const value = Number.isFinite(rise) ? tidy(rise) : 0;
    const detail = { ...span, flat: Math.abs(value) < SPACING_DEFAULTS.flatUnder };
    return { id: 'arc.rise', part: 'head', value, unit: '%', frames: [span.from, span.to], detail };
  });
  return together(measureMoves(shot, signal, 'head'), made(...arcs));
}

/** Path of a point before the face, as seen from where the head mostly looks to: its part towards there is left out. */
function facePath({ motion, world, roles, axes, scale }: PreparedShot, view: Vec3): PointPath {
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
