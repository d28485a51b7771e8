import { jointIndex } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { jointTurn } from '../motion/joint-turn.ts';
import { headFacing } from '../measure/head/head-signal.ts';
import { type MovingSignal, poseSignal, scalarSignal } from '../measure/moves/moving-signal.ts';
import type { Labels, MarkPlace } from './mark-tool.ts';

/** The joint a mark hangs on; undefined where it is about the whole body, or the shot has no such joint. */
export function placedJoint(shot: PreparedShot, { point }: Pick<MarkPlace, 'point'>): number | undefined {
  const joint = point === null ? -1 : jointIndex(shot.motion, point);
  return joint < 0 ? undefined : joint;
}

/** Whether every label of a place is in the shot. */
export const isWithin = (shot: PreparedShot, { from, to }: Labels): boolean =>
  from <= to && from >= shot.firstFrame && to < shot.firstFrame + shot.played.motion.frames;

/** The one signal a place's move is read from: the head's turn about up, another joint's own turn; undefined without a joint. */
export function placedTurn(shot: PreparedShot, place: Pick<MarkPlace, 'point'>): Float64Array | undefined {
  const joint = placedJoint(shot, place);
  if (joint === undefined) return undefined;
  return joint === shot.roles.head ? headFacing(shot)?.turn : jointTurn(shot, joint);
}

/** What moves and rests at a place: its joint's turn, or the whole pose. */
export function placedSignal(shot: PreparedShot, place: Pick<MarkPlace, 'point'>): MovingSignal {
  const turn = placedTurn(shot, place);
  return turn ? scalarSignal(turn) : poseSignal(shot);
}

/** Frames two spans share; a span of one frame counts as one. */
export const overlap = (a: Labels, b: Labels): number => Math.min(a.to, b.to) - Math.max(a.from, b.from) + 1;

/** Of several spans the one that shares most frames with a place, or else lies nearest to it; of equals the first. */
export function nearestSpan<T extends Labels>(spans: readonly T[], place: Labels): T | undefined {
  return spans.reduce<T | undefined>(
    (best, span) => (best === undefined || overlap(span, place) > overlap(best, place) ? span : best),
    undefined,
  );
}
