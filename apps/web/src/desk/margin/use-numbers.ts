import { useEffect, useRef } from 'react';
import type { FrameSource } from '../frames/frame-source.ts';
import { type Draft, measured, withNumbers } from './draft.ts';
import type { Update } from './use-undo.ts';

/**
 * Wherever the mark that is written was put, its numbers follow. One place is measured at a time: while a finger drags on, what lies between is
 * left out, and the last is measured.
 */
export function useNumbers(
  draft: Draft | undefined,
  amendDraft: (update: Update<Draft>) => Draft | undefined,
  source: FrameSource | undefined,
): void {
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
