// The sound of a clip: put in at known frames here, encoded by ffmpeg, and found again on the frames that are seen with it.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { checkClip } from '@ypsigraph/pictures/check-clip';
import { SOUND } from '@ypsigraph/pictures/clip-index';
import { readClip } from '@ypsigraph/pictures/read-clip';
import { clipFolder, encode, numbered } from './clips.ts';
import { addSteps } from './sounding.ts';

const clips = clipFolder();
afterAll(clips.end);

const FPS = 24;
const pictures = (count: number) => Array.from({ length: count }, (_, k) => numbered(k));

/** Clips of 24 numbered pictures that are silent, by their ending. */
const SILENT = new Map<string, string>();
function silent(ending: string): string {
  const args = ending === 'webm' ? ['-c:v', 'libvpx', '-b:v', '1M'] : ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'];
  const known = SILENT.get(ending) ?? encode(clips.path(`silent.${ending}`), pictures(24), { args });
  SILENT.set(ending, known);
  return known;
}

/** A clip of 24 numbered pictures in which steps are heard. */
const withSteps = (name: string, steps: readonly number[], asked: Omit<Parameters<typeof addSteps>[2], 'to'>): string =>
  addSteps(silent(name.split('.').at(-1)!), steps, { to: clips.path(name), ...asked });

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

describe('a sound alone', () => {
  /** Steps as a sound without pictures. */
  const stepsAs = (name: string, steps: readonly number[], codec: readonly string[]): string => {
    const clip = withSteps(`of-${name}.mov`, steps, { codec: ['-c:a', 'pcm_s16le'] });
    const { status } = spawnSync('ffmpeg', ['-v', 'error', '-y', '-i', clip, '-vn', ...codec, clips.path(name)]);
    expect(status).toBe(0);
    return clips.path(name);
  };
  const readAlone = async (path: string) => {
    const folder = `${path}-read`;
    mkdirSync(folder);
    return readClip(path, { folder, fileName: path.split('/').at(-1)!, fps: FPS, soundAlone: true });
  };

  test.each([
    ['steps.wav', 'WAV', []],
    ['steps.mp3', 'MP3', ['-c:a', 'libmp3lame']],
    ['steps.ogg', 'Ogg', ['-c:a', 'libvorbis']],
    ['steps.opus', 'Ogg', ['-c:a', 'libopus']],
    ['steps.m4a', 'M4A', ['-c:a', 'aac']],
    ['steps.flac', 'FLAC', []],
    // Files of clips in which nothing is seen.
    ['only-heard.webm', 'WebM', ['-c:a', 'libopus']],
    ['only-heard.mp4', 'MP4', ['-c:a', 'aac']],
  ])('is a clip of no frames, heard where it was put: %s', async (name, format, codec) => {
    const path = stepsAs(name, [4, 12, 20], codec);
    expect(await checkClip(path, name)).toMatchObject({ reader: 'sound', name: format });
    const index = await readAlone(path);
    expect(index).toMatchObject({ format, frames: 0, pictures: [], sizes: [] });
    expectOn(index.sound?.onsets, [4, 12, 20]);
  });

  test('is no clip for whoever wants to see something, and one that is none is told so', async () => {
    const path = stepsAs('alone.wav', [4], []);
    await expect(read(path)).rejects.toThrow('it is a sound (WAV)');
    const cut = clips.path('cut.wav');
    writeFileSync(cut, readFileSync(path).subarray(0, 30));
    await expect(checkClip(cut, 'cut.wav')).rejects.toThrow(/can't be read as WAV|no sound in it/);
    const text = clips.path('text.mp3');
    writeFileSync(text, 'file:///etc/passwd');
    await expect(checkClip(text, 'text.mp3')).rejects.toThrow('it is called .mp3, but no such sound is in it');
    const long = clips.path('long.wav');
    spawnSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'anullsrc=r=8000', '-t', '400', long]);
    await expect(checkClip(long, 'long.wav')).rejects.toThrow('it is 400 seconds long');
  });
});
