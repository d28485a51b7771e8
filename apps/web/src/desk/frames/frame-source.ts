import type { PathFaults } from '@ypsigraph/core/measure/spacing/path-faults';
import type { PointPath } from '@ypsigraph/core/measure/spacing/point-path';

/** What the desk needs of a shot, whether it is a motion or pictures: how it lies on the frame axis, and the paths of its points. */
export interface FrameSource {
  readonly kind: 'motion' | 'pictures';
  readonly frames: number;
  readonly fps: number;
  /** Label of the first frame. */
  readonly first: number;
  readonly loop: 'none' | 'repeat' | 'follow';
  /** Points that have a path: joints of a figure, followed points of a picture. */
  readonly pointNames: readonly string[];
  path(point: number): PointPath;
  /** What is wrong with a point's path, frame by frame. */
  faults(point: number): PathFaults;
  /** Steps of a point from each frame to the next, %L (of a picture: percent of its height). */
  speeds(point: number): Float64Array;
  /** Sample to show at a label of the axis: its own, or, beyond its ends, round the loop or the nearest. */
  sampleAt(label: number): number;
}
