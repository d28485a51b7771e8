// The sound of a clip: put in at known frames here, encoded by ffmpeg, and found again on the frames that are seen with it.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { SOUND } from '@ypsigraph/pictures/clip-index';
import { readClip } from '@ypsigraph/pictures/read-clip';
import { clipFolder, encode, numbered } from './clips.ts';
import { addSteps } from './sounding.ts';

const clips = clipFolder();
afterAll(clips.end);

const FPS = 24;
const pictures = (count: number) => Array.from({ length: count }, (_, k) => numbered(k));

/** A clip of 24 numbered pictures in which steps are heard. */
function withSteps(name: string, steps: readonly number[], asked: Omit<Parameters<typeof addSteps>[2], 'to'>): string {
  const args = name.endsWith('.webm') ? ['-c:v', 'libvpx', '-b:v', '1M'] : ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'];
  return addSteps(encode(clips.path(`silent-${name}`), pictures(24), { args }), steps, {
    to: clips.path(name),
    ...asked,
  });
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
  const { folder, index } = await read(withSteps(name, frames, { codec }));
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
  const late = await read(withSteps('late.mp4', [2, 8], { codec: ['-c:a', 'aac'], seconds: 0.5, later: 0.25 }));
  expect(late.index.frames).toBe(24);
  expectOn(late.index.sound?.onsets, [8, 14]);
  for (const name of ['long.webm', 'long.mp4']) {
    const codec = name.endsWith('webm') ? ['-c:a', 'libopus'] : ['-c:a', 'aac'];
    const { index } = await read(withSteps(name, [6, 60], { codec, seconds: 3 }));
    expect(index.frames).toBe(24);
    expect(index.warnings).toEqual([]);
    expectOn(index.sound?.onsets, [6, 60]);
  }
});

test('a clip without a sound has none, and of one whose sound is broken the pictures are read, and it is said', async () => {
  const silent = await read(encode(clips.path('none.webm'), pictures(6), { args: ['-c:v', 'libvpx', '-b:v', '1M'] }));
  expect(silent.index.sound).toBeUndefined();
  const path = withSteps('broken.mov', [3], { codec: ['-c:a', 'pcm_s16le'] });
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
