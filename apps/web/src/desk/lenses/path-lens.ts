import { Spline } from 'lucide-react';
import { judgePath, type PathFaults, SPACING_DEFAULTS } from '@ypsigraph/core/measure/spacing/path-faults';
import type { PointPath } from '@ypsigraph/core/measure/spacing/point-path';
import type { FrameSource } from '../frames/frame-source.ts';
import { placeLabels } from '../paper/place-labels.ts';
import type { PaperPoint, PaperScene } from '../paper/scene.ts';
import type { LegendEntry, Lens, LensFrame } from './lens.ts';
import { NUMBERS } from './stick.ts';

/** At most so many frames to each side of the one shown are drawn of a long shot. */
const REACH = 120;
/** Half the length of a tick, at most; a path whose frames lie close has shorter ones. */
const TICK = 5;
const LABEL_HEIGHT = 11;
/** Width of one figure of the frame numbers, pixels. */
const FIGURE = 6.3;

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
  draw: (frame) => legendOf(drawPath(frame), frame),
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

function drawPath({ context, scene, source, sample, point: joint, desk, inks }: LensFrame): PathSummary {
  const { ink, graphite: soft, sheet } = inks;
  const count = source.loop === 'repeat' ? source.frames - 1 : source.frames;
  const from = Math.max(0, Math.min(sample - REACH, count - 2 * REACH));
  const to = Math.min(count, from + 2 * REACH + 1);
  const points: PaperPoint[] = [];
  for (let i = from; i < to; i++) points.push(scene.project(i, joint, { x: 0, y: 0, depth: 0 }));
  const closed = source.loop !== 'none' && to - from === count;
  const faults =
    source.folded || (desk.space === 'world' && desk.ride === null)
      ? source.faults(joint)
      : judgeOnPaper(scene, source, joint);

  context.lineJoin = 'round';
  context.lineCap = 'round';
  trace(context, points, closed);
  context.strokeStyle = sheet;
  context.lineWidth = 4;
  context.stroke();
  context.strokeStyle = ink;
  context.lineWidth = 1.25;
  context.stroke();

  const size = Math.min(TICK, Math.max(1.5, 0.7 * meanStep(points)));
  const pops = new Set(faults.pops);
  const summary = { arc: 0, spacing: 0, pops: pops.size };
  points.forEach((point, k) => {
    const i = from + k;
    const normal = normalAt(points, k, closed);
    const own = !faults.besidePops.has(i);
    const offArc = own && faults.arc[i]! > SPACING_DEFAULTS.off;
    const offSpacing = own && faults.spacing[i]! > SPACING_DEFAULTS.off;
    if (offArc) summary.arc++;
    if (offSpacing) summary.spacing++;
    context.strokeStyle = ink;
    context.lineWidth = i === sample ? 2.5 : 1.25;
    tick(context, point, normal, offSpacing ? size + 3 : size, offSpacing ? 2 : 0);
    if (offArc) diamond(context, point, sheet, ink);
    if (pops.has(i)) cross(context, point, normal, ink);
    if (i === sample) {
      context.beginPath();
      context.arc(point.x, point.y, 4.5, 0, 2 * Math.PI);
      context.fillStyle = ink;
      context.fill();
      context.strokeStyle = sheet;
      context.lineWidth = 1.5;
      context.stroke();
    }
  });
  labels(context, points, from, source, faults, sample, closed, ink, soft, sheet);
  return summary;
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

function meanStep(points: readonly PaperPoint[]): number {
  let sum = 0;
  for (let k = 1; k < points.length; k++)
    sum += Math.hypot(points[k]!.x - points[k - 1]!.x, points[k]!.y - points[k - 1]!.y);
  return sum / Math.max(1, points.length - 1);
}

function trace(context: CanvasRenderingContext2D, points: readonly PaperPoint[], closed: boolean): void {
  context.beginPath();
  points.forEach(({ x, y }, k) => (k === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
  if (closed) context.closePath();
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
  context: CanvasRenderingContext2D,
  { x, y }: PaperPoint,
  [nx, ny]: [number, number],
  size: number,
  gap: number,
): void {
  context.beginPath();
  for (const shift of gap > 0 ? [-gap, gap] : [0]) {
    // Across the path; a double tick lies to both sides along it.
    const cx = x + ny * shift;
    const cy = y - nx * shift;
    context.moveTo(cx - nx * size, cy - ny * size);
    context.lineTo(cx + nx * size, cy + ny * size);
  }
  context.stroke();
}

function diamond(context: CanvasRenderingContext2D, { x, y }: PaperPoint, sheet: string, ink: string): void {
  const s = 6;
  context.beginPath();
  context.moveTo(x, y - s);
  context.lineTo(x + s, y);
  context.lineTo(x, y + s);
  context.lineTo(x - s, y);
  context.closePath();
  context.fillStyle = sheet;
  context.fill();
  context.strokeStyle = ink;
  context.lineWidth = 1.75;
  context.stroke();
}

function cross(context: CanvasRenderingContext2D, { x, y }: PaperPoint, [nx, ny]: [number, number], ink: string): void {
  const cx = x + nx * 17;
  const cy = y + ny * 17;
  context.beginPath();
  for (const [dx, dy] of [
    [4, 4],
    [4, -4],
  ] as const) {
    context.moveTo(cx - dx, cy - dy);
    context.lineTo(cx + dx, cy + dy);
  }
  context.strokeStyle = ink;
  context.lineWidth = 1.75;
  context.stroke();
}

function labels(
  context: CanvasRenderingContext2D,
  points: readonly PaperPoint[],
  from: number,
  source: FrameSource,
  faults: PathFaults,
  sample: number,
  closed: boolean,
  ink: string,
  soft: string,
  sheet: string,
): void {
  context.font = NUMBERS;
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  const candidates = points.map((point, k) => {
    const i = from + k;
    const [nx, ny] = normalAt(points, k, closed);
    const wrong = !faults.besidePops.has(i) && Math.max(faults.arc[i]!, faults.spacing[i]!) > SPACING_DEFAULTS.off;
    const text = String(source.first + i);
    return {
      text,
      x: point.x + nx * 15,
      y: point.y + ny * 15,
      // One width a figure: nothing is measured at each frame.
      width: FIGURE * text.length + 7,
      height: LABEL_HEIGHT,
      // The frame shown, then frames with something wrong, then round numbers.
      priority: i === sample ? 0 : wrong ? 1 : i % 4 === 0 ? 2 : i % 2 === 0 ? 3 : 4,
      key: i,
    };
  });
  for (const { text, x, y, key } of placeLabels(candidates)) {
    context.lineWidth = 3;
    context.strokeStyle = sheet;
    context.strokeText(text, x, y);
    context.fillStyle = key === sample ? ink : soft;
    context.fillText(text, x, y);
  }
}
