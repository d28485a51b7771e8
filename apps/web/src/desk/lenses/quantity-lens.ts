import { Ruler } from 'lucide-react';
import { drawnQuantity, type DrawnQuantity, quantityName } from '@ypsigraph/core/quantity/drawn-quantity';
import { quantitySignal } from '@ypsigraph/core/quantity/measure-quantity';
import { QUANTITY_KINDS } from '@ypsigraph/core/quantity/quantities';
import { degrees, ofLeg } from '@ypsigraph/core/say/words';
import type { FrameSource } from '../frames/frame-source.ts';
import { QUANTITY_LENS, tracedQuantity } from '../traced-signal.ts';
import type { Lens, LensFrame } from './lens.ts';
import { haloText, NUMBERS } from './stick.ts';

interface Place {
  readonly x: number;
  readonly y: number;
}

/** Radius of the arc at a joint, and how long the line that it is told against is; pixels. */
const ARC = 26;
const AGAINST = 64;

/** The middle of several joints on the paper. */
function placeOf({ scene, sample }: LensFrame, joints: readonly number[]): Place {
  let [x, y] = [0, 0];
  for (const joint of joints) {
    const at = scene.project(sample, joint, { x: 0, y: 0, depth: 0 });
    x += at.x / joints.length;
    y += at.y / joints.length;
  }
  return { x, y };
}

/** The quantity that the trace shows, drawn at the figure: a bend as an arc at its joint, a lean against upright, each with its value at this frame. */
export const QUANTITY: Lens<FrameSource> = {
  id: QUANTITY_LENS,
  name: 'Quantity',
  key: ';',
  icon: Ruler,
  needs: 'figure',
  prepare: (source) => (source.quantities.length > 0 ? source : undefined),
  draw(frame, source) {
    const quantity = tracedQuantity(frame.desk);
    if (!quantity) return [{ text: 'choose a quantity as the signal of the trace, or click a reading' }];
    const { shown } = source.figure!;
    const values = quantitySignal(shown, quantity.quantity, quantity.of);
    const drawn = drawnQuantity(shown, quantity);
    if (typeof values === 'string' || !drawn) return [{ text: `${quantityName(quantity)}: not to be seen here` }];
    const { unit, zero, plus } = QUANTITY_KINDS[quantity.quantity];
    const value = values[frame.sample]!;
    const said = unit === '°' ? degrees(value) : ofLeg(value);
    drawIt(frame, drawn, said);
    return [{ text: `${quantityName(quantity)} ${said} (0 ${zero}, + ${plus})` }];
  },
  legend: () => [{ text: 'the quantity that the trace shows' }],
};

function drawIt(frame: LensFrame, drawn: DrawnQuantity, said: string): void {
  if (drawn.as === 'value') return word(frame, placeOf(frame, drawn.at), said);
  if (drawn.as === 'bend') {
    const [before, at, behind] = [drawn.before, drawn.at, drawn.behind].map((joints) => placeOf(frame, joints)) as [
      Place,
      Place,
      Place,
    ];
    line(frame, before, at, []);
    line(frame, at, behind, []);
    // The arc lies between the lower part and where the upper one would go on.
    const on = { x: 2 * at.x - before.x, y: 2 * at.y - before.y };
    line(frame, at, towards(at, on, AGAINST), [3, 4]);
    arc(frame, at, on, behind);
    return word(frame, at, said);
  }
  const [from, to] = [placeOf(frame, drawn.from), placeOf(frame, drawn.to)];
  line(frame, from, to, []);
  const level = { x: from.x + Math.sign(to.x - from.x || 1) * AGAINST, y: from.y };
  const against =
    drawn.against === 'level' ? level : { x: from.x, y: from.y + (drawn.against === 'up' ? -AGAINST : AGAINST) };
  line(frame, from, against, [3, 4]);
  arc(frame, from, against, to);
  word(frame, from, said);
}

function towards(a: Place, b: Place, length: number): Place {
  const far = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  return { x: a.x + (length / far) * (b.x - a.x), y: a.y + (length / far) * (b.y - a.y) };
}

function line({ context, inks }: LensFrame, a: Place, b: Place, dash: readonly number[]): void {
  context.beginPath();
  context.moveTo(a.x, a.y);
  context.lineTo(b.x, b.y);
  context.setLineDash([...dash]);
  context.lineWidth = dash.length > 0 ? 1.2 : 3;
  context.strokeStyle = dash.length > 0 ? inks.graphite : inks.ink;
  context.stroke();
  context.setLineDash([]);
}

function arc({ context, inks }: LensFrame, at: Place, from: Place, to: Place): void {
  const [a, b] = [Math.atan2(from.y - at.y, from.x - at.x), Math.atan2(to.y - at.y, to.x - at.x)];
  const turn = Math.atan2(Math.sin(b - a), Math.cos(b - a));
  context.beginPath();
  context.arc(at.x, at.y, ARC, a, a + turn, turn < 0);
  context.lineWidth = 1.6;
  context.strokeStyle = inks.ink;
  context.stroke();
}

function word({ context, inks }: LensFrame, { x, y }: Place, said: string): void {
  context.font = NUMBERS;
  context.textAlign = 'left';
  context.textBaseline = 'middle';
  haloText(context, said, x + ARC + 8, y, inks.ink, inks.sheet);
}
