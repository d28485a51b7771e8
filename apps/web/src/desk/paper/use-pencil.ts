import { useMemo } from 'react';
import type { PencilLine } from '@ypsigraph/contract/marks';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { pointIndex } from '../frames/frame-source.ts';
import { newDraft } from '../margin/draft.ts';
import { wayOfLines } from '../marks/line-grips.ts';
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
      const sticks = source && pointIndex(source, own.point) >= 0;
      const line: PencilLine = { sticks: sticks ? 'point' : 'place', points };
      if (sticks) {
        // It is kept as it lies at the mark's first frame, whichever frame it was drawn at.
        const by = wayOfLines(source, own, source.sampleAt(frame));
        line.points = points.map((v, k) => v - by[k % 3]!);
      }
      setDraft({ ...own, lines: [...own.lines, line] });
    };
  }, [pencil, canMark, source, draft, setDraft, clock]);
}
