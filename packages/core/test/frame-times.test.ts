import fc from 'fast-check';
import { heldPictures, patternOf, pictureChange, toggleDrawing } from '../src/track/held-pictures.ts';
import { writeExposures } from '../src/formats/points/write-exposures.ts';
import type { Luma } from '../src/track/luma.ts';
import { planFrames } from '../src/track/frame-times.ts';

const even = (rate: number, frames: number, tick: number, round = Math.round): number[] =>
  Array.from({ length: frames }, (_, k) => round(k / rate / tick + 1e-9) * tick);

describe('pictures that follow one another evenly are frames', () => {
  // Clocks of containers: milliseconds in Matroska and WebM (RFC 9559), hundredths of a second in GIF (GIF89a specification), 1/90000 s in MPEG.
  test.each([
    ['WebM', 0.001],
    ['GIF', 0.01],
    ['MP4', 1 / 90000],
  ])('%s at every usual rate, whichever way its times are rounded', (_, tick) => {
    for (const rate of [12, 24, 25, 30, ...(tick < 0.01 ? [50, 60, 24000 / 1001, 30000 / 1001] : [])])
      for (const round of [Math.round, Math.floor]) {
        const plan = planFrames(even(rate, 200, tick, round), { tick, declared: rate });
        expect(plan.variable).toBe(false);
        expect(plan.fps).toBeCloseTo(rate, 2);
        expect(plan.pictures).toEqual(Array.from({ length: 200 }, (__, k) => k));
      }
  });

  // SMPTE ST 2043 and EBU practice for 24, 25, 30, 50 and 60 and their 1000/1001; animation on twos, threes and fours of 24 (common practice).
  test('a clip that names no rate has the usual one its times fit', () => {
    for (const rate of [
      6,
      8,
      10,
      12,
      12.5,
      15,
      24,
      24000 / 1001,
      25,
      30,
      30000 / 1001,
      48,
      50,
      60,
      60000 / 1001,
      100,
      120,
    ])
      expect(planFrames(even(rate, 400, 1 / 90000), { tick: 1 / 90000 }).fps).toBe(rate);
    // Of times in whole milliseconds the mean step is a little off: the rate is the usual one all the same.
    for (const rate of [6, 8, 10, 12, 12.5, 15, 24, 25, 30, 48, 50, 60])
      expect(planFrames(even(rate, 200, 0.001), { tick: 0.001 }).fps).toBe(rate);
  });

  test('durations that are rounded one by one drift, and are even all the same', () => {
    const step = 0.04167;
    const plan = planFrames(
      Array.from({ length: 50 }, (_, k) => k * step),
      { tick: 0.00001 },
    );
    expect(plan).toMatchObject({ fps: 24, variable: false });
  });

  test('a single picture is one frame', () => {
    expect(planFrames([3], { tick: 0.001, declared: 25 })).toEqual({
      fps: 25,
      pictures: [0],
      variable: false,
      dropped: 0,
    });
    expect(planFrames([0, 0, 0], { tick: 0.001 }).pictures).toEqual([0, 1, 2]);
  });
});

describe('pictures that last differently long', () => {
  test('stand on the slowest usual rate at which each begins on a frame', () => {
    const plan = planFrames([0, 0.083, 0.125, 0.167], { tick: 0.001, last: 0.084 });
    expect(plan).toEqual({ fps: 24, pictures: [0, 0, 1, 2, 3, 3], variable: true, dropped: 0 });
  });

  test('each is seen at the frame that its time lies at: to within half a frame (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 20, max: 300 }), { minLength: 2, maxLength: 40 }), (lasts) => {
        const times = lasts.reduce<number[]>((all, own) => [...all, all.at(-1)! + own / 1000], [0]);
        const { fps, pictures, dropped } = planFrames(times, { tick: 0.001 });
        pictures.forEach((picture, frame) => {
          if (frame > 0) expect(picture).toBeGreaterThanOrEqual(pictures[frame - 1]!);
          const begins = pictures.indexOf(picture);
          expect(Math.abs(times[picture]! - begins / fps)).toBeLessThanOrEqual(0.5 / fps + 0.0011);
        });
        expect(new Set(pictures).size + dropped).toBe(times.length);
      }),
      { seed: 5, numRuns: 200 },
    );
  });
});

describe('which frames show the same drawing', () => {
  test('a gap between small and large changes tells held frames; without one every frame is new', () => {
    expect(heldPictures([0, 40, 0.2, 38, 0.1, 44]).map(({ from, to }) => [from, to])).toEqual([
      [0, 1],
      [2, 3],
      [4, 5],
      [6, 6],
    ]);
    // Compressed hard, held frames change by 3 of 255 and new ones by 40.
    expect(heldPictures([3, 41, 2.2, 39, 1.4, 52])).toHaveLength(4);
    // A slow move changes little, evenly: nothing is held.
    expect(heldPictures([1.4, 2, 1.8, 2.6, 2.2, 1.9])).toHaveLength(7);
    expect(heldPictures([])).toEqual([{ from: 0, to: 0 }]);
    expect(heldPictures([0, 0, 0])).toEqual([{ from: 0, to: 3 }]);
  });

  test('grain and flicker are no change, a line that moves by half a pixel is', () => {
    const width = 320;
    const height = 180;
    const drawn = (x: number, seed: number, light = 0): Luma => {
      let state = seed;
      const random = (): number => ((state = (1103515245 * state + 12345) % 2147483648) / 2147483648) * 2 - 1;
      const pixels = Uint8Array.from({ length: width * height }, (_, k) => {
        const at = k % width;
        const ink = Math.max(0, 1 - Math.abs(at + 0.5 - x)) * (Math.abs(Math.floor(k / width) - 90) < 40 ? 120 : 0);
        return Math.max(0, Math.min(255, Math.round(220 - ink + light + 2 * random())));
      });
      return { width, height, pixels };
    };
    const grain = Math.max(...[2, 3, 4].map((seed) => pictureChange(drawn(100, 1), drawn(100, seed))));
    const flicker = pictureChange(drawn(100, 1), drawn(100, 2, 12));
    const moved = pictureChange(drawn(100, 1), drawn(100.5, 2));
    expect(Math.max(grain, flicker)).toBeLessThan(0.6);
    expect(moved).toBeGreaterThan(5 * Math.max(grain, flicker));
  });

  test('patterns are named as most drawings stand (common practice: ones, twos, threes)', () => {
    const of = (...lengths: number[]) => {
      let at = 0;
      return lengths.map((length) => ({ from: at, to: (at += length) - 1 }));
    };
    expect(patternOf(of(1, 1, 1, 1))).toBe('ones');
    expect(patternOf(of(2, 2, 2, 1))).toBe('twos');
    expect(patternOf(of(3, 3, 3, 3))).toBe('threes');
    expect(patternOf(of(1, 3, 2, 4, 1))).toBe('mixed');
    expect(patternOf(of(9))).toBe('still');
  });

  test('put right by hand: a drawing begins at a frame, or no longer does', () => {
    const found = [
      { from: 0, to: 1 },
      { from: 2, to: 3 },
    ];
    expect(toggleDrawing(found, 3)).toEqual([
      { from: 0, to: 1 },
      { from: 2, to: 2 },
      { from: 3, to: 3 },
    ]);
    expect(toggleDrawing(found, 2)).toEqual([{ from: 0, to: 3 }]);
    expect(toggleDrawing(toggleDrawing(found, 3), 3)).toEqual(found);
    expect(toggleDrawing(found, 0)).toEqual(found);
    expect(writeExposures(found, 101)).toBe('drawing,from,to,frames\n1,101,102,2\n2,103,104,2\n');
  });
});
