import type { Carried } from '@ypsigraph/contract/alignments';
import type { Mark } from '@ypsigraph/contract/marks';
import type { Revision } from '@ypsigraph/contract/shots';
import { carryLabels } from '@ypsigraph/core/align/carry';
import { innerLabel } from '@ypsigraph/core/mark/mark';
import { framesText } from '../margin/frames-text.ts';

/** How a mark came to lie where it does on the revision on the desk. */
export type Placing =
  /** It was made on it, or on a later one: by label. */
  | { readonly by: 'label' }
  /** Its frames were found in it. */
  | { readonly by: 'found' }
  /** Somebody has put it there. */
  | { readonly by: 'hand'; readonly author: string }
  /** Where its frames are is being found out; until then by label. */
  | { readonly by: 'waiting' }
  /** Where they are could not be found out: by label. */
  | { readonly by: 'unknown'; readonly why: string }
  /** Its frames are not in this revision. */
  | { readonly by: 'gone' };

/** A mark where it lies on the revision on the desk: `from` and `to` are labels of that, `was` those it was made at. */
export interface PlacedMark extends Mark {
  readonly was: { readonly from: number; readonly to: number };
  readonly placing: Placing;
  /** Its own label between the two here, of a kind that has one. */
  readonly inner?: number;
}

/** Whether a mark has a place on the revision on the desk. */
export const hasPlace = ({ placing }: PlacedMark): boolean => placing.by !== 'gone';

/** Every mark of a shot where it lies on one of its revisions: those of earlier ones on the frames that show now what was shown then. */
export function placedMarks(
  marks: readonly Mark[],
  revisions: readonly Pick<Revision, 'id' | 'number'>[],
  on: Pick<Revision, 'id' | 'number'>,
  carried: Carried | undefined,
): PlacedMark[] {
  const numbers = new Map(revisions.map(({ id, number }) => [id, number]));
  const outcomes = new Map(carried?.from.map(({ revision, outcome }) => [revision, outcome]));
  const hands = new Map(carried?.places.map((place) => [place.mark, place]));
  return marks.map((mark): PlacedMark => {
    const { from, to } = mark;
    const was = { from, to };
    if ((numbers.get(mark.revision) ?? on.number) >= on.number) return { ...mark, was, placing: { by: 'label' } };
    const hand = hands.get(mark.id);
    if (hand) return { ...mark, was, from: hand.from, to: hand.to, placing: { by: 'hand', author: hand.author } };
    const outcome = outcomes.get(mark.revision);
    if (!outcome) return { ...mark, was, placing: { by: 'waiting' } };
    if ('why' in outcome) return { ...mark, was, placing: { by: 'unknown', why: outcome.why } };
    const there = carryLabels(was, outcome.map);
    if (!there) return { ...mark, was, placing: { by: 'gone' } };
    const at = mark.payload ? innerLabel(mark.payload) : undefined;
    const inner = at === undefined ? undefined : carryLabels({ from: at, to: at }, outcome.map)?.from;
    return { ...mark, was, ...there, placing: { by: 'found' }, ...(inner !== undefined && { inner }) };
  });
}

/** What is said of where a mark of an earlier revision lies now. */
export function placingWords({ from, to, was, placing }: Pick<PlacedMark, 'from' | 'to' | 'was' | 'placing'>): string {
  const then = framesText(was);
  const moved = from !== was.from || to !== was.to;
  const words: { readonly [K in Placing['by']]: (own: Extract<Placing, { by: K }>) => string } = {
    label: () => '',
    found: () => (moved ? `was ${then}: moved with its frames` : ''),
    hand: ({ author }) => `was ${then}: put here by ${author}`,
    waiting: () => 'finding these frames in this revision …',
    unknown: ({ why }) => `by label: ${why}`,
    gone: () => `was ${then}: these frames are not in this revision`,
  };
  return (words[placing.by] as (own: Placing) => string)(placing);
}
