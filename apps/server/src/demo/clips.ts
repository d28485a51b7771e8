import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FollowedPoint, Tracks } from '@ypsigraph/contract/pictures';
import { type DrawnShot, figureShot, type FigureShotOptions, sackShot } from '@ypsigraph/pictures/drawn/drawn-shots';
import { CODECS, encodeShot } from '@ypsigraph/pictures/drawn/encode-shot';
import { footsteps } from '@ypsigraph/pictures/drawn/footsteps';

/** A revision that was handed in as a clip, drawn by ourselves. */
export interface ClipSeed {
  readonly figure?: FigureShotOptions;
  /** The mail sack, and how much of its volume a squash keeps. */
  readonly sack?: { readonly keeps: number };
  readonly format: keyof typeof CODECS;
  readonly grain?: number;
  /** Frames, counted from 0, at which a step is heard. */
  readonly steps?: readonly number[];
  /** Points that somebody has put on it already, by their names. */
  readonly points?: readonly string[];
  readonly still?: readonly string[];
  readonly shapes?: Tracks['shapes'];
}

/** A hand has placed the points at each so many frames; between them they were followed. */
const BY_HAND = 8;
const FOLLOWED = 0.94;

/** Draws a clip and encodes it. */
export async function drawClip({
  figure,
  sack,
  format,
  grain = 0,
  steps,
}: ClipSeed): Promise<{ shot: DrawnShot; bytes: Buffer }> {
  const shot = figure ? figureShot(figure) : sackShot(sack);
  const folder = await mkdtemp(join(tmpdir(), 'ypsigraph-drawn-'));
  try {
    const path = join(folder, `clip.${format}`);
    const sound = steps && { sound: footsteps(steps, shot) };
    await encodeShot(shot, path, { args: CODECS[format], grain, ...sound });
    return { shot, bytes: await readFile(path) };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** The points of a clip as they would have been followed. */
export const clipTracks = (
  shot: DrawnShot,
  { points = [], still = [], shapes = [] }: ClipSeed,
): Omit<Tracks, 'version'> => ({
  points: points.map((name) => ({
    name,
    places: Array.from({ length: shot.frames }, (_, f): FollowedPoint['places'][number] => {
      const [x, y] = shot.points(f)[name]!;
      return [f, round(x), round(y), f % BY_HAND === 0 ? 1 : FOLLOWED];
    }),
  })),
  still: [...still],
  pairs: [],
  shapes,
  chains: [],
  ground: null,
  exposures: null,
});

const round = (value: number): number => Math.round(100 * value) / 100;

/** Points that are seen throughout on a figure from its right side. */
export const NEAR_SIDE = ['hips', 'head', 'hat tip', 'elbow.R', 'hand.R', 'knee.R', 'ankle.R', 'toe.R'];
/** Both feet, for what the ground tells of them. */
export const WHOLE = [...NEAR_SIDE, 'chest', 'hand.L', 'knee.L', 'ankle.L', 'toe.L'];
