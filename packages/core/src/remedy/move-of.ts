import { headFacing } from '../measure/head/head-signal.ts';
import { poseSignal, scalarSignal } from '../measure/moves/moving-signal.ts';
import { isMove, type Move, stretchesOf, travelOf } from '../measure/moves/stretches.ts';
import { exponential, jointTurn, logarithm } from '../motion/joint-turn.ts';
import { conjugate, multiply } from '../motion/quaternion.ts';
import { add, scale, subtract } from '../motion/vector.ts';
import { rangeOf } from '../signal/statistics.ts';
import type { Given } from './given.ts';
import type { MotionEditor } from './motion-editor.ts';
import { type ParameterKind, RemedyError } from './remedy.ts';
import type { Range, Subject } from './subject.ts';

/** A joint with the move it makes. */
export interface JointMove {
  readonly joint: number;
  readonly from: number;
  readonly to: number;
}

/** What makes the move, and where: parameters of every remedy that is about one. */
export const OF_A_MOVE = {
  joint: { is: 'joint', say: 'one joint; the whole body where nothing is named' },
  parts: { is: 'parts', say: 'or parts' },
  chain: { is: 'chain', say: 'or a chain' },
  from: { is: 'frame', say: 'where the move starts; its largest where it is left out' },
  to: { is: 'frame', say: 'where the move ends' },
} as const satisfies Readonly<Record<string, ParameterKind>>;

/** What turns less than this, degrees, makes no move. */
const STILL = 0.5;

/**
 * The moves of some joints, those of a chain each in its own time, that share most frames with a range; their largest where no range is given.
 * @throws RemedyError where none of them moves
 */
export function movesOf(subject: Subject, given: Given, what: string): JointMove[] {
  const names = ['joint', 'parts', 'chain'].filter((name) => given.has(name));
  if (names.length > 1) throw new RemedyError(`${what} takes a joint, parts or a chain, not several of them`);
  // Left out it is the whole body.
  const name = names[0] ?? 'parts';
  const text = given.text(name) ?? 'the body';
  const joints =
    names.length === 0
      ? subject.motion.joints.map((_, j) => j)
      : name === 'chain'
        ? subject.chain(text)
        : name === 'parts'
          ? subject.joints(text)
          : [subject.joint(text)];
  const range = subject.range(given) ?? (names.length === 0 ? largestMove(subject) : undefined);
  const moves = joints.flatMap((joint) => {
    const move = moveOf(subject, joint, range);
    return move ? [{ joint, from: move.from, to: move.to }] : [];
  });
  if (moves.length === 0) throw new RemedyError(`${what}: ${text} makes no move${range ? ' there' : ''}`);
  if (name === 'chain') return moves;
  // A part goes as one: from when the first of its joints starts until the last has come to rest.
  const from = Math.min(...moves.map((move) => move.from));
  const to = Math.max(...moves.map((move) => move.to));
  return moves.map(({ joint }) => ({ joint, from, to }));
}

/** The largest move of the whole body. */
function largestMove({ shot, motion }: Subject): Range | undefined {
  const signal = poseSignal({ ...shot, motion });
  const moves = stretchesOf(signal, shot.fps).filter(isMove);
  const worth = (move: Move): number => travelOf(signal, move);
  return moves.reduce<Move | undefined>((best, move) => (!best || worth(move) > worth(best) ? move : best), undefined);
}

function moveOf(subject: Subject, joint: number, range: Range | undefined): Move | undefined {
  const shot = { ...subject.shot, motion: subject.motion, world: subject.world };
  const turn = joint === shot.roles.head ? (headFacing(shot)?.turn ?? jointTurn(shot, joint)) : jointTurn(shot, joint);
  if (rangeOf(turn) < STILL) return undefined;
  const signal = scalarSignal(turn);
  const moves = stretchesOf(signal, shot.fps).filter(isMove);
  const worth = (move: Move): number =>
    range ? Math.min(move.to, range.to) - Math.max(move.from, range.from) : travelOf(signal, move);
  return moves.reduce<Move | undefined>((best, move) => (!best || worth(move) > worth(best) ? move : best), undefined);
}

/** Adds to a joint, over some samples, so much of what it does in its move: turned and moved along or against it. */
export function addOfMove(
  editor: MotionEditor,
  { joint, from, to }: JointMove,
  samples: number,
  share: (sample: number) => number,
): void {
  const [x, y, z] = logarithm(multiply(conjugate(editor.local(from, joint)), editor.local(to, joint)));
  const gone = editor.moves(joint) ? subtract(editor.ownPlace(to, joint), editor.ownPlace(from, joint)) : undefined;
  for (let f = 0; f < samples; f++) {
    const k = share(f);
    if (k === 0) continue;
    editor.setLocal(f, joint, multiply(editor.local(f, joint), exponential([k * x, k * y, k * z])));
    if (gone) editor.setOwnPlace(f, joint, add(editor.ownPlace(f, joint), scale(gone, k)));
  }
}
