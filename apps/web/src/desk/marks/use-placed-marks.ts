import { useMemo } from 'react';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { useCarried } from '../../api/data.ts';
import { type PlacedMark, placedMarks } from './placed-marks.ts';

/** Every mark of the shot where it lies on the revision on the desk. */
export function usePlacedMarks(shot: Shot, revision: Revision): readonly PlacedMark[] {
  const hasEarlier = shot.revisions.some(({ number }) => number < revision.number);
  const { data: carried } = useCarried(hasEarlier ? revision : undefined);
  return useMemo(
    () => placedMarks(shot.marks, shot.revisions, revision, carried),
    [shot.marks, shot.revisions, revision, carried],
  );
}
