import type { Box } from '@ypsigraph/core/track/moving-box';
import { clipLabel } from '../src/desk/pictures/clip-beside.ts';
import { type FigureBox, fitUnder } from '../src/desk/pictures/fit-under.ts';

describe('a clip on the axis of the motion that it came with', () => {
  test('at one rate they go on frame by frame, wherever the clip begins', () => {
    const own = clipLabel(5, 24, 24);
    expect([1, 5, 28].map(own)).toEqual([1, 5, 28]);
    // Rates that a file tells a little otherwise are one: 23.976 is what broadcast calls 24 (common practice).
    expect([5, 24, 4005].map(clipLabel(5, 24_000 / 1001, 24))).toEqual([5, 24, 4005]);
  });

  test('a clip of twelve a second shows each of its frames for two of twenty-four; one of thirty leaves some out', () => {
    expect([1, 2, 3, 4, 5, 6].map(clipLabel(1, 12, 24))).toEqual([1, 1, 2, 2, 3, 3]);
    expect([7, 8, 9].map(clipLabel(7, 12, 24))).toEqual([7, 7, 8]);
    // After a second both have come as far as their rates say.
    expect(clipLabel(1, 30, 24)(25)).toBe(31);
    expect(clipLabel(1, 12, 24)(-1)).toBe(0);
  });
});

describe('a clip beneath the figure', () => {
  const figure: FigureBox = { left: -0.5, right: 0.5, bottom: -1, top: 1 };
  /** Where a share of the picture comes to lie, in legs from the figure's middle. */
  const place = (x: number, y: number, aspect: number, under: ReturnType<typeof fitUnder>): [number, number] => [
    under.x + (x - 0.5) * under.height * aspect,
    under.y + (0.5 - y) * under.height,
  ];

  test('lies so that what moves on it has the height and the middle of what moves of the figure', () => {
    const moving: Box = { left: 0.1, right: 0.3, top: 0.2, bottom: 0.7 };
    const under = fitUnder(moving, 16 / 9, figure);
    expect(under.height).toBeCloseTo(4);
    const head = place(0.2, 0.2, 16 / 9, under);
    const feet = place(0.2, 0.7, 16 / 9, under);
    expect([...head, ...feet].map((value) => Math.round(1e6 * value) / 1e6 + 0)).toEqual([0, 1, 0, -1]);
  });

  test('where nothing moves, or all of it as behind a camera, it lies as it usually would', () => {
    const usual = { x: 0, y: 0, height: 2.6 };
    expect(fitUnder(undefined, 1, figure)).toEqual(usual);
    expect(fitUnder({ left: 0, right: 1, top: 0.1, bottom: 0.9 }, 1, figure)).toEqual(usual);
    expect(fitUnder({ left: 0.2, right: 0.4, top: 0.1, bottom: 0.9 }, 1, undefined)).toEqual(usual);
  });
});
