/** Points a wanted arc is drawn with, between two it goes through. */
const PIECES = 12;

type Point = readonly [number, number, number];

const pointOf = (flat: readonly number[], k: number): Point => [flat[3 * k]!, flat[3 * k + 1]!, flat[3 * k + 2]!];
const distance = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/**
 * The arc through some points, as a polyline: a centripetal Catmull–Rom spline (Catmull and Rom 1974; with knots by the root of the
 * distances, Yuksel, Schaefer and Keyser 2011, it has neither cusps nor loops within a piece).
 *
 * @param through flat x, y, z of two points or more
 * @returns flat x, y, z
 */
export function arcThrough(through: readonly number[]): number[] {
  const n = through.length / 3;
  const points = Array.from({ length: n }, (_, k) => pointOf(through, k));
  if (n < 3) return [...through];
  // Beyond its ends the arc goes on as it is there.
  const beyond = (a: Point, b: Point, c: Point): Point => [
    3 * a[0] - 3 * b[0] + c[0],
    3 * a[1] - 3 * b[1] + c[1],
    3 * a[2] - 3 * b[2] + c[2],
  ];
  const all = [
    beyond(points[0]!, points[1]!, points[2]!),
    ...points,
    beyond(points[n - 1]!, points[n - 2]!, points[n - 3]!),
  ];
  const curve: number[] = [];
  for (let k = 1; k < n; k++) {
    const piece = [all[k - 1]!, all[k]!, all[k + 1]!, all[k + 2]!] as const;
    for (let i = 0; i < PIECES; i++) curve.push(...onPiece(piece, i / PIECES));
  }
  return [...curve, ...points[n - 1]!];
}

/** Barry and Goldman's pyramid: u from 0 at the second point to 1 at the third. */
function onPiece(p: readonly [Point, Point, Point, Point], u: number): Point {
  const knots = [0];
  for (let k = 1; k < 4; k++) knots.push(knots[k - 1]! + Math.sqrt(distance(p[k]!, p[k - 1]!)) + 1e-12);
  const t = knots[1]! + u * (knots[2]! - knots[1]!);
  const between = (a: Point, b: Point, from: number, to: number): Point => {
    const v = (t - from) / (to - from);
    return [a[0] + v * (b[0] - a[0]), a[1] + v * (b[1] - a[1]), a[2] + v * (b[2] - a[2])];
  };
  const [t0, t1, t2, t3] = knots as [number, number, number, number];
  const a = between(p[0], p[1], t0, t1);
  const b = between(p[1], p[2], t1, t2);
  const c = between(p[2], p[3], t2, t3);
  return between(between(a, b, t0, t2), between(b, c, t1, t3), t1, t2);
}

/** How far a point lies from a polyline. */
function fromLine(point: Point, line: readonly number[]): number {
  let least = Infinity;
  for (let k = 0; k + 1 < line.length / 3; k++) {
    const a = pointOf(line, k);
    const b = pointOf(line, k + 1);
    const segment = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
    const square = segment[0] ** 2 + segment[1] ** 2 + segment[2] ** 2;
    const along = (point[0] - a[0]) * segment[0] + (point[1] - a[1]) * segment[1] + (point[2] - a[2]) * segment[2];
    const u = square > 0 ? Math.min(1, Math.max(0, along / square)) : 0;
    least = Math.min(least, distance(point, [a[0] + u * segment[0], a[1] + u * segment[1], a[2] + u * segment[2]]));
  }
  return least;
}

/** The largest distance of some points from the arc through others. */
export function farthestFromArc(points: readonly number[], through: readonly number[]): number {
  const line = arcThrough(through);
  let most = 0;
  for (let k = 0; k < points.length / 3; k++) most = Math.max(most, fromLine(pointOf(points, k), line));
  return most;
}

/**
 * Five points of a smooth arc near a path: of the cubic from end to end that fits it best by least squares, with the points laid out by how
 * far along the path they are.
 */
export function smoothArc(points: readonly number[]): number[] {
  const n = points.length / 3;
  const first = pointOf(points, 0);
  const last = pointOf(points, n - 1);
  const gone = [0];
  for (let k = 1; k < n; k++) gone.push(gone[k - 1]! + distance(pointOf(points, k), pointOf(points, k - 1)));
  const whole = gone[n - 1]! || 1;
  // x(u) = chord(u) + h · bow(u) + g · lean(u): both are nothing at the ends, one is even about the middle and one odd.
  const bow = (u: number): number => 4 * u * (1 - u);
  const lean = (u: number): number => bow(u) * (1 - 2 * u);
  const chord = (u: number, c: number): number => first[c]! + u * (last[c]! - first[c]!);
  const fitted = [0, 1, 2].map((c) => {
    let [bb, bl, ll, xb, xl] = [0, 0, 0, 0, 0];
    for (let k = 0; k < n; k++) {
      const u = gone[k]! / whole;
      const off = points[3 * k + c]! - chord(u, c);
      bb += bow(u) ** 2;
      bl += bow(u) * lean(u);
      ll += lean(u) ** 2;
      xb += off * bow(u);
      xl += off * lean(u);
    }
    const det = bb * ll - bl * bl;
    return det > 1e-12
      ? { h: (xb * ll - xl * bl) / det, g: (xl * bb - xb * bl) / det }
      : { h: bb > 0 ? xb / bb : 0, g: 0 };
  });
  return [0, 0.25, 0.5, 0.75, 1].flatMap((u) => fitted.map(({ h, g }, c) => chord(u, c) + h * bow(u) + g * lean(u)));
}
