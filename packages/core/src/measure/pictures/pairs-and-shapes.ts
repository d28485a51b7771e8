import { median } from '../../signal/statistics.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, type Reading, refuse, roundTo4 } from '../reading.ts';
import { figures, frames as framesOf, ofLeg, percent } from '../../say/words.ts';
import { filledPlaces, knownShare, type PointTracks } from '../../motion/point-tracks.ts';

export const PAIR_DEFAULTS = Object.freeze({
  /** A pair is closed while its distance is within this share of its whole range from the smallest … */
  closed: 0.15,
  /** … and open again from this share on. */
  open: 0.85,
  /** It closes at all where it comes nearer than this share of its largest distance. */
  closes: 0.5,
});

/** A point known at less than this share of the frames, %: readings of it say so. */
export const SURE_ENOUGH = 80;

/** One time a pair closes: a blink, a mouth. Frames. */
export interface Closing {
  /** Label at which it begins to close. */
  readonly from: number;
  readonly closing: number;
  readonly closed: number;
  readonly opening: number;
}

export interface Lengths {
  readonly smallestAt: number;
  readonly largest: number;
  readonly largestAt: number;
  readonly closings: readonly Closing[];
}

const NEEDS_POINTS = 'points of a picture, named for it';
const NEEDS_SHAPE = 'four points of a picture, or a joint that is scaled';

const PAIR = describeReading({
  id: 'pair.length',
  holds: holding<number, Lengths>(),
  name: 'distance of two points',
  unit: '%L',
  needs: NEEDS_POINTS,
  kinds: [],
  mark: 'timing',

  say: ({ value, detail: { smallestAt, largest, largestAt, closings } }, part) => {
    const first = closings[0];
    const blink = first
      ? `; it closes ${closings.length === 1 ? 'once' : `${closings.length} times`}: closing ${framesOf(first.closing)}, closed ${framesOf(first.closed)}, opening ${framesOf(first.opening)}`
      : '';
    return `${part} are ${ofLeg(value)} apart at frame ${smallestAt} at least, ${ofLeg(largest)} at frame ${largestAt} at most${blink}`;
  },
});
const STRETCH = describeReading({
  id: 'shape.stretch',
  holds: holding<number, { least: number; leastAt: number; most: number; mostAt: number }>(),
  name: 'stretch',
  unit: 'ratio',
  needs: NEEDS_SHAPE,
  kinds: [],
  mark: 'note',

  say: ({ detail: { least, leastAt, most, mostAt } }, part) =>
    `${part} is ${figures(most, 3)} times its height over its width at frame ${mostAt} at most, ${figures(least, 3)} times at frame ${leastAt} at least`,
});
const VOLUME = describeReading({
  id: 'shape.volume',
  holds: holding<number, { at: number }>(),
  name: 'volume',
  unit: 'ratio',
  needs: NEEDS_SHAPE,
  kinds: [],
  mark: 'note',

  say: ({ value, detail: { at } }, part) =>
    Math.abs(value - 1) < 0.005
      ? `${part} keeps its volume`
      : `${part} ${value > 1 ? 'swells to' : 'shrinks to'} ${percent(100 * value)} of its volume at frame ${at}`,
});
const KNOWN = describeReading({
  id: 'track.sure',
  holds: holding<number>(),
  name: 'surely followed',
  unit: '%',
  needs: 'points followed on a picture',
  kinds: [],
  mark: 'note',
  ofShot: true,
  say: ({ value }, part) => `${part} is known at ${percent(value)} of the frames`,
});

export const PICTURE_READINGS = [PAIR, KNOWN] as const;
export const SHAPES = [STRETCH, VOLUME] as const;

/** Distances of two points of a track frame by frame, pixels; a name that no point has is told. */
function distances(tracks: PointTracks, a: string, b: string): Float64Array | string {
  const [from, to] = [a, b].map((name) => tracks.points.find((point) => point.name === name));
  if (!from || !to) return `there is no point called “${from ? b : a}”`;
  const [p, q] = [filledPlaces(from), filledPlaces(to)];
  return Float64Array.from({ length: tracks.frames }, (_, f) =>
    Math.hypot(p[2 * f]! - q[2 * f]!, p[2 * f + 1]! - q[2 * f + 1]!),
  );
}

const extremeAt = (values: Float64Array, sign: 1 | -1): number =>
  values.reduce((best, value, f) => (sign * value > sign * values[best]! ? f : best), 0);

/**
 * `pair.length`: the smallest distance of two points; its detail the largest, both frames, and each time the pair closes: frames in which it
 * goes from open to closed, stays closed, and opens again (a blink: 3, 3 and 3, *common practice*).
 *
 * @param legLength L in pixels
 * @param pair names of the two points
 */
export function measurePair(tracks: PointTracks, legLength: number, [a, b]: readonly [string, string]): Measured {
  const part = `${a}, ${b}`;
  const lengths = distances(tracks, a, b);
  if (typeof lengths === 'string') return refuse([PAIR], lengths, part);
  const [low, high] = [extremeAt(lengths, -1), extremeAt(lengths, 1)];
  const label = (f: number): number => tracks.firstFrame + f;
  const detail = {
    smallestAt: label(low),
    largest: roundTo4((100 * lengths[high]!) / legLength),
    largestAt: label(high),
    closings: closingsOf(lengths, label),
  };
  return made(PAIR.of(roundTo4((100 * lengths[low]!) / legLength), { part, frames: [label(low)], detail }));
}

/** Each time two points of a track come together; none where one of them is not there. */
export function closingsOfPair(tracks: PointTracks, [a, b]: readonly [string, string]): Closing[] {
  const lengths = distances(tracks, a, b);
  return typeof lengths === 'string' ? [] : closingsOf(lengths, (f) => tracks.firstFrame + f);
}

/**
 * Each time something closes.
 *
 * @param lengths how far open it is at each sample, in any unit
 */
export function closingsOf(lengths: Float64Array, label: (f: number) => number): Closing[] {
  const { closed, open, closes } = PAIR_DEFAULTS;
  const [least, most] = [Math.min(...lengths), Math.max(...lengths)];
  if (!(least < closes * most)) return [];
  const shut = least + closed * (most - least);
  const wide = least + open * (most - least);
  const found: Closing[] = [];
  for (let f = 0; f < lengths.length; f++) {
    if (lengths[f]! > shut) continue;
    let [from, last] = [f, f];
    while (from > 0 && lengths[from]! < wide) from--;
    while (last + 1 < lengths.length && lengths[last + 1]! <= shut) last++;
    let to = last;
    while (to < lengths.length - 1 && lengths[to]! < wide) to++;
    found.push({ from: label(from), closing: f - from, closed: last - f + 1, opening: to - last });
    f = to;
  }
  return found;
}

/**
 * `shape.stretch`: height over width of a shape given by four points, over what they are at rest (the median of the shot); of all frames the
 * one farthest from 1. `shape.volume`: height × width over rest, farthest from 1: 1 is kept.
 *
 * @param shape names of its top, bottom, left and right
 */
export function measureShape(
  tracks: PointTracks,
  [top, bottom, left, right]: readonly [string, string, string, string],
): Measured {
  const part = [top, bottom, left, right].join(', ');
  const over = shapeOverRest(tracks, [top, bottom, left, right]);
  if (typeof over === 'string') return refuse([STRETCH, VOLUME], over, part);
  return made(...shapeReadings(part, over, (f) => tracks.firstFrame + f));
}

/** How a shape stretches, and whether it keeps its volume; of all frames those that are farthest from 1. */
export function shapeReadings(
  part: string,
  { stretch, volume }: ShapeOverRest,
  label: (f: number) => number,
): Reading[] {
  const [low, high] = [extremeAt(stretch, -1), extremeAt(stretch, 1)];
  const farthest = stretch[high]! * stretch[low]! >= 1 ? high : low;
  const off = extremeAt(
    volume.map((value) => Math.abs(Math.log(Math.max(1e-9, value)))),
    1,
  );
  return [
    STRETCH.of(roundTo4(stretch[farthest]!), {
      part,
      frames: [label(farthest)],
      detail: {
        least: roundTo4(stretch[low]!),
        leastAt: label(low),
        most: roundTo4(stretch[high]!),
        mostAt: label(high),
      },
    }),
    VOLUME.of(roundTo4(volume[off]!), { part, frames: [label(off)], detail: { at: label(off) } }),
  ];
}

/** Of a shape, frame by frame over what it is at rest: height over width, and height × width (× depth). */
export interface ShapeOverRest {
  readonly stretch: Float64Array;
  readonly volume: Float64Array;
}

/** Distance of two points frame by frame, % of a leg; or why it can't be told. */
export function pairLengths(
  tracks: PointTracks,
  legLength: number,
  [a, b]: readonly [string, string],
): Float64Array | string {
  const lengths = distances(tracks, a, b);
  return typeof lengths === 'string' ? lengths : lengths.map((length) => (100 * length) / legLength);
}

/**
 * Height over width, and height × width, of a shape frame by frame, over what they are at rest: the median of the shot. Or why it can't be told.
 *
 * @param shape names of its top, bottom, left and right
 */
export function shapeOverRest(
  tracks: PointTracks,
  [top, bottom, left, right]: readonly [string, string, string, string],
): ShapeOverRest | string {
  const height = distances(tracks, top, bottom);
  const width = distances(tracks, left, right);
  if (typeof height === 'string') return height;
  if (typeof width === 'string') return width;
  if (!(median(height) > 1e-9 && median(width) > 1e-9)) return 'the shape has no height or no width';
  const over = (values: Float64Array): Float64Array => {
    const rest = median(values);
    return values.map((value) => value / rest);
  };
  return {
    stretch: over(height.map((value, f) => value / Math.max(1e-9, width[f]!))),
    volume: over(height.map((value, f) => value * width[f]!)),
  };
}

/** `track.sure` of every point: the share of frames at which it was placed by hand or surely followed. */
export const measureSureness = ({ points }: PointTracks): Reading[] =>
  points.map((point) => KNOWN.of(roundTo4(100 * knownShare(point)), { part: point.name }));
