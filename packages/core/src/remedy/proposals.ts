import type { Reading } from '../measure/reading.ts';
import { type Asked, type Parameters, type Proposal, SOUGHT } from './remedy.ts';

/** First and last label of what a reading is about, whole frames; undefined where it does not say. */
export function spanOf({ detail, frames = [] }: Reading): { readonly from: number; readonly to: number } | undefined {
  const { from, to } = (detail ?? {}) as { from?: unknown; to?: unknown };
  if (typeof from === 'number' && typeof to === 'number') return { from: Math.round(from), to: Math.round(to) };
  if (frames.length === 0) return undefined;
  return { from: Math.round(Math.min(...frames)), to: Math.round(Math.max(...frames)) };
}

/** Where everything is that a finding is about, the last place first: a change of length moves only what comes behind it. */
export const spansOf = ({ all }: Asked): { readonly from: number; readonly to: number }[] =>
  all.flatMap((reading) => spanOf(reading) ?? []);

/** The parts a finding is of: its own, and the one on the other side that does as much. */
export const partsOf = ({ finding: { reading, twin } }: Asked): string[] =>
  [reading.part, twin].filter((part) => part !== undefined);

/** The part a reading is of, as a remedy takes it; nothing where it is of the whole body. */
export const inParts = ({ part }: Pick<Reading, 'part'>): Parameters => (part === undefined ? {} : { parts: part });

/** A side as a reading's part ends in it. */
export const sideOfPart = (part: string): 'L' | 'R' => (part.endsWith('R') ? 'R' : 'L');

/** How far the reading's value lies from the one that is wanted; 0 where it is no number. */
export const wayTo = ({ finding: { reading }, target }: Asked): number =>
  typeof reading.value === 'number' && target !== undefined ? target - reading.value : 0;

/** One step for each of some things, all with the same value sought. */
export const forEach = <T>(
  list: readonly T[],
  remedy: string,
  parameters: (own: T) => Parameters,
  seek: Proposal['seek'],
): Proposal => ({
  steps: list.map((own) => ({ remedy, parameters: parameters(own) })),
  ...(seek && { seek }),
});

/** More or less of a quantity, added: sought from nothing to twice the way that is missing. */
export const added = (
  asked: Asked,
  of: readonly string[],
  quantity: string,
  more: Parameters = {},
  sign = 1,
): Proposal =>
  forEach(of, 'amount', (own) => ({ quantity, of: own, by: SOUGHT, ...more }), {
    from: 0,
    to: sign * (2 * wayTo(asked) + Math.sign(wayTo(asked))),
  });

/** More or less of a quantity about its mean: sought from as much as there is to none, or to so many times as much. */
export const scaled = (asked: Asked, of: readonly string[], quantity: string, most = 6): Proposal =>
  forEach(of, 'amount', (own) => ({ quantity, of: own, factor: SOUGHT }), { from: 1, to: wayTo(asked) < 0 ? 0 : most });
