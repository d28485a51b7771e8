import { filledPlaces, type PointTrack, type PointTracks } from './point-tracks.ts';

/** Still points nearer together than so many pixels tell no turn and no zoom. */
const APART = 8;

/**
 * Takes a camera's movement out of points: one thing that stands still shows how it pans, two or more also how it turns and zooms (the
 * similarity that brings them best, in the least squares, to where they are at the first frame; two-dimensional Procrustes analysis). Everything
 * is then where it would be seen by the camera of the first frame.
 *
 * @param still names of points on things that stand still
 * @returns the points as that camera sees them; the same object where nothing is still
 * @throws RangeError where there is no such point, or it is nowhere known
 *
 * @example one still point goes from (10, 5) to (13, 5): everything else is moved back by (3, 0) at that frame
 */
export function withoutCamera(tracks: PointTracks, still: readonly string[]): PointTracks {
  if (still.length === 0) return tracks;
  const anchors = still.map((name) => {
    const point = tracks.points.find((own) => own.name === name);
    if (!point) throw new RangeError(`there is no point called “${name}”`);
    if (point.places.every((value) => Number.isNaN(value))) throw new RangeError(`“${name}” is nowhere known`);
    return filledPlaces(point);
  });
  const back = Array.from({ length: tracks.frames }, (_, f) => similarity(anchors, f));
  const moved = ({ places, ...point }: PointTrack): PointTrack => ({
    ...point,
    places: places.map((_, k) => {
      const f = Math.floor(k / 2);
      const { a, b, from, to } = back[f]!;
      const [x, y] = [places[2 * f]! - from[0], places[2 * f + 1]! - from[1]];
      return k % 2 === 0 ? to[0] + a * x - b * y : to[1] + b * x + a * y;
    }),
  });
  return { ...tracks, points: tracks.points.map(moved) };
}

/** x ↦ to + (a, b; −b, a)·(x − from): from a frame's places of the still points to their first. */
interface Similarity {
  readonly a: number;
  readonly b: number;
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
}

function similarity(anchors: readonly Float64Array[], f: number): Similarity {
  const middle = (at: number): [number, number] => {
    let [x, y] = [0, 0];
    for (const path of anchors) {
      x += path[2 * at]! / anchors.length;
      y += path[2 * at + 1]! / anchors.length;
    }
    return [x, y];
  };
  const [from, to] = [middle(f), middle(0)];
  let [dot, cross, size] = [0, 0, 0];
  for (const path of anchors) {
    const [px, py] = [path[2 * f]! - from[0], path[2 * f + 1]! - from[1]];
    const [qx, qy] = [path[0]! - to[0], path[1]! - to[1]];
    dot += px * qx + py * qy;
    cross += px * qy - py * qx;
    size += px * px + py * py;
  }
  const tells = size > anchors.length * (APART / 2) ** 2;
  return { a: tells ? dot / size : 1, b: tells ? cross / size : 0, from, to };
}
