import type { PreparedShot, ShotOptions } from '../motion/prepared-shot.ts';
import { prepareShot } from '../motion/prepare-shot.ts';
import { type PlanarFigure, planarFigure } from './planar-figure.ts';
import type { PointTracks } from '../motion/point-tracks.ts';
import { withoutCamera } from './steady-camera.ts';

/** How points become a figure: as of a motion, with what stands still and what they stand on. */
export type PointOptions = Omit<ShotOptions, 'roles' | 'legLength' | 'fps'> & {
  /** Lays the points over a ground that somebody has drawn, which is then at height 0. */
  readonly level?: (tracks: PointTracks) => PointTracks;
  /** Names of points in a row, upper end first: a tail, a rope, a hat. */
  readonly chains?: readonly (readonly string[])[];
};

/** A figure made of points. */
export interface FigureOfPoints {
  readonly shot: PreparedShot;
  readonly figure: PlanarFigure;
  /** The points as they are measured: without the camera, over the level ground. */
  readonly tracks: PointTracks;
}

/**
 * The figure that points make: the one way from points to what is measured of them, and to what lies over their pictures. The camera's movement is taken
 * out by what stands still, then the ground is made level.
 *
 * @param still names of points on things that stand still
 */
export function figureOfPoints(
  seen: PointTracks,
  { still = [], level, chains = [], firstFrame, ...options }: PointOptions,
): FigureOfPoints {
  const steady = withoutCamera(seen, still);
  const tracks = level ? level(steady) : steady;
  const figure = planarFigure(tracks, level && 0, chains);
  const own = { ...options, ...figure.options, ...(firstFrame !== undefined && { firstFrame }) };
  return { shot: prepareShot(figure.motion, own), figure, tracks };
}
