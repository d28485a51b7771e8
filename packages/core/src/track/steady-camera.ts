import { filledPlaces, type PointTrack, type PointTracks } from '../motion/point-tracks.ts';

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
  const camera = cameraOf(tracks, still);
  const moved = ({ places, ...point }: PointTrack): PointTrack => ({
    ...point,
    places: places.map((_, k) => camera.steady(places[2 * (k >> 1)]!, places[2 * (k >> 1) + 1]!, k >> 1)[k % 2]!),
  });
  return { ...tracks, points: tracks.points.map(moved) };
}

/** What a camera did, frame by frame: places are told y up. */
export interface Camera {
  /** Whether it does anything. */
  readonly moves: boolean;
  /** Where what is seen at a place at a sample would be seen by the camera of the first frame. */
  steady(x: number, y: number, sample: number): [x: number, y: number];
  /** Where what that camera would see at a place is seen at a sample. */
  seen(x: number, y: number, sample: number): [x: number, y: number];
}

const STANDS: Camera = Object.freeze({
  moves: false,
  steady: (x: number, y: number): [number, number] => [x, y],
  seen: (x: number, y: number): [number, number] => [x, y],
});

/**
 * What the camera does, by points on things that stand still; see {@link withoutCamera}.
 * @throws RangeError where there is no such point, or it is nowhere known
 */
export function cameraOf(tracks: PointTracks, still: readonly string[]): Camera {
  if (still.length === 0) return STANDS;
  const anchors = still.map((name) => {
    const point = tracks.points.find((own) => own.name === name);
    if (!point) throw new RangeError(`there is no point called “${name}”`);
    if (point.places.every((value) => Number.isNaN(value))) throw new RangeError(`“${name}” is nowhere known`);
    return filledPlaces(point);
  });
  const back = Array.from({ length: tracks.frames }, (_, f) => similarity(anchors, f));
  return {
    moves: true,
    steady(x, y, sample) {
      const { a, b, from, to } = back[sample]!;
      const [dx, dy] = [x - from[0], y - from[1]];
      return [to[0] + a * dx - b * dy, to[1] + b * dx + a * dy];
    },
    seen(x, y, sample) {
      const { a, b, from, to } = back[sample]!;
      const [dx, dy] = [x - to[0], y - to[1]];
      const size = a * a + b * b || 1;
      return [from[0] + (a * dx + b * dy) / size, from[1] + (a * dy - b * dx) / size];
    },
  };
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
