import type { Finding } from '@ypsigraph/core/gauge/findings';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { useReview } from '../review.ts';
import { findingKey, findingPoint } from './finding-draft.ts';

/** The finding that the keys act on, and the step to the next or the one before. */
export function usePickedFinding(): { picked: () => Finding | undefined; pick: (step: 1 | -1) => void } {
  const { report, findings } = useReview().judged;
  const clock = useClock();
  const at = (): number => findings.findIndex((finding) => findingKey(finding) === useDesk.getState().picked);
  return {
    picked: () => findings[at()],
    pick(step) {
      if (!report || findings.length === 0) return;
      const now = at();
      const next = findings[(now + (now < 0 && step < 0 ? 0 : step) + findings.length) % findings.length]!;
      const point = findingPoint(next, report);
      const { lenses, set } = useDesk.getState();
      set({
        findingsOpen: true,
        picked: findingKey(next),
        ...(point !== null && { point, lenses: new Set([...lenses, 'path']) }),
      });
      clock.seek(next.frames[0] ?? clock.get().frame);
    },
  };
}
