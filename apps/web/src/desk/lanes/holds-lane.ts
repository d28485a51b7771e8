import { HOLD_KIND } from '@ypsigraph/core/measure/moves/moves-and-holds';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { partName } from '@ypsigraph/core/say/part-names';
import { type Lane, LANE_WORDS, stacked } from './lane.ts';

interface Hold {
  readonly from: number;
  readonly to: number;
  readonly kind: string;
  readonly part: string | undefined;
  readonly row: number;
}

const ROW = 13;

/** Where something rests, and how: a dead hold is empty, a moving one pale, a creeping one leans. */
export const HOLDS_LANE: Lane<readonly Hold[]> = {
  id: 'holds',
  name: 'holds',
  legend: 'empty: dead; pale: moving; slanting: creeping',
  needs: 'figure',
  prepare({ report }) {
    const holds = HOLD_KIND.among((report?.readings ?? []) as readonly Reading[]).map(
      ({ part, value, detail: { from, to } }) => ({ from: Math.round(from), to: Math.round(to), kind: value, part }),
    );
    return holds.length === 0 ? undefined : stacked(holds).map(({ span, row }) => ({ ...span, row }));
  },
  height: (holds) => ROW * (Math.max(...holds.map(({ row }) => row)) + 1) + 3,
  draw({ context, x, perFrame, from, to, inks }, holds) {
    context.font = LANE_WORDS;
    context.textAlign = 'left';
    context.textBaseline = 'middle';
    for (const { from: a, to: b, kind, row } of holds) {
      if (b < from || a > to) continue;
      const left = x(a) - perFrame / 2;
      const width = Math.max(3, (b - a + 1) * perFrame);
      const y = 2 + row * ROW;
      context.strokeStyle = inks.graphite;
      context.lineWidth = 1;
      if (kind === 'moving') {
        context.fillStyle = inks.wash;
        context.fillRect(left, y, width, ROW - 3);
      }
      context.strokeRect(left + 0.5, y + 0.5, width - 1, ROW - 4);
      if (kind === 'creeping') {
        context.beginPath();
        context.moveTo(left + 1, y + ROW - 5);
        context.lineTo(left + width - 1, y + 2);
        context.stroke();
      }
      if (width < 46) continue;
      // A slanting line does not strike the word through.
      context.fillStyle = inks.sheet;
      context.fillRect(left + 2, y + 1, 6.2 * kind.length + 4, ROW - 5);
      context.fillStyle = inks.ink;
      context.fillText(kind, left + 4, y + ROW / 2 - 1);
    }
  },
  spot(holds, label, y) {
    const own = holds.find(({ from, to, row }) => label >= from && label <= to && Math.floor((y - 2) / ROW) === row);
    return (
      own && { text: `${partName(own.part)}: a ${own.kind} hold, ${own.from} to ${own.to}`, from: own.from, to: own.to }
    );
  },
};
