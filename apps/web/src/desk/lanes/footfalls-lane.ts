import { CONTACT, DOWN, PASSING, UP } from '@ypsigraph/core/measure/gait/gait-timing';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { labelsOnALine } from './labels-on-a-line.ts';
import { type Lane, LANE_NUMBERS } from './lane.ts';

interface Footfalls {
  readonly stands: readonly { readonly side: 'L' | 'R'; readonly from: number; readonly to: number }[];
  readonly poses: readonly { readonly name: string; readonly label: number }[];
  /** Frames after which a loop begins again; 0 without one. */
  readonly period: number;
}

const ROW = 11;

/** When each foot stands, left above right, and where the body is down, passing and up. */
export const FOOTFALLS_LANE: Lane<Footfalls> = {
  id: 'footfalls',
  name: 'footfalls',
  legend: 'left foot plain, right foot hatched; d down, p passing, u up',
  needs: 'figure',
  prepare({ source, report }) {
    const readings = (report?.readings ?? []) as readonly Reading[];
    const stands = CONTACT.among(readings).map(({ part, detail: { from, to } }) => ({
      side: part === 'leg.L' ? ('L' as const) : ('R' as const),
      from: Math.round(from),
      to: Math.round(to),
    }));
    if (stands.length === 0) return undefined;
    const poses = [DOWN, PASSING, UP].flatMap((kind) =>
      kind.among(readings).map(({ value }) => ({ name: kind.keyPose!, label: Math.round(value) })),
    );
    const period = source.loop === 'none' ? 0 : source.loop === 'repeat' ? source.frames - 1 : source.frames;
    return { stands, poses, period };
  },
  height: () => 2 * ROW + 14,
  draw({ context, x, perFrame, from, to, inks }, { stands, poses, period }) {
    for (const stand of stands) {
      const y = stand.side === 'L' ? 2 : 2 + ROW;
      const ink = stand.side === 'L' ? inks.left : inks.right;
      // A stand that goes on over the seam is seen at both ends.
      for (const shift of period > 0 ? [-period, 0] : [0]) {
        const [a, b] = [stand.from + shift, stand.to + shift];
        if (b < from || a > to) continue;
        const left = x(a) - perFrame / 2;
        const width = (b - a + 1) * perFrame;
        context.fillStyle = ink;
        context.globalAlpha = stand.side === 'L' ? 1 : 0.3;
        context.fillRect(left + 0.5, y, width - 1, ROW - 2);
        context.globalAlpha = 1;
        if (stand.side === 'R') hatch(context, left + 0.5, y, width - 1, ROW - 2, ink);
        if (width < 14) continue;
        context.fillStyle = inks.sheet;
        const at = Math.max(2, left + 2);
        context.fillRect(at, y + 0.5, 11, ROW - 3);
        context.fillStyle = ink;
        context.font = LANE_NUMBERS;
        context.textAlign = 'center';
        context.textBaseline = 'middle';
        context.fillText(stand.side, at + 5.5, y + (ROW - 1) / 2);
      }
    }
    context.font = LANE_NUMBERS;
    context.textAlign = 'center';
    context.textBaseline = 'alphabetic';
    if (perFrame < 2) return;
    const shown = poses.flatMap(({ name, label }) => {
      const at = period > 0 && label > to ? label - period : label;
      return at < from || at > to ? [] : [{ text: perFrame > 30 ? name : name[0]!, at: x(at) }];
    });
    context.fillStyle = inks.graphite;
    for (const { text, at } of labelsOnALine(shown, (own) => context.measureText(own).width))
      context.fillText(text, at, 2 * ROW + 12);
  },
  spot({ stands, period }, label, y) {
    const side = y < 2 + ROW ? 'L' : 'R';
    const own = stands.find(
      (stand) =>
        stand.side === side &&
        ((label >= stand.from && label <= stand.to) || (period > 0 && label + period <= stand.to)),
    );
    return (
      own && {
        text: `${side === 'L' ? 'the left' : 'the right'} foot stands ${own.from} to ${own.to}`,
        from: own.from,
        to: own.to,
        part: `leg.${side}`,
      }
    );
  },
};

/** Slanting strokes within a box. */
function hatch(
  context: CanvasRenderingContext2D,
  left: number,
  top: number,
  width: number,
  height: number,
  ink: string,
): void {
  context.save();
  context.beginPath();
  context.rect(left, top, width, height);
  context.clip();
  context.strokeStyle = ink;
  context.lineWidth = 1.5;
  context.beginPath();
  for (let k = -height; k < width; k += 5) {
    context.moveTo(left + k, top + height);
    context.lineTo(left + k + height, top);
  }
  context.stroke();
  context.restore();
}
