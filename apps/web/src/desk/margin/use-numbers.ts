import { useEffect, useRef } from 'react';
import { useReview } from '../review.ts';
import { useWriting } from '../writing.ts';
import { type Draft, measured, withNumbers } from './draft.ts';

/**
 * Wherever the mark that is written was put, its numbers follow. One place is measured at a time: while a finger drags on, what lies between is
 * left out, and the last is measured.
 */
export function useNumbers(): void {
  const { source } = useReview();
  const { draft, amendDraft } = useWriting();
  const busy = useRef(false);
  useEffect(() => {
    if (!draft?.moved || busy.current) return;
    const follow = async (): Promise<void> => {
      busy.current = true;
      let asked: Draft | undefined = draft;
      while (asked?.moved) {
        const about: Draft = asked;
        // What can't be measured stays without numbers.
        const told = await measured(about, source).catch(() => ({ ...about, moved: false }));
        asked = amendDraft((now) => withNumbers(now, about, told));
      }
      busy.current = false;
    };
    void follow();
  }, [draft, amendDraft, source]);
}
