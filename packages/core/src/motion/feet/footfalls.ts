import type { PosedFigure } from '../prepared-shot.ts';
import { median } from '../../signal/statistics.ts';
import { findContacts } from './contacts.ts';

/** A step over the seam is as long as the others to within these shares. */
const SHORTEST = 0.4;
const LONGEST = 1.7;

/**
 * Whether a shot could begin again behind its last frame as far as its footfalls go: the foot that lands first in it is not the one that
 * landed last, and the step between them takes about as long as the others.
 *
 * @param shot taken as no loop
 * @param period samples after which it would begin again
 * @returns undefined where too few feet land to tell
 */
export function footfallsClose(shot: PosedFigure, period: number): boolean | undefined {
  const { feet } = findContacts(shot);
  const stands = (['L', 'R'] as const)
    .flatMap((side) => (feet[side] ?? []).map((contact) => ({ side, ...contact })))
    .filter(({ from }) => from < period)
    .sort((a, b) => a.from - b.from);
  const later = stands.filter(({ from }) => from > 0);
  const atOnce = stands.filter(({ from }) => from === 0).sort((a, b) => a.to - b.to);
  // Of two feet that stand when the shot begins the one that leaves last has just landed.
  if (atOnce.length > 1) return landingsClose(shot, [atOnce.at(-1)!, ...later], period);
  // One alone has just landed, as in a run, or has stood there for long.
  const without = landingsClose(shot, later, period);
  return without === false && atOnce[0] ? landingsClose(shot, [atOnce[0], ...later], period) : without;
}

interface Landing {
  readonly side: 'L' | 'R';
  readonly from: number;
}

/** @param landed in the order they land */
function landingsClose({ fps }: PosedFigure, landed: readonly Landing[], period: number): boolean | undefined {
  const landings = [...landed];
  const [first] = landings;
  // Landings are right to a frame: one on the last frame may be the first one again.
  const again = landings.at(-1);
  const reach = Math.max(1, Math.round(fps / 24));
  if (first && again && again !== first && again.side === first.side && first.from + period - again.from <= reach)
    landings.pop();
  const last = landings.at(-1);
  if (!first || !last || landings.length < 2) return undefined;
  if (first.side === last.side) return false;
  const steps = landings.slice(1).map(({ from }, k) => from - landings[k]!.from);
  const usual = median(steps);
  const over = first.from + period - last.from;
  return over >= SHORTEST * usual && over <= LONGEST * usual;
}
