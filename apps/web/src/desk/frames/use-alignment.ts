import { useMemo } from 'react';
import useSWRImmutable from 'swr/immutable';
import { sayAlignmentNote, type ShotNames } from '@ypsigraph/core/align/alignment-notes';
import { type Comparable, comparableBy, type ComparableBy, NOTHING_IN_COMMON } from '@ypsigraph/core/align/comparable';
import { type Alignment, mapLabel } from '@ypsigraph/core/align/frame-map';
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

/** How two revisions lie on the desk's axis together. */
export interface OnOneAxis {
  /** The other's own label for one of the desk's. */
  readonly through: LabelMap;
  /** What is said of it on the other's paper; undefined where they lie there by label. */
  readonly says: string | undefined;
}

const BY: Readonly<Record<ComparableBy, string>> = {
  poses: 'aligned by its poses',
  points: 'aligned by its points',
  pictures: 'aligned by the likeness of its pictures',
};
const NAMES: ShotNames = { first: 'the one on the desk', second: 'this one' };
const BY_LABEL: OnOneAxis = { through: IDENTITY, says: undefined };

/**
 * Lays a revision on the axis of the one on the desk: by what they show where that is asked for, or where nobody has chosen and one is longer than
 * the other; else by label.
 */
export function useAlignment(own: FrameSource | undefined, other: FrameSource | undefined): OnOneAxis {
  const chosen = useDesk((state) => state.alignedBy);
  const by = own && other && comparableBy(asComparable(own), asComparable(other));
  const wanted = chosen ?? (own && other && own.frames !== other.frames ? 'shown' : 'label');
  const key = own && other && by && wanted === 'shown' ? (['alignment', own, other, by] as const) : null;
  const { data, error } = useSWRImmutable<Alignment | string, Error, typeof key>(key, ([, a, b, how]) =>
    align(a, b, how),
  );
  return useMemo(() => {
    if (wanted === 'label') return BY_LABEL;
    if (!by) return { through: IDENTITY, says: `by label: ${NOTHING_IN_COMMON}` };
    if (error) return { through: IDENTITY, says: `by label: ${error.message}` };
    if (data === undefined) return { through: IDENTITY, says: 'aligning …' };
    if (typeof data === 'string') return { through: IDENTITY, says: `by label: ${data}` };
    return {
      through: (label) => mapLabel(data.map, label),
      says: [BY[by], ...data.notes.map((note) => sayAlignmentNote(note, NAMES))].join('; '),
    };
  }, [wanted, by, data, error]);
}

async function align(a: FrameSource, b: FrameSource, by: ComparableBy): Promise<Alignment | string> {
  if (by !== 'pictures') return alignPoses(a.figure!.measured, b.figure!.measured);
  const [pictures, others] = [await smallLumas(a.pictures!), await smallLumas(b.pictures!)];
  return alignClips({ pictures, first: a.first }, { pictures: others, first: b.first });
}
