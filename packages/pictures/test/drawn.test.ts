import { mkdirSync, readFileSync } from 'node:fs';
import sharp from 'sharp';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { measureShot } from '@ypsigraph/core/measure/registry';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { PointFollower } from '@ypsigraph/core/track/follow-point';
import type { Luma } from '@ypsigraph/core/track/luma';
import { NO_TRACKS, type PlacedAt, reportPictures } from '@ypsigraph/core/track/picture-shot';
import { type ClipIndex, PACK } from '@ypsigraph/pictures/clip-index';
import { type DrawnShot, figureShot, sackShot } from '@ypsigraph/pictures/drawn/drawn-shots';
import { CODECS, encodeShot } from '@ypsigraph/pictures/drawn/encode-shot';
import { readClip } from '@ypsigraph/pictures/read-clip';
import { clipFolder } from './clips.ts';

const clips = clipFolder();
afterAll(clips.end);

/** A drawn shot as it comes out of its clip: what was read, and the brightness of each frame. */
async function filmed(
  shot: DrawnShot,
  name: string,
  format: 'webm' | 'mp4',
  grain = 0,
): Promise<{ index: ClipIndex; frames: Luma[] }> {
  const path = clips.path(`${name}.${format}`);
  await encodeShot(shot, path, { args: CODECS[format], grain });
  const folder = clips.path(name);
  mkdirSync(folder);
  const index = await readClip(path, { folder, fileName: `${name}.${format}`, fps: 24 });
  const pack = readFileSync(`${folder}/${PACK}`);
  const pictures: Luma[] = [];
  let at = 0;
  for (const size of index.sizes) {
    const grey = await sharp(pack.subarray(at, (at += size)))
      .greyscale()
      .raw()
      .toBuffer();
    pictures.push({ ...index.shown, pixels: new Uint8Array(grey) });
  }
  return { index, frames: index.pictures.map((picture) => pictures[picture]!) };
}

/** A point followed from the first frame: its places, and how far each is from where it was drawn. */
function followed(shot: DrawnShot, frames: readonly Luma[], name: string): { places: PlacedAt[]; errors: number[] } {
  const [x, y] = shot.points(0)[name]!;
  const follower = new PointFollower(frames[0]!, { x, y });
  const places: PlacedAt[] = [[0, x, y, 1]];
  const errors: number[] = [];
  for (let k = 1; k < frames.length; k++) {
    const found = follower.follow(frames[k]!);
    if (found.confidence < 0.5) break;
    const [tx, ty] = shot.points(k)[name]!;
    errors.push(Math.hypot(found.x - tx, found.y - ty));
    places.push([k, found.x, found.y, Math.min(0.99, found.confidence)]);
  }
  return { places, errors };
}

const percentile = (values: readonly number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.floor(share * (values.length - 1))]!;

/** Points of a figure that nothing comes in front of. */
const SEEN = ['head', 'hat tip', 'hand.R'];

describe('points of drawings, followed through a clip', () => {
  test('on clean pictures, and on grain and compression: within a part of a pixel of where they were drawn', async () => {
    for (const [name, grain, most] of [
      ['clean', 0, 1],
      ['grain', 6, 2],
    ] as const) {
      const shot = figureShot({ exemplar: 'walk', width: 960, height: 540, leg: 165 });
      const { frames } = await filmed(shot, `walk-${name}`, 'mp4', grain);
      const all = SEEN.map((point) => followed(shot, frames, point));
      // Nothing of it was lost on the way.
      for (const { errors } of all) expect(errors).toHaveLength(shot.frames - 1);
      expect(
        percentile(
          all.flatMap(({ errors }) => errors),
          0.95,
        ),
      ).toBeLessThan(most);
    }
  });

  test('on twos, behind a camera that goes along: drawings found by the pictures, things that stand still followed', async () => {
    const shot = figureShot({ exemplar: 'walk', on: 2, width: 960, height: 540, leg: 165 });
    const { index, frames } = await filmed(shot, 'twos', 'webm', 3);
    expect(index.exposures.map(({ from }) => from)).toEqual(Array.from({ length: 12 }, (_, k) => 2 * k));
    expect(percentile(followed(shot, frames, 'hat tip').errors, 0.95)).toBeLessThan(1);
    const panned = figureShot({ exemplar: 'walk', pan: 9, width: 960, height: 540, leg: 165 });
    const camera = await filmed(panned, 'pan', 'mp4');
    const still = followed(panned, camera.frames, 'bollard two');
    expect(still.errors).toHaveLength(panned.frames - 1);
    expect(percentile(still.errors, 0.95)).toBeLessThan(0.5);
  });

  // A drawing that is held while the camera goes on is one drawing; the camera goes by whole pixels, parts of one, and fast.
  test.each([
    ['walk', 2, 3, 'webm', 0],
    ['walk', 2, 20, 'webm', 4],
    ['run', 2, 12, 'mp4', 3],
    ['run', 3, 7.3, 'mp4', 3],
  ] as const)(
    'a %s on %is behind a camera that goes by %d pixels a frame, as %s with grain of %d',
    async (exemplar, on, pan, format, grain) => {
      const shot = figureShot({ exemplar, on, pan, width: 960, height: 540, leg: 165 });
      const { index } = await filmed(shot, `held-${exemplar}-${on}-${pan}-${grain}`, format, grain);
      const begins = Array.from({ length: Math.ceil(shot.frames / on) }, (_, k) => on * k);
      expect(index.exposures.map(({ from }) => from)).toEqual(begins);
    },
  );

  test('on ones behind a camera, and a thing that goes by before empty paper, have a drawing a frame', async () => {
    const walk = figureShot({ exemplar: 'walk', pan: 9, width: 960, height: 540, leg: 165 });
    expect((await filmed(walk, 'ones-panned', 'webm', 3)).index.exposures).toHaveLength(walk.frames);
    const sack = sackShot();
    expect((await filmed(sack, 'sack-ones', 'mp4')).index.exposures).toHaveLength(sack.frames);
  });

  test('a puppet of cut paper', async () => {
    const shot = figureShot({ exemplar: 'run', cutOut: true, width: 960, height: 540, leg: 165 });
    const { frames } = await filmed(shot, 'puppet', 'webm', 2);
    for (const point of ['head', 'hat tip']) {
      const { errors } = followed(shot, frames, point);
      expect(errors).toHaveLength(shot.frames - 1);
      expect(percentile(errors, 0.95)).toBeLessThan(1);
    }
  });
});

test('a walk is measured from its drawings as it is from its motion', async () => {
  const shot = figureShot({ exemplar: 'walk', width: 960, height: 540, leg: 165 });
  const { index, frames } = await filmed(shot, 'measured', 'mp4', 3);
  // What is hidden for a while is placed by hand, as somebody would.
  const points = Object.keys(shot.points(0)).map((name) => {
    const { places } = followed(shot, frames, name);
    const good = places.filter(([at, x, y]) => {
      const [tx, ty] = shot.points(at)[name]!;
      return SEEN.includes(name) || Math.hypot(x - tx, y - ty) < 1;
    });
    const known = new Set(good.map(([at]) => at));
    const byHand = frames.flatMap((_, at): PlacedAt[] => (known.has(at) ? [] : [[at, ...shot.points(at)[name]!, 1]]));
    return { name, places: [...good, ...byHand].sort((a, b) => a[0] - b[0]) };
  });
  const report = reportPictures(
    index,
    { ...NO_TRACKS, points },
    { kind: 'walk', loop: 'follow' },
    { file: '', format: '', warnings: [] },
  );
  const motion = measureShot(prepareShot(EXEMPLARS.walk!.make({}, {}), { kind: 'walk' }));
  const of = (list: readonly { id: string; value: unknown }[], id: string): number =>
    Number(list.find((own) => own.id === id)?.value);
  // In % of a leg, which is 165 pixels: a pixel is 0.6 %.
  const off = (id: string): number => Math.abs(of(report.readings, id) - of(motion.readings, id));
  expect(off('gait.bob')).toBeLessThan(0.8);
  // Two places a pixel off to either side.
  expect(off('gait.slide')).toBeLessThan(1.5);
  // A leg is as long as hips and ankle are apart on the picture, here 3 % longer than the figure's own.
  expect(off('gait.stepLength')).toBeLessThan(3);
  // A frame at each end, of 24.
  expect(off('gait.stance')).toBeLessThanOrEqual(100 * (2 / 24) + 0.01);
  expect(off('gait.opposition')).toBeLessThan(0.1);
});

test('the mail sack: where its volume is kept it is told to be, and where a squash gains a tenth of it too', () => {
  const volume = (keeps: number): number => {
    const shot = sackShot({ keeps });
    const points = ['top', 'bottom', 'left', 'right'].map((name) => ({
      name,
      places: Array.from({ length: shot.frames }, (_, f): PlacedAt => [f, ...shot.points(f)[name]!, 1]),
    }));
    const facts = {
      ...{ fps: 24, frames: shot.frames, width: shot.width, height: shot.height },
      exposures: Array.from({ length: shot.frames }, (_, k) => ({ from: k, to: k })),
    };
    const own = { ...NO_TRACKS, points, shapes: [['top', 'bottom', 'left', 'right'] as const] };
    const { readings } = reportPictures(facts, own, { kind: 'any' }, { file: '', format: '', warnings: [] });
    return Number(readings.find(({ id }) => id === 'shape.volume')!.value);
  };
  expect(volume(1)).toBeCloseTo(1, 6);
  // Squashed to 0.62 of its height it is 1.35 − 0.35 · 0.38 times wider than it should be there at most.
  expect(volume(1.35)).toBeGreaterThan(1.05);
  expect(volume(1.35)).toBeLessThan(1.35);
});
