import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { rangeOf } from '../../signal/statistics.ts';
import { jointTurn } from '../../motion/joint-turn.ts';
import { measureMoveEnds, MOVE_ENDS } from '../moves/move-ends.ts';
import { measureMoves } from '../moves/moves-and-holds.ts';
import { scalarSignal } from '../moves/moving-signal.ts';
import { type Measured, refuse, together } from '../reading.ts';
import { usualChains } from './lag.ts';

/** A chain whose tip turns by less than this in the world, degrees, does not take part. */
const STILL = 1;

/** How every usual chain that moves leaves and comes to rest: moves, holds and ends of its tip's turning in the world. */
export function measureChainEnds(shot: PreparedShot): Measured {
  if (shot.motion.frames < 6) return refuse(MOVE_ENDS, `it needs 6 poses or more, the shot has ${shot.motion.frames}`);
  const chains = usualChains(shot).flatMap(([part, chain]) => {
    const turn = jointTurn(shot, chain.at(-1)!, 'world');
    return rangeOf(turn) < STILL ? [] : [{ part, turn }];
  });
  if (chains.length === 0) return refuse(MOVE_ENDS, 'no known chain of joints turns');
  return together(
    ...chains.flatMap(({ part, turn }) => [
      measureMoves(shot, scalarSignal(turn), part),
      measureMoveEnds(shot, turn, part),
    ]),
  );
}
