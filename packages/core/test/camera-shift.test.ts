import { cameraShift, changeBehind, changesOf, differenceOf } from '../src/track/camera-shift.ts';
import { heldPictures } from '../src/track/held-pictures.ts';
import type { Luma } from '../src/track/luma.ts';

const [width, height] = [320, 180];
type Light = (x: number, y: number) => number;
const picture = (light: Light): Luma => ({
  width,
  height,
  pixels: Uint8Array.from({ length: width * height }, (_, k) => light(k % width, Math.floor(k / width))),
});
/** A dark spot with a soft edge. */
const spot =
  (cx: number, cy: number, size = 5): Light =>
  (x, y) =>
    210 * Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * size * size));
const together =
  (...spots: readonly Light[]): Light =>
  (x, y) =>
    Math.max(0, 235 - spots.reduce((sum, own) => sum + own(x, y), 0));

/** Spots all over the picture, each moved by so much. */
const PLACES = Array.from({ length: 18 }, (_, k) => [30 + ((k * 53) % 260), 30 + ((k * 37) % 120)] as const);
const scene = (dx: number, dy: number): Luma => picture(together(...PLACES.map(([x, y]) => spot(x + dx, y + dy, 3))));
const PAIR = scene(0, 0);

describe('a camera’s way between two pictures', () => {
  test.each([
    [3, 0],
    [-6.5, 0],
    [2.25, -1.75],
    [0, 4.4],
  ])('of %d across and %d down is told to a tenth of a pixel', (dx, dy) => {
    const shift = cameraShift(PAIR, scene(dx, dy))!;
    expect(Math.abs(shift.x - dx)).toBeLessThan(0.1);
    expect(Math.abs(shift.y - dy)).toBeLessThan(0.1);
    expect(changeBehind(PAIR, scene(dx, dy), shift)).toBeLessThan(3);
  });

  test('is none where half of what is seen goes one way and half another', () => {
    const apart = picture(together(...PLACES.map(([x, y], k) => spot(x + (k % 2 === 0 ? 5 : -5), y, 3))));
    expect(cameraShift(PAIR, apart)).toBeUndefined();
  });

  test('is none where one thing goes by before empty paper, and where there is nothing to be seen', () => {
    const thing = (x: number): Luma =>
      picture(together(spot(x, 60, 3), spot(x + 18, 66, 3), spot(x + 9, 84, 3), spot(x + 30, 90, 3)));
    expect(cameraShift(thing(80), thing(86))).toBeUndefined();
    expect(
      cameraShift(
        picture(() => 235),
        picture(() => 230),
      ),
    ).toBeUndefined();
  });
});

describe('drawings behind a camera', () => {
  /** The camera goes by two pixels a frame; one spot of the drawing is new on every second frame. */
  const shot = Array.from({ length: 12 }, (_, f) => {
    const pan = 2 * f;
    const own = spot(150 + 12 * Math.sin(Math.floor(f / 2)) - pan, 90, 6);
    return picture(together(own, ...PLACES.map(([x, y]) => spot(x - pan, y, 3))));
  });
  const differences = shot.slice(1).map((own, k) => differenceOf(shot[k]!, own));

  test('that are held are one; without the camera’s way each frame would be another', () => {
    expect(heldPictures(changesOf(differences)).map(({ from }) => from)).toEqual([0, 2, 4, 6, 8, 10]);
    expect(heldPictures(differences.map(({ plain }) => plain))).toHaveLength(12);
  });

  test('are left as they are where a camera goes between two pictures only: one jolt is no camera', () => {
    const jolt = differences.map((own, k) => (k === 4 ? own : { plain: 20, behind: undefined, shift: undefined }));
    expect(changesOf(jolt)).toEqual(jolt.map(({ plain }) => plain));
  });
});
