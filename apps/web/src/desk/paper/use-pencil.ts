import { useMemo } from 'react';
import type { PencilLine } from '@ypsigraph/contract/marks';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { pointIndex } from '../frames/frame-source.ts';
import { newDraft } from '../margin/draft.ts';
import { useReview } from '../review.ts';
import { useWriting } from '../writing.ts';

/** Takes a line that was drawn into the mark that is being written; undefined while no pencil is in the hand. */
export function usePencil(): ((points: number[]) => void) | undefined {
  const { source, canMark } = useReview();
  const { draft, setDraft } = useWriting();
  const pencil = useDesk((state) => state.pencil);
  const clock = useClock();
  return useMemo(() => {
    if (!pencil || !canMark) return undefined;
    return (points) => {
      const { frame } = clock.get();
      const own = draft ?? newDraft('note', frame, frame, useDesk.getState().point);
      const joint = source ? pointIndex(source, own.point) : -1;
      const line: PencilLine = { sticks: joint < 0 ? 'place' : 'point', points };
      if (source && joint >= 0) {
        // It is kept as it lies at the mark's first frame, whichever frame it was drawn at.
        const path = source.path(joint).points;
        const [now, then] = [3 * source.sampleAt(frame), 3 * source.sampleAt(own.from)];
        line.points = points.map((v, k) => v + path[then + (k % 3)]! - path[now + (k % 3)]!);
      }
      setDraft({ ...own, lines: [...own.lines, line] });
    };
  }, [pencil, canMark, source, draft, setDraft, clock]);
}
