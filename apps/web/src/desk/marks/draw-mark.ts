import { getStroke } from 'perfect-freehand';
import { arcThrough } from '@ypsigraph/core/mark/arc-curve';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { worldPose } from '@ypsigraph/core/motion/pose';
import { quatAt, slerp } from '@ypsigraph/core/motion/quaternion';
import type { Payload, PencilLine } from '@ypsigraph/contract/marks';
import type { MarkKind } from '@ypsigraph/contract/vocabulary';
import { pointIndex } from '../frames/frame-source.ts';
import type { LensFrame } from '../lenses/lens.ts';
import { dot, figureShape, haloText, NUMBERS, ring } from '../lenses/stick.ts';
import type { PaperPoint } from '../paper/paper-scene.ts';

/** As much of a mark as is drawn: one that stands, or one that is being written. */
export interface DrawnMark {
  readonly kind: MarkKind;
  readonly from: number;
  readonly to: number;
  readonly point: string | null;
  readonly payload: Payload | null;
  readonly lines: readonly PencilLine[];
  /** Drawn in full; otherwise only its place is shown. */
  readonly full: boolean;
  /** Of an earlier revision that is seen as well: the way its point went there, flat x, y, z. */
  readonly then?: readonly number[] | undefined;
}

type Of<K extends MarkKind> = Extract<Payload, { kind: K }>;

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
  const { payload } = mark;
  if (mark.then) thenWay(frame, mark.then);
  if (joint >= 0) {
    way(frame, mark, joint);
    if (payload?.kind === 'spacing' && payload.wanted) wantedTicks(frame, mark, joint, payload);
    target(frame, joint);
  }
  if (payload?.kind === 'arc' && payload.wanted) wantedArc(frame, payload.wanted.through);
  if (payload?.kind === 'breakdown' && payload.measured && payload.wanted) wantedPose(frame, mark, payload);
  context.restore();
}

/** The label that is shown, and its sample, held within a mark's frames. */
const samplesOf = ({ source }: LensFrame, { from, to }: DrawnMark): number[] =>
  Array.from({ length: Math.max(1, Math.min(400, to - from + 1)) }, (_, k) => source.sampleAt(from + k));

const blank = (): PaperPoint => ({ x: 0, y: 0, depth: 0 });

/** The way of its point over the mark's frames, with a tick a frame. */
function way(frame: LensFrame, mark: DrawnMark, joint: number): void {
  const { context, scene, inks } = frame;
  const places = samplesOf(frame, mark).map((sample) => scene.project(sample, joint, blank()));
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
  for (const [place, label] of [
    [places[0]!, mark.from],
    [places.at(-1)!, mark.to],
  ] as const)
    haloText(context, String(label), place.x, place.y - 9, inks.instructor, inks.sheet);
}

/** The way its point went on the revision the mark was made on: thin and grey, with a tick a frame. */
function thenWay({ context, scene, sample, inks }: LensFrame, then: readonly number[]): void {
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

/** Where along its way the point should be at each frame: ticks across it. */
function wantedTicks(frame: LensFrame, mark: DrawnMark, joint: number, { wanted }: Of<'spacing'>): void {
  const { context, scene, inks } = frame;
  const places = samplesOf(frame, mark).map((sample) => scene.project(sample, joint, blank()));
  const gone = [0];
  for (let k = 1; k < places.length; k++)
    gone.push(gone[k - 1]! + Math.hypot(places[k]!.x - places[k - 1]!.x, places[k]!.y - places[k - 1]!.y));
  const whole = gone.at(-1)!;
  if (!(whole > 1)) return;
  context.strokeStyle = inks.instructor;
  context.lineWidth = 2;
  for (const fraction of wanted!.fractions) {
    const at = Math.min(1, Math.max(0, fraction)) * whole;
    const k = Math.max(
      1,
      gone.findIndex((way) => way >= at - 1e-9),
    );
    const [a, b] = [places[k - 1]!, places[k]!];
    const step = gone[k]! - gone[k - 1]! || 1;
    const u = (at - gone[k - 1]!) / step;
    const [x, y] = [a.x + u * (b.x - a.x), a.y + u * (b.y - a.y)];
    const [nx, ny] = [-(b.y - a.y) / step, (b.x - a.x) / step];
    context.beginPath();
    context.moveTo(x + 4 * nx, y + 4 * ny);
    context.lineTo(x + 13 * nx, y + 13 * ny);
    context.stroke();
  }
}

/** The arc that is wanted, in dashes, with the points it is drawn by. */
function wantedArc({ context, scene, sample, inks }: LensFrame, through: readonly number[]): void {
  const line = arcThrough(through);
  const at = blank();
  context.strokeStyle = inks.instructor;
  context.lineWidth = 2;
  context.setLineDash([7, 5]);
  context.beginPath();
  for (let k = 0; k < line.length; k += 3) {
    scene.projectWorld(sample, line[k]!, line[k + 1]!, line[k + 2]!, at);
    if (k === 0) context.moveTo(at.x, at.y);
    else context.lineTo(at.x, at.y);
  }
  context.stroke();
  context.setLineDash([]);
  for (let k = 0; k < through.length; k += 3)
    dot(
      context,
      scene.projectWorld(sample, through[k]!, through[k + 1]!, through[k + 2]!, at),
      3.5,
      inks.sheet,
      inks.instructor,
    );
}

/** The pose between two poses with the favour that is wanted, as a ghost: each joint as far from the second as the first is favoured. */
function wantedPose(frame: LensFrame, mark: DrawnMark, { measured, wanted }: Of<'breakdown'>): void {
  const { context, scene, source, sample, inks } = frame;
  if (!source.figure || source.first + sample !== measured!.at) return;
  const { shown } = source.figure;
  const place = posedBetween(shown, source.sampleAt(mark.from), source.sampleAt(mark.to), 1 - wanted!.favour / 100);
  context.strokeStyle = inks.instructor;
  context.lineWidth = 2;
  context.setLineDash([7, 5]);
  const shape = figureShape(frame, (joint, out) =>
    scene.projectWorld(sample, place[3 * joint]!, place[3 * joint + 1]!, place[3 * joint + 2]!, out),
  );
  context.stroke(shape);
  context.setLineDash([]);
}

let lastPose: { key: string; shot: PreparedShot; positions: Float64Array } | undefined;

/** World places of every joint where each local rotation lies a share u of the way from pose a to pose b. Kept until another is asked for. */
function posedBetween(shot: PreparedShot, a: number, b: number, u: number): Float64Array {
  const key = `${a} ${b} ${u}`;
  if (lastPose?.key === key && lastPose.shot === shot) return lastPose.positions;
  const { motion } = shot;
  const n = motion.joints.length;
  const m = motion.moving.length;
  const rotations = new Float64Array(4 * n);
  for (let j = 0; j < n; j++)
    rotations.set(slerp(quatAt(motion.rotations, a * n + j), quatAt(motion.rotations, b * n + j), u), 4 * j);
  const translations = Float64Array.from({ length: 3 * m }, (_, k) => {
    const [from, to] = [motion.translations[3 * a * m + k]!, motion.translations[3 * b * m + k]!];
    return from + u * (to - from);
  });
  const { positions } = worldPose({ ...motion, frames: 1, rotations, translations });
  lastPose = { key, shot, positions };
  return positions;
}

/** A pencil line: where it was drawn, or with the point it sticks to. */
function drawLine(
  { context, scene, source, sample, inks }: LensFrame,
  mark: DrawnMark,
  { sticks, points }: PencilLine,
): void {
  const joint = pointIndex(source, mark.point);
  const at = blank();
  const by = [0, 0, 0];
  if (sticks === 'point' && joint >= 0) {
    // Drawn at the mark's first frame; at another it is as far along as the point has gone since.
    const path = source.path(joint).points;
    const then = source.sampleAt(mark.from);
    for (let c = 0; c < 3; c++) by[c] = path[3 * sample + c]! - path[3 * then + c]!;
  }
  const placed: [number, number][] = [];
  for (let k = 0; k < points.length; k += 3) {
    scene.projectDrawn(sample, points[k]! + by[0]!, points[k + 1]! + by[1]!, points[k + 2]! + by[2]!, at);
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
