import { mkdtemp, open, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Command, InvalidArgumentError } from 'commander';
import sharp from 'sharp';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { writePoints } from '@ypsigraph/core/formats/points/write-points';
import { PointFollower } from '@ypsigraph/core/track/follow-point';
import { patternOf } from '@ypsigraph/core/track/held-pictures';
import type { Luma } from '@ypsigraph/core/track/luma';
import { type FollowedPoint, type PlacedAt, pointTracks } from '@ypsigraph/core/track/picture-shot';
import { SURE } from '@ypsigraph/core/motion/point-tracks';
import { ClipError } from '@ypsigraph/pictures/clip-error';
import { type ClipIndex, PACK } from '@ypsigraph/pictures/clip-index';
import { readClip } from '@ypsigraph/pictures/read-clip';
import { positive, whole } from './open-shot.ts';
import type { Output } from './output.ts';
import { UsageError } from './usage-error.ts';

/** Rate of drawings that name none, frames a second. */
const RATE = 24;
/** Followed points are never as sure as a hand. */
const FOLLOWED_MOST = 0.99;

interface ClipOptions {
  readonly fps?: number;
  readonly firstFrame: number;
}

/** Reads a clip into a folder of its own, which is gone when the work is done. */
export async function withClip<T>(
  file: string,
  { fps = RATE, side }: { fps?: number | undefined; side?: number },
  work: (index: ClipIndex, pictureOf: (sample: number) => Promise<Luma>) => Promise<T>,
): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'ypsigraph-'));
  try {
    const index = await readClip(file, { folder, fileName: file, fps, ...(side && { side }) });
    const begins: number[] = [];
    index.sizes.reduce((at, size) => (begins.push(at), at + size), 0);
    const pack = await open(join(folder, PACK), 'r');
    try {
      const pictureOf = async (sample: number): Promise<Luma> => {
        const picture = index.pictures[sample]!;
        const bytes = Buffer.alloc(index.sizes[picture]!);
        await pack.read(bytes, 0, bytes.length, begins[picture]);
        const { data, info } = await sharp(bytes).greyscale().raw().toBuffer({ resolveWithObject: true });
        return { width: info.width, height: info.height, pixels: new Uint8Array(data) };
      };
      return await work(index, pictureOf);
    } finally {
      await pack.close();
    }
  } catch (error) {
    // Said as of any file that can't be read.
    if (error instanceof ClipError) throw new FormatError(`${file}: ${error.message}`);
    throw error;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** `ypsigraph exposures CLIP`. */
export const exposuresCommand = (output: Output): Command =>
  new Command('exposures')
    .description('say how long each drawing of a clip stands')
    .argument('<clip>', 'a clip (WebM, MP4, MOV, GIF, APNG, WebP), or a zip of numbered drawings')
    .option('--fps <n>', 'frames a second, of drawings that name none themselves (default: 24)', positive)
    .option('--first-frame <n>', 'label of the first frame', whole, 1)
    .option('--json', 'print one JSON object')
    .action(async (file: string, options: ClipOptions & { json?: boolean }) => {
      await withClip(file, options, async ({ frames, fps, width, height, exposures, warnings }) => {
        const first = options.firstFrame;
        const labelled = exposures.map(({ from, to }) => ({ from: first + from, to: first + to }));
        const pattern = patternOf(exposures);
        for (const warning of warnings) output.err(`${warning}\n`);
        if (options.json)
          return output.out(`${JSON.stringify({ frames, fps, width, height, exposures: labelled, pattern })}\n`);
        const rate = Number(fps.toFixed(3));
        const how =
          pattern === 'mixed' ? 'of unequal lengths' : pattern === 'still' ? 'all one drawing' : `on ${pattern}`;
        output.out(
          `${frames} frames at ${rate} a second, ${width} × ${height}: ${exposures.length} drawings, ${how}\n`,
        );
        for (const { from, to } of labelled)
          output.out(from === to ? `${from}\n` : `${from}–${to}  (${to - from + 1} frames)\n`);
      });
    });

interface FollowOptions extends ClipOptions {
  readonly at: number;
  readonly point: readonly { readonly name: string; readonly x: number; readonly y: number }[];
  readonly from?: number;
  readonly to?: number;
  readonly output: string;
}

/** `ypsigraph follow CLIP`. */
export const followCommand = (output: Output): Command =>
  new Command('follow')
    .description(
      'follow points through a clip, on and back from the frame they are given at, and write them as a table',
    )
    .argument('<clip>', 'a clip (WebM, MP4, MOV, GIF, APNG, WebP), or a zip of numbered drawings')
    .requiredOption('--at <label>', 'the frame at which the points are where they are said to be', whole)
    .requiredOption(
      '--point <name=x,y...>',
      'a point, in pixels from the upper left corner (several may be given)',
      placed,
      [],
    )
    .option('--from <label>', 'first frame it is followed back to', whole)
    .option('--to <label>', 'last frame it is followed on to', whole)
    .option('--fps <n>', 'frames a second, of drawings that name none themselves (default: 24)', positive)
    .option('--first-frame <n>', 'label of the first frame', whole, 1)
    .requiredOption('-o, --output <file>', 'where the table goes: CSV with the columns frame, point, x, y, sure')
    .action(async (file: string, options: FollowOptions) => {
      await withClip(file, { fps: options.fps, side: 4096 }, async (index, pictureOf) => {
        const first = options.firstFrame;
        const at = options.at - first;
        const from = Math.max(0, (options.from ?? first) - first);
        const to = Math.min(index.frames - 1, (options.to ?? first + index.frames - 1) - first);
        if (at < from || at > to)
          throw new UsageError(`frame ${options.at} is not within ${first + from} to ${first + to}`);
        const scale = index.shown.width / index.width;
        const points: FollowedPoint[] = [];
        for (const { name, x, y } of options.point) {
          if (x < 0 || y < 0 || x > index.width || y > index.height)
            throw new UsageError(`“${name}” lies outside the picture, which is ${index.width} × ${index.height}`);
          const places: PlacedAt[] = [[at, x, y, 1]];
          for (const direction of [1, -1] as const) {
            const follower = new PointFollower(await pictureOf(at), { x: x * scale, y: y * scale });
            if (!follower.hasSomething) {
              output.err(`there is nothing at “${name}” to hold on to\n`);
              break;
            }
            for (let sample = at + direction; sample >= from && sample <= to; sample += direction) {
              const found = follower.follow(await pictureOf(sample));
              if (found.confidence < SURE) {
                output.err(`“${name}” is lost at frame ${first + sample}\n`);
                break;
              }
              places.push([sample, found.x / scale, found.y / scale, Math.min(FOLLOWED_MOST, found.confidence)]);
            }
          }
          points.push({ name, places: places.sort((a, b) => a[0] - b[0]) });
        }
        for (const warning of index.warnings) output.err(`${warning}\n`);
        const facts = { fps: index.fps, frames: index.frames, width: index.width, height: 0, exposures: [] };
        await writeFile(options.output, writePoints(pointTracks(facts, points, first)));
        const known = points.map(({ name, places }) => `${name} ${places.length}`).join(', ');
        output.out(`${options.output}: ${known} of ${index.frames} frames\n`);
      });
    });

function placed(text: string, list: FollowOptions['point']): FollowOptions['point'] {
  const found = /^(.+)=(-?[\d.]+),(-?[\d.]+)$/.exec(text.trim());
  const [, name = '', x, y] = found ?? [];
  if (name.trim() === '' || !Number.isFinite(Number(x)) || !Number.isFinite(Number(y)))
    throw new InvalidArgumentError('expected NAME=X,Y');
  return [...list, { name: name.trim(), x: Number(x), y: Number(y) }];
}
