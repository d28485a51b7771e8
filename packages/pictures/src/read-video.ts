import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { type Difference, differenceOf } from '@ypsigraph/core/track/camera-shift';
import type { Luma } from '@ypsigraph/core/track/luma';
import { CLIP_LIMITS, ClipError } from './clip-error.ts';
import { type ClipFolder, PACK, type ReadPictures, SMALL_PACK } from './clip-index.ts';
import type { ClipType } from './clip-type.ts';
import { PackWriter } from './picture-pack.ts';
import { openAs, probe, refuseLength } from './probe.ts';
import { readSound } from './read-sound.ts';
import { runTool } from './run-tool.ts';
import { comparedSize, shownSize, smallSize, type Size } from './shown-size.ts';

/** Pictures that are decoded at most. */
const MOST = CLIP_LIMITS.seconds * CLIP_LIMITS.fps;

/**
 * Decodes a clip once, by ffmpeg: every picture of it, none dropped and none doubled, as it is shown, small, and in grey to be compared.
 * @throws ClipError where nothing can be decoded, or more is there than may be
 */
export async function readVideo(
  path: string,
  type: ClipType,
  { folder, side, onProgress }: ClipFolder,
): Promise<ReadPictures> {
  const found = await probe(path, type, true);
  const own: Size = { width: found.width, height: found.height };
  const expected = Math.round(found.seconds * found.rate);
  const shown = side ? shownWithin(own, side) : shownSize(own, expected);
  const small = smallSize(own);
  const compared = comparedSize(own);
  const [big, little] = [join(folder, 'big'), join(folder, 'little')];
  await Promise.all([mkdir(big), mkdir(little)]);
  const times: number[] = [];
  const wrong: string[] = [];
  const changes: Difference[] = [];
  const code = await runTool('ffmpeg', decode(path, type, { shown, small, compared, big, little, found }), {
    onLine: (line) => {
      const time = /\[Parsed_showinfo.*\] n: *\d+ pts: *\S+ pts_time: *([-+\d.e]+)/.exec(line);
      if (time) {
        times.push(Number(time[1]));
        onProgress?.(Math.min(1, times.length / found.pictures));
      } else if (/\[error\]|\[fatal\]/.test(line) && wrong.length < 20) wrong.push(line);
    },
    onOutput: (output) => compare(output, compared, changes),
  });
  const files = (await readdir(big)).sort();
  const count = Math.min(files.length, times.length, changes.length + 1);
  if (files.length === 0 || count === 0)
    throw new ClipError('no picture in it can be decoded: it is broken, or cut off; export it again');
  if (files.length > MOST)
    throw new ClipError(`it has more than ${MOST} pictures: hand in the part the exercise is about`);
  refuseLength(times[count - 1]! - times[0]!);
  const [pack, smallPack] = [await PackWriter.at(join(folder, PACK)), await PackWriter.at(join(folder, SMALL_PACK))];
  for (const name of files.slice(0, count)) {
    await pack.take(join(big, name));
    await smallPack.take(join(little, name));
  }
  await Promise.all([pack.end(), smallPack.end()]);
  await Promise.all([big, little].map((own) => rm(own, { recursive: true, force: true })));
  const warnings: string[] = [];
  const cutOff = expected > 1 && count < expected - Math.max(1, 0.02 * expected);
  if (cutOff && (wrong.length > 0 || code !== 0 || type.demuxer !== 'gif'))
    warnings.push(
      `The clip breaks off: ${count} of about ${expected} frames could be read. Hand it in again if the end is missing.`,
    );
  else if (wrong.length > 0 || code !== 0)
    warnings.push('Some pictures of the clip are damaged: what is seen there may not be what was drawn.');
  const sound = found.hasSound ? await readSound(path, type, { folder, begins: times[0]! }) : undefined;
  if (found.hasSound && !sound) warnings.push('Its sound can’t be read: the clip is shown without it.');
  return {
    own,
    shown,
    small,
    sizes: pack.sizes,
    smallSizes: smallPack.sizes,
    changes: changes.slice(0, count - 1),
    times: times.slice(0, count),
    tick: found.tick,
    ...(found.rate > 0 && { declared: found.rate }),
    ...(found.seconds > times[count - 1]! - times[0]! &&
      !cutOff && { last: found.seconds - (times[count - 1]! - times[0]!) }),
    ...(sound && { sound }),
    warnings,
  };
}

function shownWithin({ width, height }: Size, side: number): Size {
  const scale = Math.min(1, side / Math.max(width, height));
  return { width: Math.round(width * scale), height: Math.round(height * scale) };
}

interface Decoding {
  readonly shown: Size;
  readonly small: Size;
  readonly compared: Size;
  readonly big: string;
  readonly little: string;
  readonly found: { readonly transparent: boolean; readonly matrix: string };
}

/** Times are taken as the file has them: by itself ffmpeg takes hours between two pictures for a mistake and closes the gap. */
const AS_THEY_ARE = ['-dts_delta_threshold', '1000000000', '-dts_error_threshold', '1000000000'];

function decode(path: string, type: ClipType, { shown, small, compared, big, little, found }: Decoding): string[] {
  // What is transparent lies on white paper.
  const onPaper = found.transparent
    ? 'format=rgba,split[v][p];[p]lutrgb=r=255:g=255:b=255:a=255[w];[w][v]overlay=format=rgb,'
    : '';
  const matrix = found.matrix === 'named' ? '' : `in_color_matrix=${found.matrix}:`;
  const sized = ({ width, height }: Size): string =>
    `scale=${width}:${height}:flags=area:${matrix}out_color_matrix=bt601:out_range=full`;
  const graph =
    `[0:v:0]showinfo,${onPaper}split=3[a][b][c];[a]${sized(shown)},format=yuvj444p[big];` +
    `[b]${sized(small)},format=yuvj420p[little];[c]${sized(compared)},format=gray[grey]`;
  const jpeg = ['-fps_mode', 'passthrough', '-c:v', 'mjpeg', '-frames:v', String(MOST + 1)];
  return [
    ...['-hide_banner', '-nostdin', '-loglevel', 'level+info', '-nostats', '-threads', '2', ...AS_THEY_ARE],
    ...openAs(type, path),
    ...['-filter_complex', graph],
    ...['-map', '[big]', ...jpeg, '-q:v', '2', '-f', 'image2', join(big, '%06d.jpg')],
    ...['-map', '[little]', ...jpeg, '-q:v', '4', '-f', 'image2', join(little, '%06d.jpg')],
    ...['-map', '[grey]', '-fps_mode', 'passthrough', '-f', 'rawvideo', 'pipe:1'],
  ];
}

/** Compares each picture with the one before as they come. */
async function compare(output: Readable, { width, height }: Size, changes: Difference[]): Promise<void> {
  const bytes = width * height;
  let before: Luma | undefined;
  let pixels = new Uint8Array(bytes);
  let filled = 0;
  for await (const chunk of output as AsyncIterable<Uint8Array>) {
    let at = 0;
    while (at < chunk.length) {
      const taken = Math.min(bytes - filled, chunk.length - at);
      pixels.set(chunk.subarray(at, at + taken), filled);
      filled += taken;
      at += taken;
      if (filled < bytes) continue;
      const own = { width, height, pixels };
      if (before) changes.push(differenceOf(before, own, changes.at(-1)?.shift));
      before = own;
      pixels = new Uint8Array(bytes);
      filled = 0;
    }
  }
}
