import reference from 'ml-savitzky-golay';
import { savitzkyGolay, smooth } from '../src/signal/savitzky-golay.ts';

/** Smoothing weights for a quadratic or cubic, as printed by Savitzky and Golay, *Analytical Chemistry* 36 (1964), table I: half window, norm, weights from the middle outwards. From memory. */
const TABLE: readonly (readonly [half: number, norm: number, weights: readonly number[]])[] = [
  [2, 35, [17, 12, -3]],
  [3, 21, [7, 6, 3, -2]],
  [4, 231, [59, 54, 39, 14, -21]],
  [5, 429, [89, 84, 69, 44, 9, -36]],
  [6, 143, [25, 24, 21, 16, 9, 0, -11]],
];

describe('Savitzky–Golay weights', () => {
  test.each(TABLE)('with %i samples on each side are those of the published table', (half, norm, weights) => {
    for (const order of [2, 3])
      savitzkyGolay(half, order).forEach((w, k) => expect(norm * w).toBeCloseTo(weights[Math.abs(k - half)]!, 9));
  });

  test('off the middle they still sum to 1 and leave every polynomial of their order as it is', () => {
    for (const [half, order] of [
      [3, 2],
      [6, 2],
      [5, 3],
    ] as const) {
      for (let at = -half; at <= half; at++) {
        const weights = savitzkyGolay(half, order, at);
        const of = (f: (x: number) => number): number => weights.reduce((sum, w, k) => sum + w * f(k - half), 0);
        expect(of(() => 1)).toBeCloseTo(1, 9);
        for (let power = 1; power <= order; power++) expect(of((x) => x ** power)).toBeCloseTo(at ** power, 6);
      }
    }
  });

  test('smooth a signal as the reference package does, away from its ends', () => {
    const values = Array.from({ length: 60 }, (_, i) => Math.sin(i / 4) + ((i * 7919) % 13) / 20);
    for (const half of [2, 4, 6]) {
      const theirs = reference(values, 1, {
        windowSize: 2 * half + 1,
        derivative: 0,
        polynomial: 2,
        pad: 'none',
      });
      const ours = smooth(Float64Array.from(values), half, 2);
      const shift = (values.length - theirs.length) / 2;
      theirs.forEach((value, i) => expect(ours[i + shift]!).toBeCloseTo(value, 9));
    }
  });

  test('go round the end of a signal that wraps', () => {
    const wave = (shift: number): Float64Array =>
      Float64Array.from({ length: 24 }, (_, i) => Math.cos((2 * Math.PI * (i + shift)) / 24));
    const [plain, shifted] = [smooth(wave(0), 4, 2, true), smooth(wave(7), 4, 2, true)];
    shifted.forEach((value, i) => expect(value).toBeCloseTo(plain[(i + 7) % 24]!, 12));
  });

  test('a window that can’t carry its polynomial is refused', () => {
    expect(() => savitzkyGolay(1, 3)).toThrow(RangeError);
    expect(() => savitzkyGolay(0, 0)).toThrow(RangeError);
  });
});
