import { NO_TRACKS } from '@ypsigraph/core/track/picture-shot';
import { type Pictures, Tracks } from '@ypsigraph/contract/pictures';
import {
  addPoint,
  dropPoint,
  followedTo,
  liftPoint,
  placeOf,
  placePoint,
  renamePoint,
  samplesAhead,
} from '../src/desk/pictures/edit-points.ts';
import { PictureFrames } from '../src/desk/pictures/picture-frames.ts';

const EMPTY = Tracks.parse({ ...NO_TRACKS, version: 0 });
const places = (tracks: Tracks, name: string) => tracks.points.find((point) => point.name === name)!.places;

describe('points on pictures', () => {
  const one = placePoint(placePoint(addPoint(EMPTY, 'hat'), 'hat', 8, 80, 40), 'hat', 0, 10, 20);

  test('are placed in order of frames, once a frame, and lifted again', () => {
    expect(places(one, 'hat').map(([at]) => at)).toEqual([0, 8]);
    expect(places(placePoint(one, 'hat', 8, 81, 41), 'hat')).toEqual([
      [0, 10, 20, 1],
      [8, 81, 41, 1],
    ]);
    expect(places(liftPoint(one, 'hat', 0), 'hat')).toHaveLength(1);
    expect(addPoint(one, 'hat')).toBe(one);
  });

  test('lie on the straight way between two that are known, and nowhere outside of them', () => {
    const [hat] = one.points;
    expect(placeOf(hat!, 4)).toEqual({ x: 45, y: 30, how: 'between', confidence: 0 });
    expect(placeOf(hat!, 0)).toMatchObject({ how: 'placed' });
    expect(placeOf(hat!, 9)).toBeUndefined();
    expect(placeOf({ name: 'new', places: [] }, 0)).toBeUndefined();
  });

  test('what a hand placed is never overwritten by what is followed', () => {
    const steps = [5, 6, 7, 8, 9].map((sample) => ({ sample, x: sample, y: 1, confidence: 0.9 }));
    const followed = followedTo(one, 'hat', steps);
    expect(places(followed, 'hat').find(([at]) => at === 8)).toEqual([8, 80, 40, 1]);
    expect(places(followed, 'hat').find(([at]) => at === 7)).toEqual([7, 7, 1, 0.9]);
    // Followed again it is another, and where it is lost it is known no longer.
    const again = followedTo(followed, 'hat', [
      { sample: 6, x: 60, y: 2, confidence: 1 },
      { sample: 7, x: 0, y: 0, confidence: 0.2 },
    ]);
    expect(places(again, 'hat').find(([at]) => at === 6)).toEqual([6, 60, 2, 0.99]);
    expect(places(again, 'hat').some(([at]) => at === 7)).toBe(false);
  });

  test('are followed up to the next that a hand placed, both ways', () => {
    const [hat] = placePoint(one, 'hat', 4, 0, 0).points;
    expect(samplesAhead(hat!, 4, 1, 24)).toEqual([4, 5, 6, 7]);
    expect(samplesAhead(hat!, 4, -1, 24)).toEqual([4, 3, 2, 1]);
    expect(samplesAhead(hat!, 8, 1, 11)).toEqual([8, 9, 10]);
  });

  test('take what was said of them along when they are renamed, and away when they go', () => {
    const said = { ...addPoint(one, 'bollard'), still: ['bollard'], pairs: [['hat', 'bollard']] as [string, string][] };
    const renamed = renamePoint(said, 'bollard', 'post');
    expect([renamed.still, renamed.pairs]).toEqual([['post'], [['hat', 'post']]]);
    expect(renamePoint(said, 'bollard', 'hat')).toBe(said);
    expect(dropPoint(renamed, 'post')).toMatchObject({ still: [], pairs: [] });
  });
});

describe('pictures of a clip', () => {
  const count = 60;
  const facts: Pictures = {
    ...{
      format: 'WebM',
      fps: 24,
      frames: count,
      width: 8,
      height: 8,
      shown: { width: 8, height: 8 },
      small: { width: 2, height: 2 },
    },
    // The last two frames show one picture.
    pictures: Array.from({ length: count }, (_, k) => Math.min(k, count - 2)),
    sizes: Array.from({ length: count - 1 }, (_, k) => k + 1),
    smallSizes: new Array<number>(count - 1).fill(1),
    ...{ exposures: [], warnings: [] },
  };
  const settled = () => new Promise((resolve) => setTimeout(resolve, 20));

  function opened(fail = (_address: string): boolean => false) {
    const asked: string[] = [];
    const fetcher = async (address: string): Promise<Blob> => {
      asked.push(address);
      if (fail(address)) throw new Error('away');
      const [, from, to] = /from=(\d+)&to=(\d+)/.exec(address)!.map(Number);
      const sizes = address.includes('small') ? facts.smallSizes : facts.sizes;
      // Each picture's bytes are its own number.
      const bytes = sizes.slice(from, to! + 1).flatMap((size, k) => new Array<number>(size).fill(from! + k));
      return new Blob([new Uint8Array(bytes)]);
    };
    const decode = async (blob: Blob): Promise<ImageBitmap> => {
      const bytes = await new Response(blob).arrayBuffer().catch(() => new ArrayBuffer(0));
      return { bytes: new Uint8Array(bytes), width: 8, height: 8, close: () => undefined } as unknown as ImageBitmap;
    };
    return { asked, frames: new PictureFrames(facts, 'r', fetcher, decode) };
  }

  test('are fetched in stretches, each once, and frame n is the picture of frame n', async () => {
    const { frames, asked } = opened();
    for (const sample of [0, 30, 59, 5]) {
      const blob = await frames.blob(sample);
      expect(blob.size).toBe(facts.sizes[facts.pictures[sample]!]);
      expect(blob.type).toBe('image/jpeg');
    }
    expect(asked.filter((address) => address.includes('/shown'))).toEqual([
      '/api/revisions/r/pictures/shown?from=0&to=23',
      '/api/revisions/r/pictures/shown?from=24&to=47',
      '/api/revisions/r/pictures/shown?from=48&to=58',
    ]);
  });

  test('one that is missing is told of when it comes; one that did not come is asked for again', async () => {
    let away = true;
    const { frames, asked } = opened((address) => away && address.includes('/shown'));
    let told = 0;
    frames.subscribe(() => told++);
    expect(frames.at(3)).toBeUndefined();
    await settled();
    expect(frames.isSharp(3)).toBe(false);
    away = false;
    frames.at(3);
    await settled();
    expect(frames.isSharp(3)).toBe(true);
    expect(told).toBeGreaterThan(0);
    expect(asked.filter((address) => address === '/api/revisions/r/pictures/shown?from=0&to=23')).toHaveLength(2);
  });
});

test('a row of points goes with its points: renamed with them, and gone where one of them is', () => {
  const chain = ['rope 1', 'rope 2', 'rope 3'];
  const rope = { ...chain.reduce(addPoint, EMPTY), chains: [chain] };
  expect(renamePoint(rope, 'rope 2', 'knot').chains).toEqual([['rope 1', 'knot', 'rope 3']]);
  expect(dropPoint(rope, 'rope 2').chains).toEqual([]);
  expect(dropPoint(addPoint(rope, 'buoy'), 'buoy').chains).toEqual([chain]);
});
