import { Spline } from 'lucide-react';
import { judgePath, type PathFaults, SPACING_DEFAULTS } from '@ypsigraph/core/measure/spacing/path-faults';
import type { PointPath } from '@ypsigraph/core/measure/spacing/point-path';
import type { FrameSource } from '../frames/frame-source.ts';
import { type Label, placeLabels, touches, numberLabel } from '../paper/place-labels.ts';
import type { PaperPoint, PaperScene } from '../paper/paper-scene.ts';
import type { LegendEntry, Lens, LensFrame } from './lens.ts';
import { dot, haloText, NUMBERS } from './stick.ts';
import { keptStill, windowOf } from './still.ts';

/** Half the length of a tick, at most; a path whose frames lie close has shorter ones. */
const TICK = 5;

/** What the lens found, for the legend. */
interface PathSummary {
  readonly arc: number;
  readonly spacing: number;
  readonly pops: number;
}

/**
 * The way of one point over the paper with a tick a frame, so that the distance of ticks is the spacing. A frame off its arc is an open
 * diamond, one off its spacing a double tick, a pop has both and a cross; labels are left out where they would touch.
 */
export const PATH: Lens<true> = {
  id: 'path',
  name: 'Path of the chosen point',
  key: 'e',
  icon: Spline,
  needs: 'paths',
  prepare: () => true,
  drawStill: drawPath,
  draw(frame) {
    drawHere(frame);
    return legendOf(layOut(frame).summary, frame);
  },
  legend: () => [],
};

function legendOf({ arc, spacing, pops }: PathSummary, { source, point, desk }: LensFrame): LegendEntry[] {
  const seen = desk.space === 'screen' || desk.ride !== null ? 'as seen' : 'in space';
  return [
    { text: `${source.pointNames[point]}, ${seen}` },
    ...(arc === 0 && spacing === 0 ? [{ text: 'keeps to its arc and spacing' }] : []),
    ...(arc > 0 ? [{ text: `off its arc: ${arc}`, sign: 'M7 1.5L12.5 7L7 12.5L1.5 7Z' }] : []),
    ...(spacing > 0 ? [{ text: `off its spacing: ${spacing}`, sign: 'M4 2V12M8 2V12' }] : []),
    ...(pops > 0 ? [{ text: `one frame out of place: ${pops}`, sign: 'M2 3L10 11M10 3L2 11' }] : []),
  ];
}

/** A path laid out on the paper. */
interface LaidPath {
  readonly from: number;
  readonly points: readonly PaperPoint[];
  readonly normals: readonly (readonly [number, number])[];
  readonly line: Path2D;
  readonly ticks: Path2D;
  readonly diamonds: Path2D;
  readonly crosses: Path2D;
  readonly labels: readonly Label[];
  readonly size: number;
  readonly summary: PathSummary;
}

const layOut = keptStill((frame): LaidPath => {
  const { scene, source, point: joint, desk } = frame;
  const { from, to } = windowOf(frame);
  const count = source.loop === 'repeat' ? source.frames - 1 : source.frames;
  const points: PaperPoint[] = [];
  for (let i = from; i < to; i++) points.push(scene.project(i, joint, { x: 0, y: 0, depth: 0 }));
  const closed = source.loop !== 'none' && to - from === count && !scene.travels;
  const faults =
    source.folded || (desk.space === 'world' && desk.ride === null)
      ? source.faults(joint)
      : judgeOnPaper(scene, source, joint);
  const normals = points.map((_, k) => normalAt(points, k, closed));
  const line = new Path2D();
  points.forEach(({ x, y }, k) => (k === 0 ? line.moveTo(x, y) : line.lineTo(x, y)));
  if (closed) line.closePath();
  const size = Math.min(TICK, Math.max(1.5, 0.7 * meanStep(points)));
  const [ticks, diamonds, crosses] = [new Path2D(), new Path2D(), new Path2D()];
  const pops = new Set(faults.pops);
  const summary = { arc: 0, spacing: 0, pops: pops.size };
  points.forEach((point, k) => {
    const i = from + k;
    const own = !faults.besidePops.has(i);
    const offArc = own && faults.arc[i]! > SPACING_DEFAULTS.off;
    const offSpacing = own && faults.spacing[i]! > SPACING_DEFAULTS.off;
    if (offArc) summary.arc++;
    if (offSpacing) summary.spacing++;
    tick(ticks, point, normals[k]!, offSpacing ? size + 3 : size, offSpacing ? 2 : 0);
    if (offArc) diamond(diamonds, point);
    if (pops.has(i)) cross(crosses, point, normals[k]!);
  });
  return {
    from,
    points,
    normals,
    line,
    ticks,
    diamonds,
    crosses,
    labels: labelsOf(points, normals, from, source, faults),
    size,
    summary,
  };
});

function drawPath(frame: LensFrame): void {
  const { context, inks } = frame;
  const { ink, graphite, sheet } = inks;
  const laid = layOut(frame);
  context.lineJoin = 'round';
  context.lineCap = 'round';
  context.strokeStyle = sheet;
  context.lineWidth = 4;
  context.stroke(laid.line);
  context.strokeStyle = ink;
  context.lineWidth = 1.25;
  context.stroke(laid.line);
  context.stroke(laid.ticks);
  context.fillStyle = sheet;
  context.fill(laid.diamonds);
  context.lineWidth = 1.75;
  context.stroke(laid.diamonds);
  context.stroke(laid.crosses);
  context.font = NUMBERS;
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  for (const { text, x, y } of laid.labels) haloText(context, text, x, y, graphite, sheet);
  context.textBaseline = 'alphabetic';
}

/** Where the point is at the frame that is shown; its number covers those it would touch. */
function drawHere({ context, source, sample, inks, ...frame }: LensFrame): void {
  const { ink, sheet } = inks;
  const laid = layOut({ source, sample, inks, ...frame });
  const k = sample - laid.from;
  const here = laid.points[k];
  if (!here) return;
  const own = labelAt(here, laid.normals[k]!, String(source.first + sample), sample);
  context.fillStyle = sheet;
  for (const label of laid.labels)
    if (touches(own, label))
      context.fillRect(label.x - label.width / 2, label.y - label.height / 2 - 1, label.width, label.height + 2);
  const mine = new Path2D();
  tick(mine, here, laid.normals[k]!, laid.size, 0);
  context.strokeStyle = ink;
  context.lineWidth = 2.5;
  context.stroke(mine);
  dot(context, here, 4.5, ink, sheet);
  context.font = NUMBERS;
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  haloText(context, own.text, own.x, own.y, ink, sheet);
  context.textBaseline = 'alphabetic';
}

/** The path as it is seen: in pixels, so that what the view hides is not judged. */
function judgeOnPaper(scene: PaperScene, source: FrameSource, joint: number): PathFaults {
  const flat = new Float64Array(3 * source.frames);
  const out: PaperPoint = { x: 0, y: 0, depth: 0 };
  for (let i = 0; i < source.frames; i++) {
    scene.project(i, joint, out);
    flat[3 * i] = out.x;
    flat[3 * i + 1] = out.y;
  }
  const { wraps, count } = source.path(joint);
  const path: PointPath = {
    points: flat,
    count,
    ...(wraps && { wraps: { period: wraps.period, advance: [0, 0, 0] as const } }),
  };
  // A leg is as long as it is seen now, however near the view is: zoom changes no verdict, since lengths and leg grow together.
  return judgePath(path, 1 / scene.unitsPerPixel, source.fps);
}

/** The longer side of the box that a path is seen in, pixels. */
function seenSize(points: readonly PaperPoint[]): number {
  const range = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);
  return Math.max(range(points.map(({ x }) => x)), range(points.map(({ y }) => y)));
}

function meanStep(points: readonly PaperPoint[]): number {
  let sum = 0;
  for (let k = 1; k < points.length; k++)
    sum += Math.hypot(points[k]!.x - points[k - 1]!.x, points[k]!.y - points[k - 1]!.y);
  return sum / Math.max(1, points.length - 1);
}

function normalAt(points: readonly PaperPoint[], k: number, closed: boolean): [number, number] {
  const n = points.length;
  const before = points[closed ? (k + n - 1) % n : Math.max(0, k - 1)]!;
  const after = points[closed ? (k + 1) % n : Math.min(n - 1, k + 1)]!;
  const dx = after.x - before.x;
  const dy = after.y - before.y;
  const length = Math.hypot(dx, dy);
  return length > 1e-6 ? [-dy / length, dx / length] : [0, -1];
}

function tick(
  path: Path2D,
  { x, y }: PaperPoint,
  [nx, ny]: readonly [number, number],
  size: number,
  gap: number,
): void {
  for (const shift of gap > 0 ? [-gap, gap] : [0]) {
    // Across the path; a double tick lies to both sides along it.
    const cx = x + ny * shift;
    const cy = y - nx * shift;
    path.moveTo(cx - nx * size, cy - ny * size);
    path.lineTo(cx + nx * size, cy + ny * size);
  }
}

function diamond(path: Path2D, { x, y }: PaperPoint): void {
  const s = 6;
  path.moveTo(x, y - s);
  path.lineTo(x + s, y);
  path.lineTo(x, y + s);
  path.lineTo(x - s, y);
  path.closePath();
}

function cross(path: Path2D, { x, y }: PaperPoint, [nx, ny]: readonly [number, number]): void {
  const cx = x + nx * 17;
  const cy = y + ny * 17;
  for (const [dx, dy] of [
    [4, 4],
    [4, -4],
  ] as const) {
    path.moveTo(cx - dx, cy - dy);
    path.lineTo(cx + dx, cy + dy);
  }
}

const labelAt = (
  { x, y }: PaperPoint,
  [nx, ny]: readonly [number, number],
  text: string,
  key: number,
  priority = 0,
): Label => numberLabel(text, x + nx * 15, y + ny * 15, key, priority);

/** A path that is seen smaller than this, in pixels, is a knot: there only what is wrong has its number. */
const KNOT = 44;

/** Labels that can stand beside one another: frames with something wrong first, then round numbers. */
function labelsOf(
  points: readonly PaperPoint[],
  normals: readonly (readonly [number, number])[],
  from: number,
  source: FrameSource,
  faults: PathFaults,
): Label[] {
  const isKnot = seenSize(points) < KNOT;
  return placeLabels(
    points.flatMap((point, k) => {
      const i = from + k;
      const wrong = !faults.besidePops.has(i) && Math.max(faults.arc[i]!, faults.spacing[i]!) > SPACING_DEFAULTS.off;
      const priority = wrong ? 1 : i % 4 === 0 ? 2 : i % 2 === 0 ? 3 : 4;
      return isKnot && !wrong ? [] : [labelAt(point, normals[k]!, String(source.first + i), i, priority)];
    }),
  );
}
