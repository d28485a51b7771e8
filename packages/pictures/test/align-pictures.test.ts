import sharp from 'sharp';
import { alignPictures, type PictureShow } from '@ypsigraph/core/align/align-pictures';
import { mapLabel } from '@ypsigraph/core/align/frame-map';
import { halved, type Luma } from '@ypsigraph/core/track/luma';
import { type DrawnShot, figureShot } from '@ypsigraph/pictures/drawn/drawn-shots';

const SMALL = 320;

/** The frames of a drawn shot as small pictures, with grain of the strength told. */
async function drawn(shot: DrawnShot, { grain = 0, first = 1, lighter = 0 } = {}): Promise<PictureShow> {
  const known = new Map<string, Promise<Luma>>();
  const picture = (svg: string): Promise<Luma> => {
    const made = known.get(svg) ?? rendered(svg);
    known.set(svg, made);
    return made;
  };
  const clean = await Promise.all(Array.from({ length: shot.frames }, (_, f) => picture(shot.svg(f))));
  let seed = 17;
  const noise = (): number => {
    // A linear congruential generator (Numerical Recipes, ranqd1; from memory): any will do.
    seed = (1_664_525 * seed + 1_013_904_223) >>> 0;
    return (seed / 2 ** 31 - 1) * grain * 1.7;
  };
  return {
    first,
    pictures: clean.map((own) => ({
      ...own,
      pixels: own.pixels.map((v) => Math.max(0, Math.min(255, v + lighter + noise()))),
    })),
  };
}

async function rendered(svg: string): Promise<Luma> {
  const { data, info } = await sharp(Buffer.from(svg))
    .resize(SMALL)
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return halved({ width: info.width, height: info.height, pixels: new Uint8Array(data) });
}

const walk = (options: Parameters<typeof figureShot>[0] | object = {}): DrawnShot =>
  figureShot({ exemplar: 'walk', width: 640, height: 360, leg: 110, ...options });
/** Frames of a shot put together in another order, or some of them again. */
const cut = ({ pictures, first }: PictureShow, order: readonly number[]): PictureShow => ({
  first,
  pictures: order.map((k) => pictures[k]!),
});
const count = (from: number, to: number): number[] => Array.from({ length: to - from }, (_, k) => from + k);

/** How far a map is from what it should be, frames, at most and at the 90th percentile. */
function off(map: Exclude<ReturnType<typeof alignPictures>, string>, truth: (a: number) => number): [number, number] {
  const errors = map.map.map(([a]) => Math.abs(mapLabel(map.map, a) - truth(a))).sort((p, q) => p - q);
  return [errors.at(-1)!, errors[Math.floor(0.9 * errors.length)]!];
}
const aligned = (a: PictureShow, b: PictureShow): Exclude<ReturnType<typeof alignPictures>, string> => {
  const found = alignPictures(a, b);
  if (typeof found === 'string') throw new Error(found);
  return found;
};

describe('two clips by the likeness of their pictures', () => {
  test('a cycle in 24 frames and one in 32 and in 20 lie on each other to within a frame, with grain on one of them', async () => {
    const own = await drawn(walk());
    for (const length of [32, 20]) {
      const other = await drawn(walk({ set: { length } }), { grain: 5, first: 101, lighter: -12 });
      const map = aligned(own, other);
      // The same share of the cycle; where the pictures of both sides are alike, a frame more or less can't be told.
      const [worst, most] = off(map, (a) => 101 + ((a - 1) * (length - 1)) / 23);
      expect(worst).toBeLessThan(1.6);
      expect(most).toBeLessThan(1);
      expect(map.notes).toEqual([]);
    }
  });

  test('the same clip once more, lighter and with grain, maps each frame to itself', async () => {
    const own = await drawn(walk(), { grain: 4 });
    const other = await drawn(walk(), { grain: 4, lighter: 20 });
    const [worst] = off(aligned(own, other), (a) => a);
    expect(worst).toBeLessThan(0.6);
  });

  test('a pose that is held longer is stretched, and what is around it stays on its frames', async () => {
    const own = await drawn(walk());
    const held = cut(own, [...count(0, 12), ...new Array<number>(6).fill(12), ...count(12, 24)]);
    const { map } = aligned(own, held);
    expect(Math.abs(mapLabel(map, 6) - 6)).toBeLessThan(1);
    expect(Math.abs(mapLabel(map, 20) - 26)).toBeLessThan(1);
  });

  test('a clip on twos finds each drawing in one on ones', async () => {
    const own = await drawn(walk({ on: 2 }));
    const { map } = aligned(own, await drawn(walk()));
    for (const [a, b] of map) expect(Math.abs(b - a)).toBeLessThanOrEqual(1.5);
  });

  test('what was cut away at the front has no counterpart, and is said', async () => {
    const own = await drawn(figureShot({ exemplar: 'jump', width: 640, height: 360, leg: 80 }));
    const shorter = cut(own, count(14, own.pictures.length));
    const found = aligned(own, shorter);
    const note = found.notes[0] as { what: string; from: number; to: number };
    expect(note).toMatchObject({ what: 'cut at the front', from: 1 });
    expect(Math.abs(note.to - 14)).toBeLessThan(5);
    expect(Math.abs(mapLabel(found.map, 40) - 26)).toBeLessThan(1);
  });

  test('another framing makes no difference: nearer, further away, and at another place of the picture', async () => {
    const own = await drawn(walk());
    for (const framing of [{ leg: 75 }, { leg: 84, height: 480 }, { width: 480, leg: 124 }]) {
      const other = await drawn(walk({ set: { length: 30 }, ...framing }), { grain: 3 });
      const [worst, most] = off(aligned(own, other), (a) => 1 + ((a - 1) * 29) / 23);
      expect(worst).toBeLessThan(2.6);
      expect(most).toBeLessThan(1.3);
    }
  });

  test('pictures on which nothing moves can’t be aligned, and one frame neither', async () => {
    const own = await drawn(walk());
    const still = cut(own, new Array<number>(10).fill(3));
    expect(alignPictures(own, still)).toBe('nothing moves on the pictures');
    expect(typeof alignPictures(own, cut(own, [0]))).toBe('string');
  });
});
