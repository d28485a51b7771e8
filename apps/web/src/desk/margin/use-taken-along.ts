import { useEffect } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { useDesk } from '../desk-store.ts';
import { useReview } from '../review.ts';
import { useWriting } from '../writing.ts';
import type { TakenAlong } from './also-for.tsx';
import { type Draft, measured } from './draft.ts';
import { findingDraft } from './finding-draft.ts';
import { filled } from './phrases.tsx';

/** The words as they were written there. Where they began with what was found there, they begin with what was found here. */
function wordsHere(words: string, found: string, why: string, draft: Draft): string {
  const at = words.indexOf(why);
  return at < 0 ? filled(words, draft) : found + words.slice(at + why.length);
}

/** A mark that was taken along from another shot waits in the composer, with the numbers it has here; the way here is then forgotten. */
export function useTakenAlong(): void {
  const { shot, source, judged } = useReview();
  const { setDraft } = useWriting();
  const { report, findings } = judged;
  const location = useLocation();
  const { pathname, search } = location;
  const navigate = useNavigate();
  const along = location.state as TakenAlong | null;
  useEffect(() => {
    if (along?.shot !== shot.id || !report || !source) return;
    const own = findings.find(({ reading }) => reading.id === along.reading && (reading.part ?? null) === along.part);
    void navigate(`${pathname}${search}`, { replace: true, state: null });
    if (!own) return;
    const draft = findingDraft(own, report);
    void measured({ ...draft, weight: along.weight }, source).then((told) =>
      setDraft({ ...told, words: wordsHere(along.words, draft.words, own.gauge.why, told) }),
    );
    useDesk.getState().set({ wantsWords: true });
  }, [along, shot.id, findings, report, source, setDraft, navigate, pathname, search]);
}
