import type { FrameSource } from '../frames/frame-source.ts';
import type { LensFrame } from './lens.ts';
import type { PaperPoint } from '../paper/paper-scene.ts';

/** Where each joint falls on the paper, filled anew for each figure: no list is made a frame. */
const places: PaperPoint[] = [];
const placeOf = (joint: number): PaperPoint => (places[joint] ??= { x: 0, y: 0, depth: 0 });

/**
 * A figure as lines from joint to joint, its head as a round.
 *
 * @param place where a joint falls on the paper
 */
export function figureShape(
  { source, unseen }: Pick<LensFrame, 'source' | 'unseen'>,
  place: (joint: number, out: PaperPoint) => void,
): Path2D {
  const { motion, roles } = source.figure!.shown;
  const { joints } = motion;
  joints.forEach((_, joint) => place(joint, placeOf(joint)));
  const shape = new Path2D();
  joints.forEach(({ parent }, joint) => {
    // What leads from the floor to the hips is no limb.
    if (parent < 0 || joint === roles.hips || unseen.has(source.partOf(joint))) return;
    shape.moveTo(placeOf(parent).x, placeOf(parent).y);
    shape.lineTo(placeOf(joint).x, placeOf(joint).y);
  });
  const { head, neck } = roles;
  if (head !== undefined && !unseen.has(source.partOf(head))) {
    const at = placeOf(head);
    const below = placeOf(neck ?? joints[head]!.parent);
    const radius = Math.max(5, 0.75 * Math.hypot(at.x - below.x, at.y - below.y));
    const [ux, uy] = [(at.x - below.x) / radius, (at.y - below.y) / radius];
    shape.moveTo(at.x + ux * radius * 0.6 + radius, at.y + uy * radius * 0.6);
    shape.arc(at.x + ux * radius * 0.6, at.y + uy * radius * 0.6, radius, 0, 2 * Math.PI);
  }
  return shape;
}

/** Shapes of samples as they lie on the paper now: a ghost stays the same while it is gone past. */
const shapes = new WeakMap<FrameSource, { key: string; hidden: unknown; bySample: Map<number, Path2D> }>();
const MOST_SHAPES = 64;

/** The figure of a sample as lines. */
export function strokeSample(frame: LensFrame, sample: number): void {
  const { source, scene, desk } = frame;
  const key = `${scene.viewKey} ${desk.solo} ${desk.ride === null ? '' : frame.sample}`;
  let known = shapes.get(source);
  if (known?.key !== key || known.hidden !== desk.hidden || known.bySample.size > MOST_SHAPES) {
    known = { key, hidden: desk.hidden, bySample: new Map() };
    shapes.set(source, known);
  }
  const shape = known.bySample.get(sample) ?? figureShape(frame, (joint, out) => scene.project(sample, joint, out));
  known.bySample.set(sample, shape);
  frame.context.stroke(shape);
}

/** A round dot with a rim that stands off from whatever lies under it. */
export function dot(
  context: CanvasRenderingContext2D,
  { x, y }: PaperPoint,
  radius: number,
  fill: string,
  rim: string,
): void {
  context.beginPath();
  context.arc(x, y, radius, 0, 2 * Math.PI);
  context.fillStyle = fill;
  context.fill();
  context.strokeStyle = rim;
  context.lineWidth = 1.5;
  context.stroke();
}

/** An open ring that stands off from whatever lies under it. */
export function ring(
  context: CanvasRenderingContext2D,
  { x, y }: PaperPoint,
  radius: number,
  ink: string,
  rim: string,
): void {
  context.beginPath();
  context.arc(x, y, radius, 0, 2 * Math.PI);
  context.strokeStyle = rim;
  context.lineWidth = 4.5;
  context.stroke();
  context.strokeStyle = ink;
  context.lineWidth = 2;
  context.stroke();
}

/** Text that can be read over whatever lies under it, and never lies beyond the paper's lower edge. */
export function haloText(
  context: CanvasRenderingContext2D,
  text: string,
  x: number,
  y: number,
  fill: string,
  halo: string,
): void {
  const line = Math.min(y, context.canvas.height / context.getTransform().d - 4);
  context.lineWidth = 3;
  context.lineJoin = 'round';
  context.strokeStyle = halo;
  context.strokeText(text, x, line);
  context.fillStyle = fill;
  context.fillText(text, x, line);
}

export const NUMBERS = `500 10.5px 'Spline Sans Mono', monospace`;
export const WORDS = `400 11.5px 'Atkinson Hyperlegible Next Variable', sans-serif`;
