import { type ChildProcessWithoutNullStreams, spawn } from 'node:child_process';
import { once } from 'node:events';
import type { Writable } from 'node:stream';
import sharp from 'sharp';
import { wobble } from './pencil.ts';
import type { DrawnShot } from './drawn-shots.ts';
import type { DrawnSound } from './footsteps.ts';

export interface EncodeOptions {
  /** Codec and quality, as ffmpeg is told them. */
  readonly args: readonly string[];
  /** Grain of the film, standard deviation of 0…255. */
  readonly grain?: number;
  readonly sound?: DrawnSound;
}

/** Codecs by the format that is wanted. */
export const CODECS: Readonly<Record<'webm' | 'mp4' | 'gif', readonly string[]>> = {
  webm: [
    '-c:v',
    'libvpx-vp9',
    '-crf',
    '24',
    '-b:v',
    '0',
    '-deadline',
    'realtime',
    '-cpu-used',
    '6',
    '-pix_fmt',
    'yuv420p',
  ],
  mp4: ['-c:v', 'libx264', '-crf', '20', '-preset', 'veryfast', '-pix_fmt', 'yuv420p', '-movflags', '+faststart'],
  gif: [],
};

/** A drawing's pixels: red, green, blue. */
export const rendered = (svg: string): Promise<Buffer> =>
  sharp(Buffer.from(svg)).flatten().removeAlpha().raw().toBuffer();

/** Draws a shot and encodes it by ffmpeg. */
export async function encodeShot(
  shot: DrawnShot,
  to: string,
  { args, grain = 0, sound }: EncodeOptions,
): Promise<void> {
  const { width, height, fps, frames } = shot;
  const child = spawn(
    'ffmpeg',
    [
      ...[
        '-hide_banner',
        '-loglevel',
        'error',
        '-y',
        '-f',
        'rawvideo',
        '-pix_fmt',
        'rgb24',
        '-s',
        `${width}x${height}`,
      ],
      ...['-r', String(fps), '-i', 'pipe:0'],
      ...(sound ? ['-f', 'f32le', '-ar', String(sound.rate), '-ac', '1', '-i', 'pipe:3'] : []),
      ...[...args, '-map_metadata', '-1', '-fflags', '+bitexact', to],
    ],
    { stdio: ['pipe', 'ignore', 'pipe', 'pipe'] },
  ) as ChildProcessWithoutNullStreams;
  const heard = child.stdio[3] as Writable;
  // A codec that wants none of it goes away before it has all.
  heard.on('error', () => undefined);
  if (sound) heard.end(new Uint8Array(sound.samples.buffer));
  else heard.end();
  let said = '';
  child.stderr.on('data', (chunk) => (said += String(chunk)));
  const ended = once(child, 'close') as Promise<[number]>;
  let before: { svg: string; pixels: Buffer } | undefined;
  for (let frame = 0; frame < frames; frame++) {
    const svg = shot.svg(frame);
    if (before?.svg !== svg) before = { svg, pixels: await rendered(svg) };
    const own = grain > 0 ? grained(before.pixels, grain, frame) : before.pixels;
    if (!child.stdin.write(own)) await Promise.race([once(child.stdin, 'drain'), ended]);
  }
  child.stdin.end();
  const [code] = await ended;
  if (code !== 0) throw new Error(`ffmpeg could not encode ${to}: ${said}`);
}

/** Grain that is laid over pictures, each time from another place of it: 65,536 numbers, the sum of three even ones, near enough to a bell. */
const GRAIN = ((): Float32Array => {
  const hand = wobble(1000);
  return Float32Array.from({ length: 1 << 16 }, () => hand() + hand() + hand());
})();

function grained(pixels: Buffer, grain: number, frame: number): Buffer {
  const hand = wobble(frame);
  const out = Buffer.allocUnsafe(pixels.length);
  let at = 0;
  for (let k = 0; k < pixels.length; k += 3) {
    if (k % 4095 === 0) at = ((hand() + 1) * (1 << 15)) & 0xffff;
    const noise = grain * GRAIN[(at + k / 3) & 0xffff]!;
    for (let c = 0; c < 3; c++) {
      const value = pixels[k + c]! + noise;
      out[k + c] = value < 0 ? 0 : value > 255 ? 255 : value;
    }
  }
  return out;
}
