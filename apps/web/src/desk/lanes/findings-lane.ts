import { type Lane, stacked } from './lane.ts';

interface Found {
  readonly key: string;
  readonly from: number;
  readonly to: number;
  readonly near: boolean;
  readonly say: string;
  readonly row: number;
  readonly labels: readonly number[];
}

const ROW = 10;
const MOST_ROWS = 4;

/** Where findings are: a ring at each of its frames, joined where they are one finding; near ones are half filled. */
export const FINDINGS_LANE: Lane<readonly Found[]> = {
  id: 'findings',
  name: 'findings',
  legend: 'a ring where something is outside its band, a half dot where it is near',
  needs: 'paths',
  prepare({ findings }) {
    const spans = findings.flatMap(({ reading, frames, judgement, say }) => {
      const labels = frames.map(Math.round);
      return labels.length === 0
        ? []
        : [
            {
              key: `${reading.id} ${reading.part ?? ''}`,
              from: Math.min(...labels),
              to: Math.max(...labels),
              near: judgement === 'near',
              say,
              labels,
            },
          ];
    });
    if (spans.length === 0) return undefined;
    return stacked(spans).map(({ span, row }) => ({ ...span, row: Math.min(MOST_ROWS - 1, row) }));
  },
  height: (found) => ROW * (Math.max(...found.map(({ row }) => row)) + 1) + 4,
  draw({ context, x, from, to, inks, desk }, found) {
    for (const { key, labels, near, row, from: a, to: b } of found) {
      if (b < from || a > to) continue;
      const y = 2 + row * ROW + ROW / 2;
      const lit = desk.picked === key || desk.lit === key;
      context.strokeStyle = inks.ink;
      context.lineWidth = lit ? 2.5 : 1;
      if (a !== b) {
        context.globalAlpha = 0.4;
        context.beginPath();
        context.moveTo(x(a), y);
        context.lineTo(x(b), y);
        context.stroke();
        context.globalAlpha = 1;
      }
      for (const label of labels) {
        if (label < from || label > to) continue;
        context.beginPath();
        context.arc(x(label), y, 3.5, 0, 2 * Math.PI);
        context.fillStyle = inks.sheet;
        context.fill();
        context.stroke();
        if (!near) continue;
        context.beginPath();
        context.arc(x(label), y, 3.5, -Math.PI / 2, Math.PI / 2);
        context.fillStyle = inks.ink;
        context.fill();
      }
    }
  },
  spot(found, label, y) {
    const row = Math.floor((y - 2) / ROW);
    const own = found.find((one) => one.row === row && label >= one.from && label <= one.to);
    return own && { text: own.say, from: own.from, to: own.to };
  },
};
