import type { QuantityOf } from '@ypsigraph/core/quantity/measure-quantity';
import type { ExemplarChoice } from '@ypsigraph/contract/briefs';
import type { KeyPose } from '@ypsigraph/core/measure/keys/key-poses';
import type { ShotEvent } from '@ypsigraph/core/measure/keys/shot-events';
import type { Measurable } from '@ypsigraph/core/mark/mark';
import type { Payload } from '@ypsigraph/core/mark/mark';
import type { MarkPlace, Met } from '@ypsigraph/core/mark/mark-tool';
import type { MarkKind } from '@ypsigraph/core/trade/mark-kinds';
import type { PathFaults } from '@ypsigraph/core/measure/spacing/path-faults';
import type { PointPath } from '@ypsigraph/core/measure/spacing/point-path';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { PictureTracks } from '@ypsigraph/core/track/picture-shot';
import type { PaperScene } from '../paper/paper-scene.ts';
import type { ViewRig } from '../paper/view-rig.ts';
import type { PictureFrames } from '../pictures/picture-frames.ts';
import type { HeardSound } from '../sound/heard-sound.ts';

/** What a point does over the shot, one value a frame (a speed: one a step). */
export const SIGNALS = ['speed', 'height', 'turn', 'turn in the world', 'distance'] as const;
export type SignalName = (typeof SIGNALS)[number];
export const isSignal = (name: string): name is SignalName => (SIGNALS as readonly string[]).includes(name);

/** A signal with its unit, as it is drawn. */
export interface Signal {
  readonly values: Float64Array;
  readonly unit: string;
  /** Values lie between frames. */
  readonly steps: boolean;
}

/** How a loop goes over the ground, in the source's own axes and units. */
export interface Travel {
  /** From each frame to the next, beyond what the frames themselves show; zero where they travel already. */
  readonly perFrame: readonly [number, number, number];
  /** From one time round to the next. */
  readonly perLap: readonly [number, number, number];
}

/** Measuring that a dragging hand asks for: by the same core, wherever it runs. */
export interface MarkMeasures {
  /** See `measureMark` of the core. */
  measure(kind: MarkKind, place: MarkPlace, now?: Payload): Promise<Payload>;
  /** See `met` of the core. */
  met(mark: Measurable): Promise<Met | undefined>;
}

/** The figure of a motion: what is shown, frame by frame, and what was measured of it. Pictures have none. */
export interface FigureFacts extends MarkMeasures {
  readonly shown: PreparedShot;
  readonly measured: PreparedShot;
}

/** What the desk knows of a shot, whether it is a motion or pictures: how it lies on the frame axis, and what its points do. */
export interface FrameSource {
  readonly frames: number;
  readonly fps: number;
  /** Label of the first frame. */
  readonly first: number;
  readonly loop: 'none' | 'repeat' | 'follow';
  /** Points that have a path: joints of a figure, followed points of a picture. */
  readonly pointNames: readonly string[];
  /** Poses are held, or one stands too long: fewer are measured than are shown. */
  readonly folded: boolean;
  readonly figure?: FigureFacts;
  /** The exemplar its brief has chosen; where it has chosen none the usual one of its kind is shown. */
  readonly exemplar?: ExemplarChoice | null;
  /** Frames that are pictures: what is laid over them, blended with them or read from them. */
  readonly pictures?: PictureFrames;
  /** What is heard with it. */
  readonly sound?: HeardSound;
  /** What people have put on its pictures. */
  readonly tracks?: PictureTracks;
  /** It is seen from one side only. */
  readonly flat: boolean;
  /** How long each drawing, or pose, stands; undefined where each frame is another. */
  readonly exposed: readonly { readonly from: number; readonly length: number }[] | undefined;
  /** Undefined where it is no loop, or goes nowhere. */
  readonly travel: Travel | undefined;
  /** The point the exercise is about: looked at first. */
  readonly leading: number;
  /** Parts of what moves, in order, and the part a point belongs to. */
  readonly parts: readonly string[];
  partOf(point: number): string;
  path(point: number): PointPath;
  /** What is wrong with a point's path, frame by frame. */
  faults(point: number): PathFaults;
  /** Steps of a point from each frame to the next, %L (of a picture: percent of its height). */
  speeds(point: number): Float64Array;
  /** @param to the point a distance is told to */
  signal(point: number, name: string, to?: number): Signal | undefined;
  /** Quantities of its figure, each a signal by its id. */
  readonly quantities: readonly QuantityOf[];
  /** Signals of its own, beside those every point has. */
  readonly ownSignals: readonly string[];
  /** How much a part moves from each frame to the next, °/frame. */
  activity(part: string): Float64Array;
  keyPoses(): readonly KeyPose[];
  /** What happens in it, in order of frames; nothing where it has no figure. */
  events(): readonly ShotEvent[];
  /** Sample to show at a label of the axis: its own, or, beyond its ends, round the loop or the nearest. */
  sampleAt(label: number): number;
  /** A paper that shows it. */
  scene(canvas: HTMLCanvasElement, rig: ViewRig, drawn: () => void): PaperScene;
  /** Draws the frame at a label small, on a canvas of its own. */
  drawSmall(canvas: HTMLCanvasElement, label: number, size: { readonly width: number; readonly height: number }): void;
}

/** A source that points can be put on. */
export type PlacedSource = FrameSource & Required<Pick<FrameSource, 'pictures' | 'tracks'>>;

export const canBePlaced = (source: FrameSource | undefined): source is PlacedSource =>
  source?.pictures !== undefined && source.tracks !== undefined;

/** A point of the source by its name; −1 where there is none. */
export const pointIndex = (source: FrameSource, name: string | null): number =>
  name === null ? -1 : source.pointNames.indexOf(name);
