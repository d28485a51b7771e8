import { MARK_TOOLS, type Payload } from './mark.ts';
import type { Distance, Met } from './mark-tool.ts';
import { quoteDistance } from './quote.ts';

export const PROGRESS_DEFAULTS = Object.freeze({
  /** A change of less than this share of what was missing is none … */
  share: 0.1,
  /** … and of less than this, in the mark's own unit, neither. */
  least: 0.05,
});

/** What became of what a mark asked for. */
export type Progress = 'as wanted' | 'towards' | 'past' | 'unchanged' | 'away';

/** What each says, in words that follow “it”. */
export const PROGRESS_WORDS: Readonly<Record<Progress, string>> = {
  'as wanted': 'is as wanted',
  towards: 'moved towards what was wanted',
  past: 'went past what was wanted',
  unchanged: 'is unchanged',
  away: 'moved away from what was wanted',
};

/**
 * What became of what a mark asked for: what was measured when it was made, against what is measured now.
 *
 * @param now how the later revision stands; undefined where it can't be held against the mark
 * @returns undefined where that is not to be judged
 *
 * @example a slide of 6 % of a leg, wanted 1.5 or less, and now 3: 'towards'
 */
export function progressOf(payload: Payload, now: Met | undefined): Progress | undefined {
  if (!now) return undefined;
  if (now.met) return 'as wanted';
  const then = thenOf(payload);
  if (!then) return undefined;
  if (then.side !== 0 && now.side !== 0 && then.side === -now.side) return 'past';
  const both = inOneUnit(then, now);
  if (!both) return undefined;
  const { share, least } = PROGRESS_DEFAULTS;
  const change = both[1] - both[0];
  if (Math.abs(change) <= Math.max(least, share * Math.max(0, both[0]))) return 'unchanged';
  return change < 0 ? 'towards' : 'away';
}

type Away = Pick<Met, 'distance' | 'unit' | 'side' | 'times'>;

/** Both distances in a unit they share. */
function inOneUnit(a: Away, b: Away): [number, number] | undefined {
  if (a.times !== undefined && b.times !== undefined) return [a.times, b.times];
  return a.unit === b.unit ? [a.distance, b.distance] : undefined;
}

/** How far what was measured then was from what is wanted. */
function thenOf({ kind, quote, measured, wanted }: Payload): Away | undefined {
  if (quote) return quoteDistance(quote, quote.value);
  if (measured === null || wanted === null) return undefined;
  const tool = MARK_TOOLS[kind] as unknown as { distance(m: unknown, w: unknown, then: unknown): Distance | undefined };
  const away = tool.distance(measured, wanted, measured);
  return away && { side: 0, ...away };
}
