import type { LottieProperty, LottieShape } from './lottie-json.ts';
import { timedTransform, type TimedTransform } from './layer-transform.ts';
import { placeOf, type PlaneMatrix, poseMatrix, UNMOVED, within } from './plane-matrix.ts';
import { type Timed, timed } from './property.ts';

/** A box that something lies in, y down. */
export type Box = readonly [left: number, top: number, right: number, bottom: number];

/** What a layer draws, as far as it has a size: where it lies at any frame, on the layer's own axes. */
export interface Content {
  /** Nothing is drawn: undefined. Lines are as thin as their outlines. */
  boxAt(frame: number): Box | undefined;
  /** Its own outlines or groups change, beyond what the layer's transform does. */
  readonly changes: boolean;
}

/** A piece of what is drawn: points that it lies between, put into a list at a frame. */
type Piece = (frame: number, matrix: PlaneMatrix, put: (x: number, y: number) => void) => void;

/** What a layer's shapes draw: groups with their transforms, outlines with their curves, ellipses, rectangles, and stars by their outer radius. */
export function contentOf(shapes: readonly LottieShape[]): Content {
  const all: Timed[] = [];
  const transforms: TimedTransform[] = [];
  const piece = groupOf(shapes, all, transforms);
  return {
    changes: all.some(({ keys }) => keys.length > 0) || transforms.some(({ isStill }) => !isStill),
    boxAt(frame) {
      let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
      piece(frame, UNMOVED, (x, y) => {
        [left, right] = [Math.min(left, x), Math.max(right, x)];
        [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
      });
      return left <= right ? [left, top, right, bottom] : undefined;
    },
  };
}

function groupOf(shapes: readonly LottieShape[], all: Timed[], transforms: TimedTransform[]): Piece {
  const own = shapes.find(({ ty }) => ty === 'tr');
  const transform = own && timedTransform(own);
  if (transform) transforms.push(transform);
  const keep = (property: LottieShape['p'], width: number): Timed => {
    const made = timed(property as LottieProperty, width);
    all.push(made);
    return made;
  };
  const pieces = shapes.flatMap((shape): Piece[] => {
    if (shape.hd) return [];
    if (shape.ty === 'gr') return [groupOf(shape.it ?? [], all, transforms)];
    if (shape.ty === 'sh') return [outline(keep(shape.ks, 0))];
    if (shape.ty === 'el') return [ellipse(keep(shape.p, 2), keep(shape.s, 2))];
    if (shape.ty === 'rc') return [rectangle(keep(shape.p, 2), keep(shape.s, 2))];
    if (shape.ty === 'sr') return [star(keep(shape.p, 2), keep(shape.or, 1))];
    return [];
  });
  return (frame, matrix, put) => {
    const inner = transform ? within(matrix, poseMatrix(transform.at(frame))) : matrix;
    for (const piece of pieces) piece(frame, inner, put);
  };
}

const numbers: number[] = [];

function outline(own: Timed): Piece {
  return (frame, matrix, put) => {
    own.at(frame, numbers);
    const points = Array.from({ length: own.width / 6 }, (_, k) => {
      const [x, y, ix, iy, ox, oy] = numbers.slice(6 * k, 6 * k + 6) as [
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      return {
        at: placeOf(matrix, x, y),
        into: placeOf(matrix, x + ix, y + iy),
        out: placeOf(matrix, x + ox, y + oy),
      };
    });
    points.forEach(({ at, out }, k) => {
      put(...at);
      const next = points[k + 1];
      if (!next) return;
      for (const c of [0, 1] as const)
        for (const u of turnsOf(at[c], out[c], next.into[c], next.at[c]))
          put(
            alongCurve(at[0], out[0], next.into[0], next.at[0], u),
            alongCurve(at[1], out[1], next.into[1], next.at[1], u),
          );
    });
    const [first, last] = [points[0], points.at(-1)];
    if (first && last && points.length > 2)
      for (const c of [0, 1] as const)
        for (const u of turnsOf(last.at[c], last.out[c], first.into[c], first.at[c]))
          put(
            alongCurve(last.at[0], last.out[0], first.into[0], first.at[0], u),
            alongCurve(last.at[1], last.out[1], first.into[1], first.at[1], u),
          );
  };
}

const alongCurve = (a: number, b: number, c: number, d: number, u: number): number => {
  const v = 1 - u;
  return v * v * v * a + 3 * v * v * u * b + 3 * v * u * u * c + u * u * u * d;
};

/** Parameters at which one number of a curve turns round: where its derivative is 0. */
function turnsOf(a: number, b: number, c: number, d: number): number[] {
  const [p, q, r] = [d - 3 * c + 3 * b - a, 2 * (c - 2 * b + a), b - a];
  if (Math.abs(p) < 1e-12) return Math.abs(q) < 1e-12 ? [] : [-r / q].filter((u) => u > 0 && u < 1);
  const under = q * q - 4 * p * r;
  if (under < 0) return [];
  return [1, -1].map((sign) => (-q + sign * Math.sqrt(under)) / (2 * p)).filter((u) => u > 0 && u < 1);
}

function ellipse(middle: Timed, size: Timed): Piece {
  return (frame, [a, b, c, d, e, f], put) => {
    middle.at(frame, numbers);
    const [x, y] = placeOf([a, b, c, d, e, f], numbers[0]!, numbers[1]!);
    size.at(frame, numbers);
    const [rx, ry] = [numbers[0]! / 2, numbers[1]! / 2];
    const [w, h] = [Math.hypot(a * rx, c * ry), Math.hypot(b * rx, d * ry)];
    put(x - w, y - h);
    put(x + w, y + h);
  };
}

function rectangle(middle: Timed, size: Timed): Piece {
  return (frame, matrix, put) => {
    size.at(frame, numbers);
    putCorners(middle, frame, matrix, numbers[0]! / 2, numbers[1]! / 2, put);
  };
}

function star(middle: Timed, radius: Timed): Piece {
  return (frame, matrix, put) => {
    radius.at(frame, numbers);
    putCorners(middle, frame, matrix, numbers[0]!, numbers[0]!, put);
  };
}

const CORNERS = [
  [-1, -1],
  [1, -1],
  [-1, 1],
  [1, 1],
] as const;

function putCorners(
  middle: Timed,
  frame: number,
  matrix: PlaneMatrix,
  w: number,
  h: number,
  put: (x: number, y: number) => void,
): void {
  middle.at(frame, numbers);
  const [x, y] = [numbers[0]!, numbers[1]!];
  for (const [sx, sy] of CORNERS) put(...placeOf(matrix, x + sx * w, y + sy * h));
}
