import type { Luma } from '../src/track/luma.ts';
import { movingBox } from '../src/track/moving-box.ts';

const [width, height] = [80, 60];
const picture = (light: (x: number, y: number) => number): Luma => ({
  width,
  height,
  pixels: Uint8Array.from({ length: width * height }, (_, k) => light(k % width, Math.floor(k / width))),
});
/** White paper with a dark box on it, from a corner to another, neither of which is beyond it. */
const box = (left: number, top: number, right: number, bottom: number): Luma =>
  picture((x, y) => (x >= left && x < right && y >= top && y < bottom ? 30 : 240));

describe('where something moves on a clip', () => {
  test('is all that it goes over, and nothing else', () => {
    const seen = movingBox([box(8, 12, 16, 30), box(24, 12, 32, 30), box(40, 18, 48, 36)])!;
    expect([seen.left * width, seen.right * width, seen.top * height, seen.bottom * height]).toEqual([8, 48, 12, 36]);
  });

  test('a thing that stands still is none of it', () => {
    const beside = (own: Luma): Luma => ({ ...own, pixels: own.pixels.map((v, k) => (k % width > 70 ? 10 : v)) });
    expect(movingBox([beside(box(8, 12, 16, 30)), beside(box(24, 12, 32, 30))])!.right * width).toBe(32);
    expect(movingBox([box(8, 12, 16, 30), box(8, 12, 16, 30)])).toBeUndefined();
  });

  test('grain is none of it, and a speck far away moves its edges by nothing', () => {
    const grain = (own: Luma, seed: number): Luma => ({
      ...own,
      pixels: own.pixels.map((v, k) => v + ((k * 7919 + seed * 104_729) % 17) - 8),
    });
    const [a, b] = [grain(box(8, 12, 16, 30), 1), grain(box(24, 12, 32, 30), 2)];
    b.pixels[width * 58 + 77] = 0;
    const seen = movingBox([a, b])!;
    expect([seen.left * width, seen.right * width, seen.top * height, seen.bottom * height]).toEqual([8, 32, 12, 30]);
  });

  test('one picture shows nothing of it', () => {
    expect(movingBox([box(1, 1, 9, 9)])).toBeUndefined();
    expect(movingBox([])).toBeUndefined();
  });
});
