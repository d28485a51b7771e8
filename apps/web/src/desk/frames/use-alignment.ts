import { useMemo } from 'react';
import useSWRImmutable from 'swr/immutable';
import type { AlignmentOutcome } from '@ypsigraph/contract/alignments';
import type { Revision } from '@ypsigraph/contract/shots';
import { type Comparable, comparableBy, type ComparableBy, NOTHING_IN_COMMON } from '@ypsigraph/core/align/comparable';
import { sayAlignmentNote, type ShotNames } from '@ypsigraph/core/align/alignment-notes';
import { type Alignment, mapLabel } from '@ypsigraph/core/align/frame-map';
import { inverted } from '@ypsigraph/core/align/what-has-no-counterpart';
import { useCarried } from '../../api/data.ts';
import { alignClips, alignPoses } from '../../workers/align.ts';
import { useDesk } from '../desk-store.ts';
import { smallLumas } from '../pictures/small-lumas.ts';
import type { FrameSource } from './frame-source.ts';
import { IDENTITY, type LabelMap } from './label-map.ts';

/** A source as far as it can be held against another. */
export const asComparable = ({ figure, flat, pictures }: FrameSource): Comparable => ({
  shot: figure?.measured,
  flat,
  hasPictures: pictures !== undefined,
});

/** A revision with its frames. */
export interface Shown {
  readonly revision: Pick<Revision, 'id' | 'number'>;
  readonly source: FrameSource;
}

/** How two revisions lie on the desk's axis together. */
export interface OnOneAxis {
  /** The other's own label for one of the desk's. */
  readonly labelMap: LabelMap;
  /** What is said of it on the other's paper; undefined where they lie there by label. */
  readonly says: string | undefined;
}

const BY: Readonly<Record<ComparableBy, string>> = {
  poses: 'aligned by its poses',
  points: 'aligned by its points',
  pictures: 'aligned by the likeness of its pictures',
};
const BY_LABEL: OnOneAxis = { labelMap: IDENTITY, says: undefined };
const OWN = 'the one on the desk';
const OTHER = 'this one';

/**
 * Lays a revision on the axis of the one on the desk: by what they show where that is asked for, or where nobody has chosen and one is longer than
 * the other; else by label. The map that the server has is taken; the page makes one of its own only where there is none, or of points that have not
 * been stored yet.
 *
 * @param arePointsStored whether the points on this page are those the server has
 */
export function useAlignment(own: Shown | undefined, other: Shown | undefined, arePointsStored: boolean): OnOneAxis {
  const chosen = useDesk((state) => state.alignedBy);
  const by = own && other && comparableBy(asComparable(own.source), asComparable(other.source));
  const wanted = chosen ?? (own && other && own.source.frames !== other.source.frames ? 'shown' : 'label');
  const isOwnLater = own && other && own.revision.number > other.revision.number;
  const [earlier, later] = isOwnLater ? [other, own] : [own, other];
  const asks = by !== undefined && wanted === 'shown';
  const stored = useCarried(asks && arePointsStored ? later?.revision : undefined);
  const entry = stored.data?.from.find(({ revision }) => revision === earlier?.revision.id);
  // Until the server has answered nothing is made twice; where its answer is that it has made none yet, the page does not wait for it.
  const isStored = arePointsStored && !stored.error && (stored.data === undefined || entry?.outcome != null);
  const key = asks && !isStored ? (['alignment', own!.source, other!.source, by] as const) : null;
  const made = useSWRImmutable<Alignment | string, Error, typeof key>(key, ([, a, b, how]) => align(a, b, how));
  return useMemo(() => {
    if (wanted === 'label') return BY_LABEL;
    if (!by) return { labelMap: IDENTITY, says: `by label: ${NOTHING_IN_COMMON}` };
    if (made.error) return { labelMap: IDENTITY, says: `by label: ${made.error.message}` };
    if (isStored) return laid(by, entry?.outcome ?? undefined, isOwnLater === true);
    return laid(by, typeof made.data === 'string' ? { why: made.data } : made.data, false);
  }, [wanted, by, made.data, made.error, isStored, entry, isOwnLater]);
}

/**
 * How a revision lies there by an outcome.
 * @param isBack the outcome leads from the other revision to the one on the desk
 */
export function laid(by: ComparableBy, outcome: AlignmentOutcome | Alignment | undefined, isBack: boolean): OnOneAxis {
  if (!outcome) return { labelMap: IDENTITY, says: 'aligning …' };
  if ('why' in outcome) return { labelMap: IDENTITY, says: `by label: ${outcome.why}` };
  const map = isBack ? inverted(outcome.map) : outcome.map;
  const names: ShotNames = isBack ? { first: OTHER, second: OWN } : { first: OWN, second: OTHER };
  return {
    labelMap: (label) => mapLabel(map, label),
    says: [BY[by], ...outcome.notes.map((note) => sayAlignmentNote(note, names))].join('; '),
  };
}

async function align(a: FrameSource, b: FrameSource, by: ComparableBy): Promise<Alignment | string> {
  if (by !== 'pictures') return alignPoses(a.figure!.measured, b.figure!.measured);
  const [pictures, others] = [await smallLumas(a.pictures!), await smallLumas(b.pictures!)];
  return alignClips({ pictures, first: a.first }, { pictures: others, first: b.first });
}
