import { useCallback, useMemo } from 'react';
import type { Revision } from '@ypsigraph/contract/shots';
import type { FrameSource } from '../frames/frame-source.ts';
import { useDesk } from '../desk-store.ts';
import type { MarksAt } from '../paper/paper.tsx';
import type { Draft } from '../margin/draft.ts';
import type { DrawnMark } from './drawn-mark.ts';
import type { PlacedMark } from './placed-marks.ts';
import { thenPath } from './then-path.ts';

/** Marks that show at a label: the one being written and the one that is lit in full, the others by their place. */
export function useMarksAt(
  marks: readonly PlacedMark[],
  draft: Draft | undefined,
  own: FrameSource | undefined,
  then: { readonly revision: Pick<Revision, 'id'>; readonly source: FrameSource } | undefined,
): MarksAt {
  const paths = useMemo(
    () =>
      new Map(
        marks.flatMap((mark) => {
          const path = own && then && mark.revision === then.revision.id ? thenPath(own, then.source, mark) : undefined;
          return path ? [[mark.id, path] as const] : [];
        }),
      ),
    [marks, own, then],
  );
  // However they came: what lies over what is the same each time.
  const ordered = useMemo(
    () => marks.toSorted((a, b) => a.from - b.from || a.to - b.to || a.id.localeCompare(b.id)),
    [marks],
  );
  const lit = useDesk((state) => state.lit);
  return useCallback(
    (label) => {
      const drawn: DrawnMark[] = [];
      for (const mark of ordered) {
        const done = mark.state === 'cleared' || mark.state === 'waived';
        const here = label >= mark.from && label <= mark.to;
        if (mark.id === lit || (here && !done))
          drawn.push({ ...mark, full: mark.id === lit || here, then: paths.get(mark.id) });
      }
      if (draft) drawn.push({ ...draft, full: true });
      return drawn;
    },
    [ordered, draft, lit, paths],
  );
}
