// The sound of a clip: put in at known frames here, encoded by ffmpeg, and found again on the frames that are seen with it.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { SOUND } from '@ypsigraph/pictures/clip-index';
import { readClip } from '@ypsigraph/pictures/read-clip';
import { clipFolder, encode, numbered } from './clips.ts';

const clips = clipFolder();
afterAll(clips.end);

const RATE = 48_000;
const FPS = 24;
const pictures = (count: number) => Array.from({ length: count }, (_, k) => numbered(k));

/** Steps on boards at some frames, as a file of raw samples. */
function steps(name: string, frames: readonly number[], seconds: number): string {
  const samples = new Float32Array(Math.round(seconds * RATE));
  for (const frame of frames) {
    const from = Math.round((frame / FPS) * RATE);
    for (let n = 0; n < 0.1 * RATE && from + n < samples.length; n++)
      samples[from + n] = 0.7 * Math.exp(-n / (0.02 * RATE)) * Math.sin(1.7 * n + 0.01 * n * n);
  }
  const path = clips.path(`${name}.f32`);
  writeFileSync(path, new Uint8Array(samples.buffer));
  return path;
}

function ffmpeg(...args: readonly string[]): void {
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...args]);
  if (status !== 0) throw new Error(String(stderr));
}

/** A clip of 24 numbered pictures with a sound; `later`: so many seconds later than the pictures. */
function withSound(name: string, sound: string, codec: readonly string[], later = 0): string {
  const silent = encode(clips.path(`silent-${name}`), pictures(24), {
    args: name.endsWith('.webm') ? ['-c:v', 'libvpx', '-b:v', '1M'] : ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'],
  });
  const heard = ['-f', 'f32le', '-ar', String(RATE), '-ac', '1', '-i', sound];
  ffmpeg('-i', silent, '-itsoffset', String(later), ...heard, '-c:v', 'copy', ...codec, clips.path(name));
  return clips.path(name);
}

async function read(path: string) {
  const folder = `${path}-read`;
  mkdirSync(folder);
  return { folder, index: await readClip(path, { folder, fileName: path.split('/').at(-1)!, fps: FPS }) };
}

/** Onsets lie on their frames: to a third of one, since what is encoded smears a beginning. */
function expectOn(onsets: readonly number[] | undefined, frames: readonly number[]): void {
  expect(onsets).toHaveLength(frames.length);
  frames.forEach((frame, k) => expect(Math.abs(onsets![k]! * FPS - frame)).toBeLessThan(1 / 3));
}

test.each([
  ['opus.webm', ['-c:a', 'libopus']],
  ['vorbis.webm', ['-c:a', 'libvorbis']],
  ['aac.mp4', ['-c:a', 'aac']],
  ['pcm.mov', ['-c:a', 'pcm_s16le']],
])('steps are heard on the frames they were put at: %s', async (name, codec) => {
  const frames = [3, 9, 15, 21];
  const { folder, index } = await read(withSound(name, steps(name, frames, 1), codec));
  expect(index.frames).toBe(24);
  expect(index.warnings).toEqual([]);
  expectOn(index.sound?.onsets, frames);
  expect(index.sound!.seconds).toBeGreaterThan(0.95);
  expect(index.sound!.peaks.length).toBeGreaterThanOrEqual(95);
  // Between the steps it is silent, on them it is loud.
  expect(Math.max(...index.sound!.peaks.slice(0, 11))).toBeLessThan(12);
  expect(Math.max(...index.sound!.peaks.slice(12, 16))).toBeGreaterThan(100);
  // What is kept is Opus in WebM, and as long.
  const { stdout } = spawnSync('ffprobe', [
    ...['-v', 'error', '-show_entries', 'stream=codec_name:format=duration', '-of', 'csv=p=0'],
    `${folder}/${SOUND}`,
  ]);
  const [codecName, duration] = String(stdout).trim().split('\n');
  expect(codecName).toBe('opus');
  expect(Math.abs(Number(duration) - 1)).toBeLessThan(0.1);
});

test('a sound that begins later than the pictures, and one that goes on behind them, change nothing of the frames', async () => {
  const late = await read(withSound('late.mp4', steps('late', [2, 8], 0.5), ['-c:a', 'aac'], 0.25));
  expect(late.index.frames).toBe(24);
  expectOn(late.index.sound?.onsets, [8, 14]);
  for (const name of ['long.webm', 'long.mp4']) {
    const codec = name.endsWith('webm') ? ['-c:a', 'libopus'] : ['-c:a', 'aac'];
    const { index } = await read(withSound(name, steps(name, [6, 60], 3), codec));
    expect(index.frames).toBe(24);
    expect(index.warnings).toEqual([]);
    expectOn(index.sound?.onsets, [6, 60]);
  }
});

test('a clip without a sound has none, and of one whose sound is broken the pictures are read, and it is said', async () => {
  const silent = await read(encode(clips.path('none.webm'), pictures(6), { args: ['-c:v', 'libvpx', '-b:v', '1M'] }));
  expect(silent.index.sound).toBeUndefined();
  const path = withSound('broken.mov', steps('broken', [3], 1), ['-c:a', 'pcm_s16le']);
  const { index } = await read(path);
  expect(index.sound).toBeDefined();
  const bytes = readFileSync(path);
  // The name of its sound's coding becomes one that nobody knows.
  bytes.set(Buffer.from('zzzz'), bytes.indexOf('sowt'));
  writeFileSync(clips.path('unknown.mov'), bytes);
  const unknown = await read(clips.path('unknown.mov'));
  expect(unknown.index.frames).toBe(24);
  expect(unknown.index.sound).toBeUndefined();
  expect(unknown.index.warnings).toEqual([expect.stringMatching(/sound can’t be read/)]);
});
