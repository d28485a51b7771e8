import { wantedLine } from '../marks/kinds/registry.tsx';
import type { Line, Traced } from '../marks/kinds/traced.ts';
import type { PlacedMark } from '../marks/placed-marks.ts';

/** What a mark wants of a trace: a line over frames. */
export interface WantedLine {
  readonly mark: string;
  readonly points: Line;
}

/** What the marks on a point that are not done want of the signal that the trace shows of it. */
export function wantedOnTrace(marks: readonly PlacedMark[], point: string, traced: Traced): WantedLine[] {
  return marks.flatMap((mark) => {
    const { id, point: at, payload, state } = mark;
    if (!payload || at !== point || state === 'cleared' || state === 'waived') return [];
    const points = wantedLine(payload, mark, traced);
    return points.length > 1 ? [{ mark: id, points }] : [];
  });
}
