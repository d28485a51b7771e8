import type { Mark } from '@ypsigraph/contract/marks';
import { jointParts } from '@ypsigraph/core/measure/parts';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { wantedCurve, wantedFigure } from '../../desk/marks/kinds/registry.tsx';

/** Who a line belongs to: a side of the body, its middle, the path of what is marked, what is wanted. */
export type StrokeOf = 'left' | 'right' | 'centre' | 'ghost' | 'path' | 'wanted';

export interface Stroke {
  readonly of: StrokeOf;
  /** x, y; x, y; … on the drawing, y down. */
  readonly points: readonly number[];
}

export interface Dot {
  readonly of: StrokeOf;
  readonly x: number;
  readonly y: number;
  readonly r: number;
}

/** A figure at a mark's frame as lines: the same for a page and for a printed sheet. */
export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly strokes: readonly Stroke[];
  readonly dots: readonly Dot[];
  /** Label of the frame that is drawn. */
  readonly frame: number;
}

const [WIDTH, HEIGHT, ROOM] = [170, 150, 10];
/** A path is drawn over so many frames more on each side of the mark. */
const AROUND = 3;

/**
 * Draws a mark on a motion: the figure at the mark's frame, fainter at its last frame where it has several, the path of its point about them, and the
 * curve that is wanted of it. A face is read from the front, everything else from the side.
 *
 * @param shot as it is shown, every frame of the file
 * @returns undefined where the mark lies on no frame of the shot
 */
export function markDrawing(
  shot: PreparedShot,
  mark: Pick<Mark, 'from' | 'to' | 'point' | 'payload'>,
): Drawing | undefined {
  const { motion, axes, world, scale, roles, kind, firstFrame } = shot;
  const n = motion.joints.length;
  const [from, to] = [mark.from - firstFrame, mark.to - firstFrame];
  if (from < 0 || from >= motion.frames) return undefined;
  const last = Math.min(to, motion.frames - 1);
  const across = kind === 'turn' || kind === 'take' ? axes.left : axes.forward;
  const flat = (x: number, y: number, z: number): [number, number] => {
    const of = (axis: readonly number[]): number => (x * axis[0]! + y * axis[1]! + z * axis[2]!) / scale.legLength;
    return [of(across), of(axes.up)];
  };
  const at = (sample: number, joint: number): [number, number] => {
    const k = 3 * (sample * n + joint);
    return flat(world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!);
  };
  const parts = jointParts(shot);
  const sideOf = (joint: number): StrokeOf =>
    parts[joint]!.endsWith('.L') ? 'left' : parts[joint]!.endsWith('.R') ? 'right' : 'centre';
  const strokes: Stroke[] = [];
  const dots: Dot[] = [];
  const figure = (sample: number, ghost: boolean): void => {
    motion.joints.forEach(({ parent }, joint) => {
      if (parent < 0 || joint === (roles.hips ?? 0)) return;
      strokes.push({ of: ghost ? 'ghost' : sideOf(joint), points: [...at(sample, parent), ...at(sample, joint)] });
    });
    if (roles.head !== undefined) {
      const [x, y] = at(sample, roles.head);
      dots.push({ of: ghost ? 'ghost' : 'centre', x, y: y + 0.1, r: 0.13 });
    }
  };
  if (last > from) figure(last, true);
  figure(from, false);
  const joint = mark.point === null ? -1 : motion.joints.findIndex(({ name }) => name === mark.point);
  if (joint >= 0) {
    const [a, b] = [Math.max(0, from - AROUND), Math.min(motion.frames - 1, last + AROUND)];
    const path = Array.from({ length: b - a + 1 }, (_, k) => at(a + k, joint));
    strokes.push({ of: 'path', points: path.flat() });
    for (const [k, [x, y]] of path.entries()) dots.push({ of: 'path', x, y, r: a + k === from ? 0.035 : 0.018 });
  }
  const posed = wantedFigure(mark.payload, shot, from);
  if (posed)
    motion.joints.forEach(({ parent }, own) => {
      if (parent < 0 || own === (roles.hips ?? 0)) return;
      strokes.push({ of: 'wanted', points: [...flat(...posed.place(parent)), ...flat(...posed.place(own))] });
    });
  const curve = wantedCurve(mark.payload);
  if (curve) {
    const points = Array.from({ length: curve.length / 3 }, (_, k) =>
      flat(curve[3 * k]!, curve[3 * k + 1]!, curve[3 * k + 2]!),
    );
    strokes.push({ of: 'wanted', points: points.flat() });
  }
  return { ...onPaper(strokes, dots), frame: mark.from };
}

/** Fits lines in leg lengths, y up, on to the drawing, y down. */
function onPaper(strokes: readonly Stroke[], dots: readonly Dot[]): Omit<Drawing, 'frame'> {
  const xs = [
    ...strokes.flatMap(({ points }) => points.filter((_, k) => k % 2 === 0)),
    ...dots.flatMap(({ x, r }) => [x - r, x + r]),
  ];
  const ys = [
    ...strokes.flatMap(({ points }) => points.filter((_, k) => k % 2 === 1)),
    ...dots.flatMap(({ y, r }) => [y - r, y + r]),
  ];
  const [left, right] = [Math.min(...xs), Math.max(...xs)];
  const [low, high] = [Math.min(...ys), Math.max(...ys)];
  const size = Math.min(
    (WIDTH - 2 * ROOM) / Math.max(right - left, 0.3),
    (HEIGHT - 2 * ROOM) / Math.max(high - low, 0.3),
  );
  const x = (own: number): number => WIDTH / 2 + (own - (left + right) / 2) * size;
  const y = (own: number): number => HEIGHT - ROOM - (own - low) * size;
  return {
    width: WIDTH,
    height: HEIGHT,
    strokes: strokes.map(({ of, points }) => ({ of, points: points.map((own, k) => (k % 2 === 0 ? x(own) : y(own))) })),
    dots: dots.map(({ of, x: a, y: b, r }) => ({ of, x: x(a), y: y(b), r: r * size })),
  };
}
