import { max } from 'd3-array';
import { partLabel } from '@ypsigraph/core/say/part-names';
import type { FrameSource } from '../frames/frame-source.ts';
import { choice } from '../choice.ts';
import { type Lane, LANE_WORDS } from './lane.ts';

interface Band {
  /** Undefined where it is no part, but what two or four points do. */
  readonly part: string | undefined;
  readonly name: string;
  /** Share of its own liveliest step, from each frame to the next. */
  readonly strength: Float64Array;
  /** Label at which it first moves at half its strength. */
  readonly start: number;
}

const ROW = 12;

const SORTED = choice({
  id: 'weave sorted',
  label: 'Order of the weave',
  first: 'part',
  options: { part: 'weave by parts of the body', start: 'weave by what starts first' },
});

/** A band a part, darker where it moves more: holds are pale, twins alike; an edge that leans is overlap, a straight one everything at once. */
export const WEAVE_LANE: Lane<{ readonly bands: readonly Band[]; readonly first: number }> = {
  id: 'weave',
  name: 'weave',
  legend: 'a band a part, darker where it moves more; a click looks at that part alone',
  needs: 'figure',
  choices: [SORTED],
  rows: ({ bands }) => ({ names: bands.map(({ name }) => name), height: ROW }),
  prepare({ source }, desk) {
    const bands = [
      ...source.parts.map((part) => band(part, partLabel(part), source.activity(part))),
      ...source.ownSignals.map((name) => band(undefined, name, changes(source, name))),
    ];
    if (SORTED.of(desk) === 'start') bands.sort((a, b) => a.start - b.start);
    return { bands, first: source.first };
  },
  height: ({ bands }) => ROW * bands.length + 3,
  draw({ context, x, perFrame, from, to, width, inks, desk }, { bands, first }) {
    context.font = LANE_WORDS;
    context.textBaseline = 'middle';
    context.textAlign = 'right';
    bands.forEach(({ part, strength }, row) => {
      const y = 1 + row * ROW;
      const dimmed = desk.solo !== null && desk.solo !== part;
      const right = part?.endsWith('.R') === true;
      const side = part?.endsWith('.L') ? inks.left : right ? inks.right : inks.ink;
      context.fillStyle = side;
      // Where several frames fall on one pixel the strongest is seen.
      const every = Math.max(1, Math.floor(1 / perFrame));
      for (
        let label = Math.max(first, Math.floor(from));
        label < Math.min(to, first + strength.length);
        label += every
      ) {
        let value = 0;
        for (let k = 0; k < every; k++) value = Math.max(value, strength[label - first + k] ?? 0);
        if (value < 0.02) continue;
        context.globalAlpha = (dimmed ? 0.25 : 1) * Math.min(0.92, 0.06 + 0.86 * value);
        context.fillRect(x(label), y, Math.max(1, perFrame * every), ROW - 2);
      }
      context.globalAlpha = 1;
      // The right side is told by its strokes as well as by its colour.
      if (right) {
        context.strokeStyle = inks.sheet;
        context.globalAlpha = 0.7;
        context.lineWidth = 1;
        context.beginPath();
        for (let k = 0; k < width; k += 6) {
          context.moveTo(k, y + ROW - 2);
          context.lineTo(k + 5, y);
        }
        context.stroke();
        context.globalAlpha = 1;
      }
    });
  },
  spot({ bands }, label, y) {
    const own = bands[Math.floor((y - 1) / ROW)];
    return own && { text: own.name, from: label, to: label, ...(own.part !== undefined && { part: own.part }) };
  },
};

function band(part: string | undefined, name: string, activity: Float64Array): Band {
  const most = max(activity) ?? 0;
  const strength = most > 1e-6 ? activity.map((value) => value / most) : activity;
  const start = strength.findIndex((value) => value > 0.5);
  return { part, name, strength, start: start < 0 ? Infinity : start };
}

/** How much a signal of the source's own changes from each frame to the next: of two points or of a shape. */
function changes(source: FrameSource, name: string): Float64Array {
  const { values } = source.signal(-1, name)!;
  return Float64Array.from({ length: Math.max(0, values.length - 1) }, (_, f) => Math.abs(values[f + 1]! - values[f]!));
}
