import { GAITS } from '../../motion/kinds.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { mean } from '../../signal/statistics.ts';
import { viewGait } from '../gait/gait-view.ts';

/** A whole cycle: samples, which may be fractions; of a loop `from + length` may lie past its period. */
export interface WholeCycle {
  readonly from: number;
  readonly length: number;
}

/**
 * Cycles of a loop whose lengths are within this of their mean, samples, are as long as each other; footfalls of motion that trembles are
 * right to a sample only.
 */
const ALIKE = 0.75;
const ALIKE_TREMBLING = 1.5;

/**
 * The whole cycles in a shot. Of a gait from its footfalls, whether it loops or not; of other loops, and of held poses, the loop itself, as
 * many times as its poses come back. None where there is none.
 */
export function wholeCycles(shot: PreparedShot): WholeCycle[] {
  const wraps = shot.loop !== 'none';
  const view = GAITS.includes(shot.kind) && !shot.exposures.blocking ? viewGait(shot) : undefined;
  if (typeof view === 'object' && view.cycles.length > 0) {
    const lengths = view.cycles.map(({ from, to }) => to - from);
    const length = wraps ? shot.period / lengths.length : mean(lengths);
    const even = wraps && lengths.every((own) => Math.abs(own - length) <= (shot.jitter > 0 ? ALIKE_TREMBLING : ALIKE));
    const { from } = view.cycles[0]!;
    return even
      ? lengths.map((_, k) => ({ from: from + k * length, length }))
      : view.cycles.map((cycle) => ({ from: cycle.from, length: cycle.to - cycle.from }));
  }
  if (!wraps) return [];
  const length = shot.period / shot.cycles;
  return Array.from({ length: shot.cycles }, (_, k) => ({ from: k * length, length }));
}
