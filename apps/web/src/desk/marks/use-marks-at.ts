import { useCallback } from 'react';
import type { Mark } from '@ypsigraph/contract/marks';
import { useDesk } from '../desk-store.ts';
import type { MarksAt } from '../paper/paper.tsx';
import type { Draft } from '../margin/draft.ts';
import type { DrawnMark } from './draw-mark.ts';

/** Marks that show at a label: the one being written and the one that is lit in full, the others by their place. */
export function useMarksAt(marks: readonly Mark[], draft: Draft | undefined): MarksAt {
  const lit = useDesk((state) => state.lit);
  return useCallback(
    (label) => {
      const drawn: DrawnMark[] = [];
      for (const mark of marks) {
        const done = mark.state === 'cleared' || mark.state === 'waived';
        const here = label >= mark.from && label <= mark.to;
        if (mark.id === lit || (here && !done)) drawn.push({ ...mark, full: mark.id === lit || here });
      }
      if (draft) drawn.push({ ...draft, full: true });
      return drawn;
    },
    [marks, draft, lit],
  );
}
