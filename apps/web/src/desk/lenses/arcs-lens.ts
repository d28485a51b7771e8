import { Rainbow } from 'lucide-react';
import { SPACING_DEFAULTS } from '@ypsigraph/core/measure/spacing/path-faults';
import { type Label, numberLabel, placeLabels } from '../paper/place-labels.ts';
import type { Lens } from './lens.ts';
import { haloText, NUMBERS } from './stick.ts';
import { keptStill, windowOf } from './still.ts';

/** What leaves the curve is drawn so many times as far as it is. */
const LARGER = 3;

/** The fitted curve laid out on the paper, with whiskers to where the point is. */
interface LaidArc {
  readonly curve: Path2D;
  readonly whiskers: Path2D;
  readonly strong: Path2D;
  /** Numbers of the frames that leave it, those that leave it most first; as many as can stand. */
  readonly labels: readonly Label[];
  /** How many frames leave it. */
  readonly leaving: number;
}

const layOut = keptStill((frame): LaidArc => {
  const { scene, source, point } = frame;
  const { points } = source.path(point);
  const { decomposition, arc } = source.faults(point);
  const { residual } = decomposition;
  const { from, to } = windowOf(frame);
  const [curve, whiskers, strong] = [new Path2D(), new Path2D(), new Path2D()];
  const labels: Label[] = [];
  /** The point, so many times its own residual beyond where it is. */
  const placed = (i: number, beyond: number) => {
    const k = 3 * i;
    const [x, y, z] = [0, 1, 2].map((c) => points[k + c]! + beyond * residual[k + c]!) as [number, number, number];
    return scene.projectWorld(i, x, y, z, { x: 0, y: 0, depth: 0 });
  };
  for (let i = from; i < to; i++) {
    const at = placed(i, -1);
    const out = placed(i, LARGER - 1);
    if (i === from) curve.moveTo(at.x, at.y);
    else curve.lineTo(at.x, at.y);
    const leaves = arc[i]! > SPACING_DEFAULTS.off;
    const whisker = leaves ? strong : whiskers;
    whisker.moveTo(at.x, at.y);
    whisker.lineTo(out.x, out.y);
    if (!leaves) continue;
    const far = Math.hypot(out.x - at.x, out.y - at.y) || 1;
    const [x, y] = [out.x + (12 * (out.x - at.x)) / far, out.y + (12 * (out.y - at.y)) / far + 4];
    labels.push(numberLabel(String(source.first + i), x, y, i, -arc[i]!));
  }
  return { curve, whiskers, strong, labels: placeLabels(labels), leaving: labels.length };
});

/** The curve the neighbours of each frame ask for, and how far the point leaves it: the whiskers are three times as long as they are. */
export const ARCS: Lens<true> = {
  id: 'arcs',
  name: 'Arc: the fitted curve and what leaves it',
  key: 'r',
  icon: Rainbow,
  needs: 'paths',
  prepare: () => true,
  drawStill(frame) {
    const { context, inks } = frame;
    const { curve, whiskers, strong, labels } = layOut(frame);
    context.lineCap = 'round';
    context.strokeStyle = inks.graphite;
    context.lineWidth = 2.5;
    context.globalAlpha = 0.55;
    context.stroke(curve);
    context.globalAlpha = 1;
    context.strokeStyle = inks.ink;
    context.lineWidth = 1;
    context.stroke(whiskers);
    context.lineWidth = 2.25;
    context.stroke(strong);
    context.font = NUMBERS;
    context.textAlign = 'center';
    for (const { text, x, y } of labels) haloText(context, text, x, y, inks.ink, inks.sheet);
  },
  draw(frame) {
    const { leaving } = layOut(frame);
    const frames = leaving === 1 ? 'one frame' : `${leaving} frames`;
    return [
      { text: leaving === 0 ? 'nothing leaves the curve' : `leaves the curve at ${frames}` },
      { text: 'how far, three times as long', sign: 'M7 2V12' },
    ];
  },
  legend: () => [],
};
