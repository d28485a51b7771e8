import { type KeyRow, keyRows } from '@ypsigraph/core/measure/keys/sparse-keys';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { type Lane } from './lane.ts';

const [ROW, HALF] = [12, 3.4];

/** A row a part with the keys that were set: filled where all of the part has one, hollow where some of it has; square where it is held until the next. */
export const KEYS_LANE: Lane<readonly KeyRow[]> = {
  id: 'keys',
  name: 'keys',
  legend:
    'a key a sign: filled where all of the part has one, hollow where only some of it has; square: held until the next',
  needs: 'figure',
  rows: (rows) => ({ names: rows.map(({ part }) => partLabel(part)), height: ROW }),
  prepare({ source }) {
    const rows = source.figure ? keyRows(source.figure.shown) : [];
    return rows.length > 0 ? rows : undefined;
  },
  height: (rows) => ROW * rows.length + 3,
  draw({ context, x, from, to, inks, desk }, rows) {
    context.lineWidth = 1.2;
    rows.forEach(({ part, keys }, row) => {
      const y = 1 + (row + 0.5) * ROW;
      context.globalAlpha = desk.solo !== null && desk.solo !== part ? 0.25 : 1;
      const ink = part.endsWith('.L') ? inks.left : part.endsWith('.R') ? inks.right : inks.ink;
      context.strokeStyle = ink;
      context.fillStyle = ink;
      for (const { at, all, step } of keys) {
        if (at < from || at > to) continue;
        context.beginPath();
        if (step) context.rect(x(at) - HALF, y - HALF, 2 * HALF, 2 * HALF);
        else context.arc(x(at), y, HALF, 0, 2 * Math.PI);
        if (all) context.fill();
        context.stroke();
      }
    });
    context.globalAlpha = 1;
  },
  spot(rows, label, y) {
    const own = rows[Math.floor((y - 1) / ROW)];
    const key = own?.keys.toSorted((a, b) => Math.abs(a.at - label) - Math.abs(b.at - label))[0];
    if (!own || !key || Math.abs(key.at - label) > 1) return undefined;
    const { at, all, step } = key;
    const what = `${all ? 'all of it' : 'some of it'} is keyed at ${Number(at.toFixed(2))}${step ? ', held until the next' : ''}`;
    return { text: `${partLabel(own.part)}: ${what}`, from: Math.round(at), to: Math.round(at), part: own.part };
  },
};
