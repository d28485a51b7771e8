import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { rangeOf } from '../../motion/vector.ts';
import { jointTurn } from '../../signal/joint-turn.ts';
import { usualChains } from './lag.ts';
import { measureMoveEnds } from '../moves/move-ends.ts';
import { measureMoves, scalarSignal } from '../moves/moves-and-holds.ts';
import { type Measured, together } from '../reading.ts';

/** A chain whose tip turns by less than this in the world, degrees, does not take part. */
const STILL = 1;

/** How every usual chain that moves leaves and comes to rest: moves, holds and ends of its tip's turning in the world. */
export function measureChainEnds(shot: PreparedShot): Measured {
  if (shot.motion.frames < 6) return { readings: [], unmade: [] };
  return together(
    ...usualChains(shot).flatMap(([part, chain]) => {
      const turn = jointTurn(shot, chain.at(-1)!, 'world');
      if (rangeOf(turn) < STILL) return [];
      return [measureMoves(shot, scalarSignal(turn), part), measureMoveEnds(shot, turn, part)];
    }),
  );
}
