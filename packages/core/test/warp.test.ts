import fc from 'fast-check';
import { warp } from '../src/align/warp.ts';
import type { PoseRows } from '../src/align/pose-features.ts';

/** A sequence of numbers as poses of one column. */
const poses = (values: readonly number[]): PoseRows => ({
  rows: Float64Array.from(values),
  width: 1,
  count: values.length,
  columns: [{ at: 0, width: 1, part: 'head', weight: 1 }],
});
const wayOf = (a: readonly number[], b: readonly number[]): readonly (readonly [number, number])[] =>
  warp(poses(a), poses(b)).path;

describe('dynamic time warping', () => {
  /**
   * M. Müller, *Fundamentals of Music Processing* (Springer, 2015), section 3.2: X = (1, 3, 9, 2, 1) and Y = (2, 0, 0, 8, 7, 2), whose best way pairs the peak 9
   * with 8 and 7, and the rise 3 with the last 0 (from memory). There a frame may stand still against several; here a step goes on in both, so that
   * of several partners one is on the way, and ends are free.
   */
  test('of a textbook’s example pairs the peaks, and what rises to them', () => {
    const way = new Map(wayOf([1, 3, 9, 2, 1], [2, 0, 0, 8, 7, 2]));
    expect([3, 4]).toContain(way.get(2));
    expect(way.get(0)).toBe(0);
    if (way.has(1)) expect([1, 2]).toContain(way.get(1));
  });

  // Sakoe and Chiba (1978): the way is monotonic and continuous, and of a pattern with itself the diagonal.
  test('of anything with itself is the diagonal, at no price', () => {
    const values = [0, 2, 5, 4, 1, -2, -3, 0, 4, 9];
    expect(wayOf(values, values)).toEqual(values.map((_, k) => [k, k]));
  });

  test('of what is there twice as long goes half as fast, to within a frame', () => {
    const values = Array.from({ length: 24 }, (_, k) => 10 * Math.sin(k / 3) + k);
    const slow = values.flatMap((value, k) => [value, k + 1 < values.length ? (value + values[k + 1]!) / 2 : value]);
    for (const [i, j] of wayOf(values, slow)) expect(Math.abs(j - 2 * i)).toBeLessThanOrEqual(1);
  });

  test('never goes back, and no steeper than four frames for one', () => {
    const sequence = fc.array(fc.integer({ min: -9, max: 9 }), { minLength: 4, maxLength: 24 });
    fc.assert(
      fc.property(sequence, sequence, (a, b) => {
        const way = wayOf(a, b);
        for (const [k, [i, j]] of way.entries()) {
          if (k === 0) continue;
          const [di, dj] = [i - way[k - 1]![0], j - way[k - 1]![1]];
          expect(di).toBeGreaterThan(0);
          expect(dj).toBeGreaterThan(0);
          expect(Math.max(di / dj, dj / di)).toBeLessThanOrEqual(4);
        }
      }),
    );
  });
});
