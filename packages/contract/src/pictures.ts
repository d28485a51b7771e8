import { z } from 'zod';
import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import type { PictureFacts } from '@ypsigraph/core/track/picture-shot';
import type { MeasuringBrief, MeasuringRevision } from './shot-options.ts';
import { plain } from './vocabulary.ts';

/** Largest clip that is taken in: 512 MB. */
export const MAX_CLIP_BYTES = 512 * 1024 * 1024;
/** Points, and places of all of them together, that one revision may have. */
export const MOST_POINTS = 60;
const MOST_PLACES = 120_000;

const Sample = z.number().int().min(0).max(100_000);
const Pixel = z.number().min(-20_000).max(40_000);
const PointName = plain(80).trim().min(1, 'a point needs a name');
const Span = z.object({ from: Sample, to: Sample }).refine(({ from, to }) => from <= to, 'it ends before it begins');
const Size = z.object({ width: z.number().int(), height: z.number().int() });

/** A point with the places it is known at: sample, x, y (down, from the upper left, in pixels), how surely (1: by hand). */
export const FollowedPoint = z.object({
  name: PointName,
  places: z.array(z.tuple([Sample, Pixel, Pixel, z.number().min(0).max(1)])).max(100_000),
});
export type FollowedPoint = z.infer<typeof FollowedPoint>;

const together = z.object({
  points: z.array(FollowedPoint).max(MOST_POINTS, `at most ${MOST_POINTS} points`),
  /** Points on things that stand still. */
  still: z.array(PointName).max(8),
  pairs: z.array(z.tuple([PointName, PointName])).max(40),
  /** Top, bottom, left and right of each. */
  shapes: z.array(z.tuple([PointName, PointName, PointName, PointName])).max(20),
  /** Points in a row, upper end first: a tail, a rope, a hat. */
  chains: z.array(z.array(PointName).min(3, 'a row has three points or more').max(30)).max(12).default([]),
  /** The ground's line: two places in pixels. */
  ground: z.tuple([Pixel, Pixel, Pixel, Pixel]).nullable(),
  /** Exposures as they were corrected by hand. */
  exposures: z.array(Span).max(30_000).nullable(),
});

/** What has been put on a revision's pictures, and which version of it this is. */
export const Tracks = together.extend({ version: z.number().int().min(0) });
export type Tracks = z.infer<typeof Tracks>;

/** New tracks in place of the version they were made from. */
export const NewTracks = Tracks.superRefine(({ points, exposures }, context) => {
  const wrong = (message: string): void => context.addIssue({ code: 'custom', message, path: ['points'] });
  const names = new Set(points.map(({ name }) => name));
  if (names.size < points.length) wrong('two points have one name');
  if (points.reduce((sum, { places }) => sum + places.length, 0) > MOST_PLACES) wrong('too many places of points');
  for (const { name, places } of points)
    if (places.some(([at], k) => k > 0 && at <= places[k - 1]![0]))
      wrong(`the places of “${name}” are not in the order of frames`);
  if (exposures?.some(({ from }, k) => from !== (exposures[k - 1]?.to ?? -1) + 1))
    context.addIssue({ code: 'custom', message: 'the exposures leave frames out', path: ['exposures'] });
});

/** What is known of a clip's sound: times in seconds from where its first frame begins. */
export const Sound = z.object({
  /** Where in the kept sound the first frame begins. */
  startsAt: z.number(),
  seconds: z.number(),
  /** How loud it gets, 0 to 255, in each hundredth of a second. */
  peaks: z.array(z.number().int()),
  /** Where something begins to sound. */
  onsets: z.array(z.number()),
});
export type Sound = z.infer<typeof Sound>;

/** What is known of a clip once it has been read: how its frames are stored, and what they are. */
export const Pictures = z.object({
  format: z.string(),
  fps: z.number(),
  frames: z.number().int(),
  /** In the file's own pixels, upright: what places of points are told in. */
  width: z.number().int(),
  height: z.number().int(),
  shown: Size,
  small: Size,
  /** For each frame the stored picture that is seen at it. */
  pictures: z.array(z.number().int()),
  /** Bytes of each stored picture, shown and small. */
  sizes: z.array(z.number().int()),
  smallSizes: z.array(z.number().int()),
  exposures: z.array(Span),
  sound: Sound.optional(),
  warnings: z.array(z.string()),
});
export type Pictures = z.infer<typeof Pictures>;

/** Formats that name no rate of their own: their frames run at the exercise's. */
export const UNTIMED = 'drawings';

/** What is measured of pictures; drawings, which name no rate, run at the exercise's. */
export const pictureFacts = (
  { format, fps, frames, width, height, exposures }: Pictures,
  brief: Pick<MeasuringBrief, 'fps'>,
): PictureFacts => ({ fps: format === UNTIMED ? brief.fps : fps, frames, width, height, exposures });

/**
 * How a picture shot is measured: from its brief and its revision. Its own rate rules: a frame of it is a frame of the file.
 */
export const pictureOptions = (
  { kind, alsoKinds, fps, ground, groups, plan }: MeasuringBrief,
  { firstFrame, loop }: MeasuringRevision,
): Pick<ShotOptions, 'kind' | 'alsoKinds' | 'fps' | 'ground' | 'groups' | 'plan' | 'firstFrame' | 'loop'> => ({
  kind,
  alsoKinds,
  fps,
  ground,
  groups,
  plan,
  firstFrame,
  loop,
});
