import { createContext, useCallback, useContext, useMemo } from 'react';
import type { Finding } from '@ypsigraph/core/gauge/findings';
import { useKept } from '../api/kept.ts';
import { useDesk } from './desk-store.ts';
import { type Draft, onto } from './margin/draft.ts';
import { findingDraft } from './margin/finding-draft.ts';
import { type Update, useUndo } from './margin/use-undo.ts';
import { useReview } from './review.ts';

/** The mark that is being written: margin, paper and strip all work on it. */
export interface Writing {
  readonly draft: Draft | undefined;
  readonly setDraft: (draft: Draft | undefined) => void;
  /** Numbers that were measured for it: no step to take back. */
  readonly amendDraft: (update: Update<Draft>) => Draft | undefined;
  readonly undo: () => void;
  readonly redo: () => void;
}

const NOTHING_WRITTEN: Writing = {
  draft: undefined,
  setDraft: () => undefined,
  amendDraft: () => undefined,
  undo: () => undefined,
  redo: () => undefined,
};
export const WritingContext = createContext<Writing>(NOTHING_WRITTEN);
export const useWriting = (): Writing => useContext(WritingContext);

/** What is written on a revision: kept in this browser until it is sent or thrown away, each step of it can be taken back. */
export function useWritten(revision: string): Writing {
  const [kept, setKept] = useKept<Draft>(`draft:${revision}`);
  const { value: draft, change, amend: amendDraft, undo, redo } = useUndo(kept, setKept);
  const setDraft = useCallback((next: Draft | undefined) => change((now) => onto(now, draft, next)), [change, draft]);
  return useMemo(() => ({ draft, setDraft, amendDraft, undo, redo }), [draft, setDraft, amendDraft, undo, redo]);
}

/** Makes a mark of a finding, to be written; undefined where none can be made. */
export function useTake(): ((finding: Finding) => void) | undefined {
  const { canMark, judged } = useReview();
  const { setDraft } = useWriting();
  const { report } = judged;
  return useMemo(
    () =>
      canMark
        ? (finding) => {
            if (report) setDraft(findingDraft(finding, report));
            useDesk.getState().set({ wantsWords: true });
          }
        : undefined,
    [canMark, report, setDraft],
  );
}
