import { PointFollower } from '../src/track/follow-point.ts';
import { cutTurned } from '../src/track/patch.ts';
import { halved, type Luma, lumaOf } from '../src/track/luma.ts';

const SIZE = { width: 200, height: 150 };

// Taken out of their object once: looked up at each pixel it would be most of the work.
const { sin, cos, min, max, round } = Math;

/** A pattern without repetition: waves of many lengths and ways. Sampled anywhere, so that any affine movement of it is known exactly. */
function pattern(x: number, y: number): number {
  let value = 128;
  for (let k = 1; k <= 9; k++) {
    const way = 2.4 * k;
    value += 13 * sin((x * cos(way) + y * sin(way)) / (0.9 + 0.4 * k) + k * k);
  }
  return max(0, min(255, value));
}

type Place = (x: number, y: number) => readonly [number, number];

/** A picture on which each pixel shows the pattern at the place that `back` leads to, the mean of four spots in the pixel. */
function picture(back: Place, noise = 0, light = 0): Luma {
  const { width, height } = SIZE;
  const pixels = new Uint8Array(width * height);
  let seed = 7;
  const random = (): number => ((seed = (1103515245 * seed + 12345) % 2147483648) / 2147483648) * 2 - 1;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (const [u, v] of [
        [0.25, 0.25],
        [0.75, 0.25],
        [0.25, 0.75],
        [0.75, 0.75],
      ] as const)
        sum += pattern(...back(x + u, y + v)) / 4;
      const own = sum + light + noise * (random() + random() + random());
      pixels[y * width + x] = max(0, min(255, round(own)));
    }
  return { ...SIZE, pixels };
}

/** Frames of an affine movement about the middle: turned, stretched, sheared and moved a little more at each. */
const movement = (turn: number, stretch: number, shear: number, dx: number, dy: number) => (k: number) => {
  const [c, s] = [Math.cos(turn * k), Math.sin(turn * k)];
  const [a, b, d, e] = [c * (1 + stretch * k), c * shear * k - s, s * (1 + stretch * k), s * shear * k + c];
  const area = a * e - b * d;
  const [mx, my] = [SIZE.width / 2, SIZE.height / 2];
  return {
    forth: (x: number, y: number): [number, number] => [
      mx + a * (x - mx) + b * (y - my) + dx * k,
      my + d * (x - mx) + e * (y - my) + dy * k,
    ],
    back: (x: number, y: number): [number, number] => {
      const [px, py] = [x - mx - dx * k, y - my - dy * k];
      return [mx + (e * px - b * py) / area, my + (a * py - d * px) / area];
    },
  };
};

const MOVES: readonly (readonly [name: string, ...movement: Parameters<typeof movement>])[] = [
  ['a part of a pixel a frame', 0, 0, 0, 0.37, -0.21],
  ['many pixels a frame', 0, 0, 0, 11.3, 4.6],
  ['turning by 4° a frame', 0.07, 0, 0, 1.5, 0],
  ['growing and sheared', 0.01, 0.02, 0.015, 2.1, -1.2],
];

describe('a point of a pattern under a known affine movement', () => {
  test.each(MOVES)('%s: found to a tenth of a pixel, with noise to a quarter', (_, ...how) => {
    const at = movement(...how);
    for (const noise of [0, 4]) {
      const start = { x: 88.3, y: 71.7 };
      const follower = new PointFollower(picture(at(0).back, noise), start);
      let worst = 0;
      for (let k = 1; k <= 6; k++) {
        const found = follower.follow(picture(at(k).back, noise));
        const [x, y] = at(k).forth(start.x, start.y);
        worst = Math.max(worst, Math.hypot(found.x - x, found.y - y));
        expect(found.confidence).toBeGreaterThan(0.5);
      }
      expect(worst).toBeLessThan(noise > 0 ? 0.25 : 0.1);
    }
  });

  test('what stands still stays, also while the light changes', () => {
    const still: Place = (x, y) => [x, y];
    const follower = new PointFollower(picture(still), { x: 100.5, y: 80.5 });
    for (let k = 1; k <= 5; k++) {
      const { x, y, confidence } = follower.follow(picture(still, 2, 2 * k));
      expect(Math.hypot(x - 100.5, y - 80.5)).toBeLessThan(0.1);
      expect(confidence).toBeGreaterThan(0.8);
    }
  });
});

describe('a point that can’t be followed', () => {
  const blank: Luma = { ...SIZE, pixels: new Uint8Array(SIZE.width * SIZE.height).fill(240) };

  test('on a blank sheet there is nothing to hold on to', () => {
    expect(new PointFollower(blank, { x: 50, y: 50 }).hasSomething).toBe(false);
  });

  test('is lost where it is covered, and stays where it was', () => {
    const still: Place = (x, y) => [x, y];
    const follower = new PointFollower(picture(still), { x: 100, y: 75 });
    follower.follow(picture(still));
    const found = follower.follow(blank);
    expect(found.confidence).toBeLessThan(0.5);
    expect(Math.hypot(found.x - 100, found.y - 75)).toBeLessThan(0.2);
  });

  test('does not take the place of another that looks like it and was there before', () => {
    // Two equal rings far apart; one of them is covered.
    const rings = (left: boolean): Luma => {
      const pixels = new Uint8Array(SIZE.width * SIZE.height).fill(240);
      for (let y = 0; y < SIZE.height; y++)
        for (let x = 0; x < SIZE.width; x++)
          for (const cx of left ? [60, 115] : [115])
            if (Math.abs(Math.hypot(x + 0.5 - cx, y + 0.5 - 75) - 7) < 1.5) pixels[y * SIZE.width + x] = 30;
      return { ...SIZE, pixels };
    };
    const follower = new PointFollower(rings(true), { x: 60, y: 75 });
    expect(follower.follow(rings(true)).confidence).toBeGreaterThan(0.9);
    expect(follower.follow(rings(false)).confidence).toBeLessThan(0.5);
  });

  test('outside of the picture it can’t be placed', () => {
    expect(() => new PointFollower(blank, { x: -1, y: 5 })).toThrow(RangeError);
  });
});

test('brightness is ITU-R BT.601 luma, and what is transparent lies on white', () => {
  const { pixels } = lumaOf([255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255, 0, 0, 0, 0], 4, 1);
  // 0.299, 0.587 and 0.114 of 255 (ITU-R BT.601-7, 2.5.1).
  expect([...pixels]).toEqual([76, 150, 29, 255]);
  expect([...halved({ width: 2, height: 2, pixels: new Uint8Array([0, 10, 20, 30]) }).pixels]).toEqual([15]);
});

// A patch that is cut turned is what lies there once the picture is turned back: of an even slope of light that is known exactly.
test('a patch cut turned is the picture turned', () => {
  const [gx, gy] = [0.9, -0.5];
  const { width, height } = SIZE;
  const slope: Luma = { width, height, pixels: new Uint8Array(width * height) };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) slope.pixels[y * width + x] = round(128 + gx * (x - 100) + gy * (y - 75));
  for (const angle of [0, 0.4, Math.PI / 2, -2.1]) {
    const own = cutTurned(slope, 100.5, 75.5, angle)!;
    const side = Math.sqrt(own.length);
    const half = (side - 1) / 2;
    const [c, s] = [cos(angle), sin(angle)];
    const wanted = Array.from(own, (_, k) => {
      const [u, v] = [(k % side) - half, Math.floor(k / side) - half];
      return gx * (c * u + s * v) + gy * (-s * u + c * v);
    });
    const size = Math.hypot(...wanted);
    const likeness = wanted.reduce((sum, value, k) => sum + (value / size) * own[k]!, 0);
    expect(likeness).toBeGreaterThan(0.99);
  }
});
