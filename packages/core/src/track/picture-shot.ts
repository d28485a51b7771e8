import { CATALOGUE } from '../measure/catalogue.ts';
import { measureExposure } from '../measure/cycle/exposure.ts';
import { closingsOfPair } from '../measure/pictures/pairs-and-shapes.ts';
import type { Report } from '../measure/report.ts';
import { prepareShot } from '../motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../motion/prepared-shot.ts';
import type { Exposure } from './held-pictures.ts';
import { figureOfPoints, type PointOptions } from './figure-of-points.ts';
import { type PlanarFigure, planarFigure } from './planar-figure.ts';
import type { PointTrack, PointTracks } from '../motion/point-tracks.ts';
import { type AskedOfPoints, reportTracks } from './report-tracks.ts';
import { type Camera, cameraOf } from './steady-camera.ts';

/** What is known of a shot's pictures. */
export interface PictureFacts {
  readonly fps: number;
  readonly frames: number;
  /** Of the pictures, in pixels. */
  readonly width: number;
  readonly height: number;
  /** Which frames show the same drawing, in samples from 0, in order. */
  readonly exposures: readonly Exposure[];
}

/** Where a point was placed, or followed to, at a sample: x to the right, y down, in pixels from the upper left; sure is 1 for a hand's. */
export type PlacedAt = readonly [sample: number, x: number, y: number, confidence: number];

/** A point with a name, and the places it is known at, in order of samples. */
export interface FollowedPoint {
  readonly name: string;
  readonly places: readonly PlacedAt[];
}

/** A line on the picture that everything stands on: two places in pixels, y down. */
export type GroundLine = readonly [x1: number, y1: number, x2: number, y2: number];

/** All that people have put on a shot's pictures, for measuring it. */
export interface PictureTracks {
  readonly points: readonly FollowedPoint[];
  /** Names of points on things that stand still: the camera is told by them. */
  readonly still: readonly string[];
  readonly pairs: readonly (readonly [string, string])[];
  /** Shapes, each by its top, bottom, left and right. */
  readonly shapes: readonly (readonly [string, string, string, string])[];
  /** Points in a row, upper end first: a tail, a rope, a hat. */
  readonly chains: readonly (readonly string[])[];
  readonly ground: GroundLine | null;
  /** Exposures as somebody corrected them; null where those that were found stand. */
  readonly exposures: readonly Exposure[] | null;
}

export const NO_TRACKS: PictureTracks = Object.freeze({
  points: [],
  still: [],
  pairs: [],
  shapes: [],
  chains: [],
  ground: null,
  exposures: null,
});

/** As of a motion; `fps` is what the exercise asks for, and only told where the pictures run at another rate. */
export type PictureOptions = Omit<ShotOptions, 'roles' | 'legLength' | 'still'>;

/** Points as they were placed, as tracks over all frames: y up. */
export function pointTracks(
  { fps, frames, height }: PictureFacts,
  points: readonly FollowedPoint[],
  firstFrame: number,
): PointTracks {
  return {
    fps,
    frames,
    firstFrame,
    points: points.map(({ name, places: known }): PointTrack => {
      const places = new Float64Array(2 * frames).fill(NaN);
      const confidence = new Float64Array(frames);
      for (const [at, x, y, own] of known) {
        if (at < 0 || at >= frames) continue;
        places[2 * at] = x;
        places[2 * at + 1] = height - y;
        confidence[at] = own;
      }
      return { name, places, confidence };
    }),
  };
}

/** Tracks as they were placed: the way back of {@link pointTracks}. */
export const followedPoints = ({ points, frames }: PointTracks, height: number): FollowedPoint[] =>
  points.map(({ name, places, confidence }) => ({
    name,
    places: Array.from({ length: frames }, (_, f): PlacedAt => [
      f,
      places[2 * f]!,
      height - places[2 * f + 1]!,
      confidence[f]!,
    ]).filter(([, x, y]) => !Number.isNaN(x) && !Number.isNaN(y)),
  }));

/**
 * One place a drawing: what is held stands where it stands, however it was followed. A drawing's place is where a hand put it, or the middle
 * of where it was followed to; at all its frames, known at one of them or more.
 */
export function heldStill(tracks: PointTracks, exposures: readonly Exposure[]): PointTracks {
  if (exposures.every(({ from, to }) => from === to)) return tracks;
  return {
    ...tracks,
    points: tracks.points.map(({ name, places, confidence }): PointTrack => {
      const [steady, surely] = [places.slice(), confidence.slice()];
      for (const { from, to } of exposures) {
        const known = span(from, to).filter((f) => f < tracks.frames && !Number.isNaN(places[2 * f]!));
        if (known.length === 0) continue;
        const best = Math.max(...known.map((f) => confidence[f]!));
        const chosen = best === 1 ? known.filter((f) => confidence[f] === 1) : known;
        for (let c = 0; c < 2; c++) {
          const own = chosen.map((f) => places[2 * f + c]!).sort((a, b) => a - b);
          const middle = (own[Math.floor((own.length - 1) / 2)]! + own[Math.ceil((own.length - 1) / 2)]!) / 2;
          for (const f of span(from, to)) if (f < tracks.frames) steady[2 * f + c] = middle;
        }
        for (const f of span(from, to)) if (f < tracks.frames) surely[f] = best;
      }
      return { name, places: steady, confidence: surely };
    }),
  };
}

const span = (from: number, to: number): number[] =>
  Array.from({ length: Math.max(0, to - from + 1) }, (_, k) => from + k);

/** How a figure made of points lies on the pictures it was made from. */
export interface PictureFigure {
  readonly shot: PreparedShot;
  readonly figure: PlanarFigure;
  /** Joint of the figure for each point that was followed, in their order. */
  readonly joints: readonly number[];
  /** What the camera did, frame by frame. */
  readonly camera: Camera;
  /** Its points as they are measured: held still, without the camera, over the level ground. */
  readonly tracks: PointTracks;
  /** A place of the figure's plane on the picture of a sample: x to the right, y down, pixels. */
  toPicture(x: number, y: number, sample: number): [x: number, y: number];
  /** The way back. */
  fromPicture(x: number, y: number, sample: number): [x: number, y: number];
}

/**
 * The figure that a shot's points make, measured and to be laid over the pictures.
 *
 * @returns undefined where no point is known anywhere
 */
export function pictureFigure(
  facts: PictureFacts,
  own: PictureTracks,
  options: PictureOptions,
): PictureFigure | undefined {
  const points = own.points.filter(({ places }) => places.length > 0);
  if (points.length === 0) return undefined;
  const seen = heldStill(pointTracks(facts, points, options.firstFrame ?? 1), own.exposures ?? facts.exposures);
  const camera = cameraOf(seen, stillOf(own));
  const line = levelOf(own.ground, facts.height);
  const { shot, figure, tracks } = figureOfPoints(seen, measuring(own, options, line, seen));
  const { cos, sin, x: ox, y: oy } = line ?? { cos: 1, sin: 0, x: 0, y: 0 };
  return {
    shot,
    figure,
    joints: points.map(({ name }) => figure.motion.joints.findIndex((joint) => joint.name === name)),
    camera,
    tracks,
    toPicture(px, py, sample) {
      const y = py + figure.ground;
      const [wx, wy] = [ox + cos * px - sin * y, oy + sin * px + cos * y];
      const [sx, sy] = camera.seen(wx, wy, sample);
      return [sx, facts.height - sy];
    },
    fromPicture(px, py, sample) {
      const [wx, wy] = camera.steady(px, facts.height - py, sample);
      const [dx, dy] = [wx - ox, wy - oy];
      return [cos * dx + sin * dy, cos * dy - sin * dx - figure.ground];
    },
  };
}

/** How a shot's points become a figure. The pictures' own rate is taken. */
const measuring = (
  own: PictureTracks,
  options: PictureOptions,
  line: Level | undefined,
  seen: PointTracks,
): PointOptions => ({
  ...withoutRate(options),
  closings: own.pairs.flatMap((pair) => closingsOfPair(seen, pair).map(({ from }) => ({ pair, label: from }))),
  still: stillOf(own),
  chains: own.chains,
  ...(line && { level: (tracks: PointTracks) => levelled(tracks, line) }),
});

const withoutRate = ({ fps: _fps, ...options }: PictureOptions): Omit<PictureOptions, 'fps'> => options;

/** Still points that are there. */
const stillOf = ({ points, still }: PictureTracks): string[] =>
  still.filter((name) => points.some((point) => point.name === name && point.places.length > 0));

interface Level {
  readonly x: number;
  readonly y: number;
  readonly cos: number;
  readonly sin: number;
}

/** The ground's line, y up: where it begins and how it leans. One without length is none. */
function levelOf(ground: GroundLine | null, height: number): Level | undefined {
  if (!ground) return undefined;
  const [x1, y1, x2, y2] = ground;
  const [dx, dy] = x2 >= x1 ? [x2 - x1, y1 - y2] : [x1 - x2, y2 - y1];
  const length = Math.hypot(dx, dy);
  return length < 1 ? undefined : { x: x1, y: height - y1, cos: dx / length, sin: dy / length };
}

/** Points as they lie over the ground's line, which is then level, at height 0. */
const levelled = (tracks: PointTracks, { x: ox, y: oy, cos, sin }: Level): PointTracks => ({
  ...tracks,
  points: tracks.points.map((point) => ({
    ...point,
    places: point.places.map((_, k) => {
      const f = Math.floor(k / 2);
      const [dx, dy] = [point.places[2 * f]! - ox, point.places[2 * f + 1]! - oy];
      return k % 2 === 0 ? cos * dx + sin * dy : cos * dy - sin * dx;
    }),
  })),
});

const NO_POINTS = 'no points have been followed on the pictures yet';

/**
 * Measures a picture shot: what its points show by the same functions as a motion, how its drawings are exposed by the pictures themselves.
 * Without points all but the exposures is unmade, and says why.
 */
export function reportPictures(
  facts: PictureFacts,
  own: PictureTracks,
  asking: PictureOptions,
  told: { file: string; format: string; warnings: readonly string[] },
  asked: Omit<AskedOfPoints, 'pairs' | 'shapes'> = {},
): Report {
  const exposures = own.exposures ?? facts.exposures;
  const options = withoutRate(asking);
  const source = { ...told, warnings: [...told.warnings, ...otherRate(facts.fps, asking.fps)] };
  const points = own.points.filter(({ places }) => places.length > 0);
  const firstFrame = options.firstFrame ?? 1;
  if (points.length > 0) {
    const line = levelOf(own.ground, facts.height);
    const seen = heldStill(pointTracks(facts, points, firstFrame), exposures);
    const known = (names: readonly string[]): boolean =>
      names.every((name) => points.some((point) => point.name === name));
    const report = reportTracks(seen, measuring(own, asking, line, seen), source, {
      ...asked,
      pairs: own.pairs.filter(known),
      shapes: own.shapes.filter(known),
    });
    return report;
  }
  const { motion, options: more } = planarFigure(drawingsOnly(facts, exposures, firstFrame));
  const shot = prepareShot(motion, { ...options, ...more, loop: options.loop === 'auto' ? 'none' : options.loop });
  const measured = measureExposure(shot);
  const made = new Set([...measured.readings, ...measured.unmade].map(({ id }) => id));
  const kind = options.kind ?? 'any';
  return {
    file: source.file,
    format: source.format,
    fps: facts.fps,
    frames: facts.frames,
    firstFrame,
    loop: shot.habit,
    up: 'Y',
    forward: 'X',
    scale: { legLength: 1, metresPerUnit: 1 },
    roles: {},
    readings: measured.readings,
    unmade: [
      ...measured.unmade,
      ...CATALOGUE.filter(({ id, kinds }) => kinds.includes(kind) && !made.has(id)).map(({ id }) => ({
        id,
        why: NO_POINTS,
      })),
    ],
    warnings: source.warnings,
  };
}

const otherRate = (own: number, asked: number | undefined): string[] =>
  asked === undefined || Math.abs(own - asked) < 0.05
    ? []
    : [
        `the pictures run at ${Number(own.toFixed(2))} frames a second; the exercise asks for ${Number(asked.toFixed(2))}`,
      ];

/** One point that goes on evenly with each new drawing: for telling how drawings are exposed where nothing else is known. */
function drawingsOnly({ fps, frames }: PictureFacts, exposures: readonly Exposure[], firstFrame: number): PointTracks {
  const places = new Float64Array(2 * frames);
  exposures.forEach(({ from, to }, k) => {
    for (const f of span(from, to)) if (f < frames) places[2 * f] = k;
  });
  return {
    fps,
    frames,
    firstFrame,
    points: [{ name: 'drawing', places, confidence: new Float64Array(frames).fill(1) }],
  };
}
