import { useMemo } from 'react';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { useCures } from '../cures/cure-store.ts';
import { COMPARED, useDesk } from '../desk-store.ts';
import type { Review } from '../review.ts';
import { useSource } from '../use-source.ts';
import { studied } from './demonstrated.ts';
import { useClock } from './frame-clock.ts';
import { canBePlaced } from './frame-source.ts';
import type { OnAxis } from './label-map.ts';
import { type OnOneAxis, type Shown, useAlignment } from './use-alignment.ts';

/** Another revision that is seen, on the axis of the one on the desk. */
interface Seen extends Shown {
  readonly axis: OnOneAxis;
  /** What is written on its paper. */
  readonly caption: string;
}

/** How other revisions are seen with the one on the desk. */
export interface Compared {
  /** The one beside it, and a third; undefined until their frames have come. */
  readonly other: Seen | undefined;
  readonly third: Seen | undefined;
  /** The one beside it, as lanes and papers take it. */
  readonly onAxis: OnAxis | undefined;
  /** Both are pictures that can be laid over one another. */
  readonly canBeLaid: boolean;
  /** `laid`: one picture over the other, wiped or blended; `wiped`: two papers, one behind the other; `over`: a cure, dotted over the figure. */
  readonly by: 'beside' | 'behind' | 'flicked' | 'laid' | 'wiped' | 'over';
}

/**
 * The revisions that the one on the desk is held against; with `shownBy` what a teacher has made in place of the first. What was chosen for clips says nothing of motions: there they are seen side by side.
 */
export function useCompared(
  { shot, revision, source: own, role }: Pick<Review, 'shot' | 'revision' | 'source' | 'role'>,
  beside: Revision | undefined,
  third: Revision | undefined,
  arePointsStored: boolean,
  shownBy?: Shot,
  cured?: OnAxis,
): Compared {
  const { source: other } = useSource(shownBy ?? shot, beside);
  const { source: last } = useSource(shot, beside && third);
  const here = own && { revision, source: own };
  // What shows how is no revision of this shot: no map of the server's leads to it.
  const place = beside && (shownBy ? { id: beside.id, number: 0 } : beside);
  const laid = useAlignment(here, place && other && { revision: place, source: other }, arePointsStored);
  const clock = useClock();
  const limits = role === 'student' ? shownBy?.demonstration : undefined;
  const axis = useMemo(
    () => (limits && beside ? { labelMap: studied(laid.labelMap, limits, beside.id, clock), says: laid.says } : laid),
    [laid, limits, beside, clock],
  );
  const lastAxis = useAlignment(here, beside && third && last && { revision: third, source: last }, arePointsStored);
  const chosen = useDesk((state) => state.comparedBy);
  const cureSeen = useCures((state) => state.seen);
  return useMemo(() => {
    // A cure comes before anything else that may lie beside the shot.
    if (cured) {
      const seen = { revision: { id: 'cure', number: revision.number }, source: cured.source, caption: CURE };
      const laidOut = { ...seen, axis: { labelMap: cured.labelMap, says: undefined } };
      return { other: laidOut, third: undefined, onAxis: cured, canBeLaid: false, by: cureSeen };
    }
    const canBeLaid = Boolean(beside && canBePlaced(own) && canBePlaced(other));
    const onAxis = beside && other && { source: other, labelMap: axis.labelMap };
    const seen = COMPARED[canBeLaid ? 'pictures' : 'motion'].includes(chosen) ? chosen : 'beside';
    const figures = Boolean(own?.figure && other?.figure);
    const by = ((): Compared['by'] => {
      if (!onAxis || seen === 'beside') return 'beside';
      if (canBeLaid && (seen === 'wiped' || seen === 'blended')) return 'laid';
      if (seen === 'blended') return 'beside';
      return seen === 'behind' && !figures ? 'beside' : seen;
    })();
    return {
      other: beside && other && { revision: beside, source: other, axis, caption: captionOf(beside, shownBy) },
      third: beside && third && last && { revision: third, source: last, axis: lastAxis, caption: captionOf(third) },
      onAxis,
      canBeLaid,
      by,
    };
  }, [own, beside, other, axis, third, last, lastAxis, chosen, shownBy, cured, cureSeen, revision.number]);
}

/** What is written where a cure is seen. */
export const CURE = 'One way to do it';

const captionOf = ({ number }: Revision, shownBy?: Shot): string =>
  shownBy ? `Shown by ${shownBy.student.name}` : `Revision ${number}`;
