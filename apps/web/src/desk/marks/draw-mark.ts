import { getStroke } from 'perfect-freehand';
import type { PencilLine } from '@ypsigraph/contract/marks';
import { wayOfLines } from './line-grips.ts';
import { pointIndex } from '../frames/frame-source.ts';
import type { LensFrame } from '../lenses/lens.ts';
import { dot, haloText, NUMBERS, ring } from '../lenses/stick.ts';
import { numberLabel, touches } from '../paper/place-labels.ts';
import { blank, type DrawnMark, pathOnPaper } from './drawn-mark.ts';
import { drawWanted } from './kinds/registry.tsx';

/** What each kind draws on the paper: what is there through, what is wanted in dashes, both in the instructor's pencil. */
export function drawMark(frame: LensFrame, mark: DrawnMark): void {
  const { context, inks, source } = frame;
  const joint = pointIndex(source, mark.point);
  context.save();
  context.strokeStyle = inks.instructor;
  context.fillStyle = inks.instructor;
  context.lineCap = 'round';
  context.lineJoin = 'round';
  for (const line of mark.lines) drawLine(frame, mark, line);
  if (!mark.full) {
    if (joint >= 0) target(frame, joint);
    context.restore();
    return;
  }
  if (mark.then) pathThen(frame, mark.then);
  if (joint >= 0) {
    path(frame, mark, joint);
    target(frame, joint);
  }
  drawWanted(frame, mark);
  context.restore();
}

/** The path of its point over the mark's frames, with a tick a frame. */
function path(frame: LensFrame, mark: DrawnMark, joint: number): void {
  const { context, inks } = frame;
  const places = pathOnPaper(frame, mark, joint);
  if (places.length < 2) return;
  const line = (): void => {
    context.beginPath();
    places.forEach(({ x, y }, k) => (k === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
    context.stroke();
  };
  context.lineWidth = 5;
  context.strokeStyle = inks.sheet;
  line();
  context.lineWidth = 2.25;
  context.strokeStyle = inks.instructor;
  line();
  for (const { x, y } of places) dot(context, { x, y, depth: 0 }, 2, inks.instructor, inks.sheet);
  context.font = NUMBERS;
  context.textAlign = 'center';
  const [first, last] = [places[0]!, places.at(-1)!];
  // Of a point that comes back to where it was both labels would lie in one place.
  const numbers = [
    numberLabel(String(mark.from), first.x, first.y - 9, 0, 0),
    numberLabel(String(mark.to), last.x, last.y - 9, 1, 0),
  ] as const;
  const told = touches(...numbers) ? [{ ...numbers[0], text: `${mark.from}–${mark.to}` }] : numbers;
  for (const { text, x, y } of told) haloText(context, text, x, y, inks.instructor, inks.sheet);
}

/** The path its point took on the revision the mark was made on: thin and grey, with a tick a frame. */
function pathThen({ context, scene, sample, inks }: LensFrame, then: readonly number[]): void {
  const places = Array.from({ length: then.length / 3 }, (_, k) =>
    scene.projectWorld(sample, then[3 * k]!, then[3 * k + 1]!, then[3 * k + 2]!, blank()),
  );
  if (places.length < 2) return;
  context.strokeStyle = inks.graphite;
  context.lineWidth = 1.5;
  context.beginPath();
  places.forEach(({ x, y }, k) => (k === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
  context.stroke();
  for (const place of places) dot(context, place, 2, inks.graphite, inks.sheet);
  context.font = NUMBERS;
  context.textAlign = 'center';
  haloText(context, 'then', places[0]!.x, places[0]!.y + 15, inks.graphite, inks.sheet);
  context.strokeStyle = inks.instructor;
}

/** A pencil line: where it was drawn, or with the point it sticks to. */
function drawLine(
  { context, scene, source, sample, inks }: LensFrame,
  mark: DrawnMark,
  { sticks, points }: PencilLine,
): void {
  const at = blank();
  const by = sticks === 'point' ? wayOfLines(source, mark, sample) : [0, 0, 0];
  const placed: [number, number][] = [];
  for (let k = 0; k < points.length; k += 3) {
    scene.projectDrawn(sample, points[k]! + by[0], points[k + 1]! + by[1], points[k + 2]! + by[2], at);
    placed.push([at.x, at.y]);
  }
  // Thin where the hand was fast, as a pencil is.
  const outline = getStroke(placed, { size: 4.5, thinning: 0.45, smoothing: 0.6, streamline: 0.35 });
  context.fillStyle = inks.instructor;
  context.beginPath();
  outline.forEach(([x, y], k) => (k === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
  context.closePath();
  context.fill();
}

/** A ring about the mark's point at the frame that is shown. */
const target = ({ context, scene, sample, inks }: LensFrame, joint: number): void =>
  ring(context, scene.project(sample, joint, blank()), 8, inks.instructor, inks.sheet);
