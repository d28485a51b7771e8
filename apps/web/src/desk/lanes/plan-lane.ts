import { PLANNED_FRAME, PLANNED_MISSING } from '@ypsigraph/core/measure/plan/plan';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { labelsOnALine } from './labels-on-a-line.ts';
import { type Lane, LANE_NUMBERS } from './lane.ts';

interface Planned {
  readonly name: string;
  readonly planned: number;
  /** Undefined of a pose that is missing. */
  readonly found: number | undefined;
  readonly isOff: boolean;
}

const [ROW, HALF] = [15, 4];

/** Planned poses above, and under each where it was found, with the difference; one that is missing has nothing under it. */
export const PLAN_LANE: Lane<readonly Planned[]> = {
  id: 'plan',
  name: 'plan',
  legend: 'above: planned; below: found, filled where it is within its tolerance; ×: missing',
  needs: 'figure',
  prepare({ report }) {
    const readings = (report?.readings ?? []) as readonly Reading[];
    const found = PLANNED_FRAME.among(readings).map(({ part = '', value, detail }) => ({
      name: part,
      planned: detail.planned,
      found: detail.found,
      isOff: Math.abs(value) > detail.tolerance,
    }));
    const missing = PLANNED_MISSING.among(readings).flatMap(({ frames = [], detail: { names } }) =>
      frames.map((planned, k) => ({ name: names[k] ?? '', planned, found: undefined, isOff: true })),
    );
    const all = [...found, ...missing].sort((a, b) => a.planned - b.planned);
    return all.length === 0 ? undefined : all;
  },
  height: () => 2 * ROW + 8,
  draw({ context, x, perFrame, from, to, inks }, poses) {
    const seen = poses.filter(
      ({ planned, found = planned }) => Math.max(planned, found) >= from && Math.min(planned, found) <= to,
    );
    context.lineWidth = 1.2;
    for (const { planned, found, isOff } of seen) {
      const [a, top, bottom] = [x(planned), 4, ROW + 9];
      context.strokeStyle = inks.graphite;
      triangle(context, a, top, 1);
      context.stroke();
      if (found === undefined) {
        context.strokeStyle = inks.ink;
        context.beginPath();
        context.moveTo(a - HALF, bottom - HALF);
        context.lineTo(a + HALF, bottom + HALF);
        context.moveTo(a + HALF, bottom - HALF);
        context.lineTo(a - HALF, bottom + HALF);
        context.stroke();
        continue;
      }
      const b = x(found);
      context.beginPath();
      context.moveTo(a, top + 2 * HALF);
      context.lineTo(b, bottom - HALF);
      context.stroke();
      triangle(context, b, bottom + HALF, -1);
      context.strokeStyle = inks.ink;
      context.fillStyle = isOff ? inks.sheet : inks.ink;
      context.fill();
      context.stroke();
    }
    context.font = LANE_NUMBERS;
    context.textAlign = 'left';
    context.textBaseline = 'middle';
    context.fillStyle = inks.graphite;
    if (perFrame < 3) return;
    const width = (text: string): number => context.measureText(text).width + 2 * HALF + 4;
    const names = seen.map(({ name, planned }) => ({ text: name, at: x(planned) }));
    for (const { text, at } of labelsOnALine(names, width)) context.fillText(text, at + HALF + 3, 8);
    context.fillStyle = inks.ink;
    const differences = seen.flatMap(({ planned, found, isOff }) =>
      found === undefined || (!isOff && found === planned) ? [] : [{ text: signed(found - planned), at: x(found) }],
    );
    for (const { text, at } of labelsOnALine(differences, width)) context.fillText(text, at + HALF + 3, ROW + 9);
  },
  spot(poses, label) {
    const own = poses.toSorted((a, b) => near(a, label) - near(b, label))[0];
    if (!own || near(own, label) > 1) return undefined;
    const { name, planned, found } = own;
    const where = found === undefined ? 'missing' : found === planned ? 'there' : `found at ${number(found)}`;
    return {
      text: `${name}, planned at ${number(planned)}: ${where}`,
      from: Math.round(found ?? planned),
      to: Math.round(found ?? planned),
    };
  },
};

const near = ({ planned, found = planned }: Planned, label: number): number =>
  Math.min(Math.abs(planned - label), Math.abs(found - label));

const number = (value: number): string => String(Number(value.toFixed(1)));
const signed = (value: number): string => `${value > 0 ? '+' : '−'}${number(Math.abs(value))}`;

/** A small triangle: its flat side at y, its tip a step down (1) or up (−1). */
function triangle(context: CanvasRenderingContext2D, at: number, y: number, down: 1 | -1): void {
  context.beginPath();
  context.moveTo(at - HALF, y);
  context.lineTo(at + HALF, y);
  context.lineTo(at, y + down * 2 * HALF);
  context.closePath();
}
