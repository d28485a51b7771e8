import type { Travel } from '../frames/frame-source.ts';
import type { OnAxis } from '../frames/label-map.ts';
import type { LensFrame } from '../lenses/lens.ts';
import type { Palette } from './inks.ts';

/** A place on the paper in pixels from its upper left, and how near it is to the eye. */
export interface PaperPoint {
  x: number;
  y: number;
  depth: number;
}

/** One paper: what is shown on it, and where on it things fall. Lenses, marks and hands know nothing else of what they lie over. */
export interface PaperScene {
  /** The point the view goes with; −1 for none. */
  ride: number;
  /** Whether what is shown can be drawn here. */
  readonly draws: boolean;
  /** Whether a drag turns the view; else it moves it. */
  readonly turns: boolean;
  /** The sample that is shown. */
  readonly shown: number;
  readonly size: { readonly width: number; readonly height: number };
  /** Leg lengths a pixel covers, as it is seen now. */
  readonly unitsPerPixel: number;
  /** Changes whenever what was projected falls elsewhere. */
  readonly viewKey: number;
  /** Whether what lies at the end of the loop is not where it began. */
  readonly travels: boolean;
  /** Draws before the next picture is shown, however often it is asked for. */
  draw(): void;
  pose(sample: number, lap?: number): void;
  /** Lets what is shown of a loop go over the ground; undefined keeps it on the spot. */
  travel(travel: Travel | undefined, period: number): void;
  colour(palette: Palette, silhouette: boolean): void;
  hideParts(hidden: ReadonlySet<string>): void;
  /** Shows the student's own character where there is one, or the plain figure; left out where there are only pictures. */
  asCharacter?(wanted: boolean): void;
  resize(width: number, height: number): void;
  /** Where a point at a sample falls on the paper. Riding, every sample is seen as if what is ridden on stayed where it is now. */
  project(sample: number, point: number, out: PaperPoint): PaperPoint;
  /** Where a place of the shot's own axes and units falls on the paper, as it is at a sample. */
  projectWorld(sample: number, x: number, y: number, z: number, out: PaperPoint): PaperPoint;
  /** The place in the shot's axes and units that lies under a point of the paper, as deep as `depth` (−1 near, 1 far). */
  placeUnder(x: number, y: number, depth: number): [number, number, number];
  /**
   * The same for what a hand has drawn, which stays where it was drawn whatever becomes known of the shot: a figure's lines in its own space, those on a
   * picture in the picture's.
   */
  projectDrawn(sample: number, x: number, y: number, z: number, out: PaperPoint): PaperPoint;
  drawnUnder(x: number, y: number, depth: number): [number, number, number];
  /** Where the middle of all that is shown falls on the paper; left out where that says nothing. */
  middle?(): { readonly x: number; readonly y: number };
  /** The point at a place on the paper. */
  pointAt(x: number, y: number, reach?: number): number | undefined;
  /** Draws a sample beside the one that is shown, faintly. */
  ghost(frame: LensFrame, sample: number, opacity: number): void;
  /** Lays another revision over this one, at the label that belongs to it; undefined takes it off. Left out where nothing can be laid over. */
  lay?(over: OnAxis | undefined, by: 'wiped' | 'blended'): void;
  /** Shows only what another sample has otherwise; left out where nothing but its lines could tell. */
  difference?(sample: number): void;
  dispose(): void;
}
