import { eventName } from '@ypsigraph/core/mark/delay-mark';
import type { ShotEvent } from '@ypsigraph/core/measure/keys/shot-events';
import { partLabel } from '@ypsigraph/core/say/part-names';
import type { PlacedMark } from '../marks/placed-marks.ts';
import { labelNow, type PlaceThenAndNow } from '../marks/kinds/traced.ts';
import { type Lane, LANE_NUMBERS } from './lane.ts';

interface Events {
  /** Parts that do something, each a row: the whole body first. */
  readonly rows: readonly (string | undefined)[];
  readonly events: readonly ShotEvent[];
  readonly delays: readonly Delay[];
}

/** A delay that a mark asks for, from an event to another one. */
interface Delay {
  readonly from: { readonly label: number; readonly row: number };
  readonly to: { readonly label: number; readonly row: number };
  /** Where the second is wanted. */
  readonly wanted: number | undefined;
}

const [ROW, TOP, HALF] = [13, 4, 4];

/** A leg's events stand with the whole body's: they are its steps. */
const rowOf = ({ part }: Pick<ShotEvent, 'part'>): string | undefined => (part?.startsWith('leg.') ? undefined : part);

/** What happens when, a row a part: what begins and what ends, where something turns round, key poses, looks and blinks; and the delays that marks ask for. */
export const EVENTS_LANE: Lane<Events> = {
  id: 'events',
  name: 'events',
  legend:
    'stroke: a key pose; triangles: a start and a stop; diamond: a turning point; ring: a look; bar: a blink; dot: a sound. With a delay mark begun a click picks one',
  needs: 'figure',
  prepare({ source, marks, writes }) {
    const asked = marks.filter(
      ({ payload, state }) => payload?.kind === 'delay' && state !== 'cleared' && state !== 'waived',
    );
    if (asked.length === 0 && writes?.kind !== 'delay') return undefined;
    const events = source.events();
    if (events.length === 0) return undefined;
    const own = new Set(events.map(rowOf));
    const rows = [...(own.has(undefined) ? [undefined] : []), ...[...own].filter((part) => part !== undefined)];
    return {
      rows,
      events,
      delays: [...asked, ...(writes ? [{ ...writes, was: writes }] : [])].flatMap((mark) => delayOf(mark, rows)),
    };
  },
  rows: ({ rows }) => ({
    names: rows.map((part) => (part === undefined ? 'body' : partLabel(part))),
    height: ROW,
  }),
  height: ({ rows }) => rows.length * ROW + 2 * TOP,
  draw({ context, x, from, to, inks }, { rows, events, delays }) {
    const y = (row: number): number => TOP + (row + 0.5) * ROW;
    context.lineWidth = 1.3;
    for (const event of events) {
      if (event.label < from || event.label > to) continue;
      const part = rowOf(event);
      context.strokeStyle = part?.endsWith('.L') ? inks.left : part?.endsWith('.R') ? inks.right : inks.ink;
      context.fillStyle = context.strokeStyle;
      sign(context, event.name, x(event.label), y(rows.indexOf(part)));
    }
    context.strokeStyle = inks.instructor;
    context.fillStyle = inks.instructor;
    context.font = LANE_NUMBERS;
    context.textBaseline = 'middle';
    for (const { from: a, to: b, wanted } of delays) {
      line(context, [x(a.label), y(a.row)], [x(b.label), y(b.row)], []);
      if (wanted === undefined || wanted === b.label) continue;
      line(context, [x(a.label), y(a.row)], [x(wanted), y(b.row)], [3, 3]);
      context.beginPath();
      context.arc(x(wanted), y(b.row), 3, 0, 2 * Math.PI);
      context.stroke();
    }
  },
  spot({ rows, events }, label, y) {
    const row = Math.floor((y - TOP) / ROW);
    const near = events
      .filter((own) => rows.indexOf(rowOf(own)) === row && Math.abs(own.label - label) <= 1)
      .toSorted((a, b) => Math.abs(a.label - label) - Math.abs(b.label - label))[0];
    return near && { text: `${eventName(near)}, at ${near.label}`, from: near.label, to: near.label, event: near };
  },
};

function delayOf(mark: PlaceThenAndNow & Pick<PlacedMark, 'payload'>, rows: Events['rows']): Delay[] {
  const { payload } = mark;
  if (payload?.kind !== 'delay' || !payload.measured) return [];
  const { of, firstAt, secondAt, firstPart, secondPart } = payload.measured;
  if (of !== 'events' || firstAt === undefined || secondAt === undefined) return [];
  const row = (part: string | undefined): number => rows.indexOf(rowOf({ ...(part !== undefined && { part }) }));
  const [from, to] = [row(firstPart), row(secondPart)];
  if (from < 0 || to < 0) return [];
  const first = labelNow(mark, firstAt);
  return [
    {
      from: { label: first, row: from },
      to: { label: labelNow(mark, secondAt), row: to },
      wanted: payload.wanted ? first + payload.wanted.frames : undefined,
    },
  ];
}

type At = readonly [x: number, y: number];

function line(context: CanvasRenderingContext2D, [ax, ay]: At, [bx, by]: At, dash: number[]): void {
  context.setLineDash(dash);
  context.beginPath();
  context.moveTo(ax, ay);
  context.lineTo(bx, by);
  context.stroke();
  context.setLineDash([]);
}

/** One event's sign, about its place. */
function sign(context: CanvasRenderingContext2D, name: string, x: number, y: number): void {
  context.beginPath();
  if (name === 'start') {
    context.moveTo(x, y - HALF);
    context.lineTo(x + HALF + 1, y);
    context.lineTo(x, y + HALF);
    context.closePath();
    context.fill();
  } else if (name === 'stop') {
    context.moveTo(x, y - HALF);
    context.lineTo(x - HALF - 1, y);
    context.lineTo(x, y + HALF);
    context.closePath();
    context.stroke();
  } else if (name === 'farthest') {
    context.moveTo(x, y - HALF);
    context.lineTo(x + HALF, y);
    context.lineTo(x, y + HALF);
    context.lineTo(x - HALF, y);
    context.closePath();
    context.stroke();
  } else if (name === 'onset') {
    context.arc(x, y, HALF - 1, 0, 2 * Math.PI);
    context.fill();
  } else if (name === 'blink' || name === 'closing') {
    context.moveTo(x - HALF - 1, y);
    context.lineTo(x + HALF + 1, y);
    context.stroke();
  } else if (name === 'look') {
    context.arc(x, y, HALF - 0.5, 0, 2 * Math.PI);
    context.stroke();
  } else {
    context.moveTo(x, y - HALF - 1);
    context.lineTo(x, y + HALF + 1);
    context.stroke();
  }
}
