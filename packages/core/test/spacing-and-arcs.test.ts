import fc from 'fast-check';
import { decomposePath, pathSteps, type PointPath } from '../src/measure/spacing/point-path.ts';
import { arcRise } from '../src/measure/spacing/arc-rise.ts';
import { judgePath, runsOver } from '../src/measure/spacing/path-faults.ts';
import { measureJointPath } from '../src/measure/spacing/paths.ts';
import { jointIndex } from '../src/motion/motion.ts';
import { measureShot } from '../src/measure/registry.ts';
import { detailOf, readingOf, walkShot } from './fixtures.ts';

const path = (count: number, at: (i: number) => [number, number, number], wraps?: PointPath['wraps']): PointPath => ({
  points: Float64Array.from(Array.from({ length: count }, (_, i) => at(i)).flat()),
  count,
  ...(wraps && { wraps }),
});

const coefficient = fc.double({ min: -2, max: 2, noNaN: true });
const cubic = fc.array(fc.tuple(coefficient, coefficient, coefficient, coefficient), { minLength: 3, maxLength: 3 });

// A five-point difference of fourth order is zero on cubics (any text on finite differences; from memory).
describe('what its neighbours do not predict of a sample', () => {
  test('is zero on every cubic that is sampled evenly', () => {
    fc.assert(
      fc.property(cubic, (terms) => {
        const p = path(
          9,
          (i) => terms.map(([a, b, c, d]) => a + i * (b + i * (c + i * d))) as [number, number, number],
        );
        const { residual } = decomposePath(p);
        const scale = Math.max(1, ...p.points.map(Math.abs));
        expect(Math.max(...residual.map(Math.abs))).toBeLessThan(1e-12 * scale);
      }),
    );
  });

  test.each([8, 12, 24, 60])('on a circle of %i points a turn it lies across the path and has its closed form', (n) => {
    const R = 3;
    const θ = (2 * Math.PI) / n;
    const p = path(n, (i) => [R * Math.cos(i * θ), R * Math.sin(i * θ), 1], { period: n, advance: [0, 0, 0] });
    const { along, across, step } = decomposePath(p);
    const expected = R * Math.abs(1 - (8 * Math.cos(θ) - 2 * Math.cos(2 * θ)) / 6);
    for (let i = 0; i < n; i++) {
      expect(across[i]).toBeCloseTo(expected, 12);
      expect(along[i]).toBeCloseTo(0, 12);
      expect(step[i]).toBeCloseTo(2 * R * Math.sin(θ / 2), 12);
    }
  });

  test('of one displaced sample is its own displacement, and −2/3 of it beside', () => {
    fc.assert(
      fc.property(fc.tuple(coefficient, coefficient, coefficient), (shift) => {
        const p = path(11, (i) => [i + (i === 5 ? shift[0] : 0), i === 5 ? shift[1] : 0, i === 5 ? shift[2] : 0]);
        const { residual } = decomposePath(p);
        for (let k = 0; k < 3; k++) {
          expect(residual[15 + k]).toBeCloseTo(shift[k]!, 10);
          expect(residual[12 + k]).toBeCloseTo((-2 / 3) * shift[k]!, 10);
          expect(residual[18 + k]).toBeCloseTo((-2 / 3) * shift[k]!, 10);
        }
      }),
    );
  });

  test('a shift along the path is off the spacing, one across it off the arc', () => {
    const moved = (along: number, across: number) =>
      judgePath(
        path(15, (i) => [2 * i + (i === 7 ? along : 0), i === 7 ? across : 0, 0]),
        80,
        24,
      );
    const late = moved(0.8, 0);
    expect(late.spacing[7]).toBeCloseTo(0.4, 2);
    expect(late.arc[7]).toBeCloseTo(0, 12);
    const bent = moved(0, 0.8);
    expect(bent.arc[7]).toBeGreaterThan(0.25);
    expect(bent.spacing[7]).toBeCloseTo(0, 12);
  });

  test('does not change when the path is moved, and grows with its size as the path does', () => {
    fc.assert(
      fc.property(cubic, coefficient, fc.double({ min: 0.1, max: 10, noNaN: true }), (terms, shift, size) => {
        const wavy = (i: number, axis: number): number =>
          Math.sin(i * 1.3 + axis) * terms[axis]![0] + terms[axis]![1] * i;
        const a = judgePath(
          path(12, (i) => [wavy(i, 0), wavy(i, 1), wavy(i, 2)]),
          80,
          24,
        );
        const b = judgePath(
          path(12, (i) => [size * wavy(i, 0) + shift, size * wavy(i, 1) - shift, size * wavy(i, 2)]),
          80 * size,
          24,
        );
        a.arc.forEach((ratio, i) => expect(b.arc[i]).toBeCloseTo(ratio, 6));
      }),
    );
  });
});

describe('pops', () => {
  const swing = (i: number): [number, number, number] => [
    20 * Math.sin((2 * Math.PI * i) / 24),
    4 * Math.cos((4 * Math.PI * i) / 24),
    0,
  ];
  const popped = (at: number, by: number) =>
    judgePath(
      path(24, (i) => (i === at ? [swing(i)[0], swing(i)[1] + by, 0] : swing(i)), { period: 24, advance: [0, 0, 0] }),
      83,
      24,
    );

  test('one sample out of place is found, wherever it is, also at the seam', () => {
    for (let at = 0; at < 24; at++) expect(popped(at, 30).pops).toEqual([at]);
  });

  test('a smooth swing has none', () => {
    expect(popped(0, 0).pops).toEqual([]);
  });

  test('two samples in a row are a move, not a pop', () => {
    const two = judgePath(
      path(24, (i) => (i === 9 || i === 10 ? [swing(i)[0], swing(i)[1] + 30, 0] : swing(i)), {
        period: 24,
        advance: [0, 0, 0],
      }),
      83,
      24,
    );
    expect(two.pops).toEqual([]);
  });

  test('the samples beside a pop are known to be off only because of it', () => {
    expect([...popped(9, 30).besidePops].sort((a, b) => a - b)).toEqual([7, 8, 10, 11]);
  });
});

describe('readings of a walk', () => {
  test('what hardly moves is left alone', () => {
    const still = judgePath(
      path(12, (i) => [0.001 * i + (i === 6 ? 0.05 : 0), 0, 0]),
      83,
      24,
    );
    expect(Math.max(...still.spacing)).toBe(0);
  });

  test('a faultless walk has every path on its arc and spacing, and says so with zeros', () => {
    const shot = walkShot();
    expect(readingOf(shot, 'arc.pop')).toEqual({ id: 'arc.pop', value: 0, unit: 'frames' });
    for (const part of ['hips', 'head', 'hand.L', 'hand.R']) {
      for (const id of ['spacing.off', 'arc.off']) {
        const reading = readingOf(shot, id, part);
        expect([id, part, reading.value]).toEqual([id, part, 0]);
        expect(reading.frames).toBeUndefined();
      }
    }
  });

  test('a pop of one joint is found at its frame, by its label, in its own limb only', () => {
    const frame = 1 + Math.round(24 / 3);
    for (const firstFrame of [0, 1, 100]) {
      const shot = walkShot({ pop: 26 }, {}, { firstFrame });
      const pops = measureShot(shot).readings.filter(({ id }) => id === 'arc.pop');
      expect(pops.map(({ part, frames }) => [part, frames])).toEqual([['foreArm.R', [frame - 1 + firstFrame]]]);
      expect(Math.abs(detailOf<{ degrees: number[] }>(pops[0]!).degrees[0]! - 26)).toBeLessThan(0.5);
    }
  });

  test('steps are given in units and in percent of the leg', () => {
    const shot = walkShot();
    const joint = jointIndex(shot.motion, 'hand.L');
    const { detail } = measureJointPath(shot, joint, 'hand.L').readings[0]!;
    const { steps, stepsL } = detail as { steps: number[]; stepsL: number[] };
    expect(steps).toHaveLength(24);
    steps.forEach((step, i) => expect(stepsL[i]).toBeCloseTo((100 * step) / shot.scale.legLength, 2));
  });

  test('a travelling loop’s path goes on over its end', () => {
    const p = path(9, (i) => [5 * i, 0, 0], { period: 8, advance: [40, 0, 0] });
    expect(Array.from(pathSteps(p))).toEqual(Array(8).fill(5));
    expect(Math.max(...decomposePath(p).along)).toBeCloseTo(0, 12);
  });
});

describe('arc.rise', () => {
  test('a half circle rises by half its chord, to the side it bows to', () => {
    const half = path(41, (i) => [-Math.cos((Math.PI * i) / 40), Math.sin((Math.PI * i) / 40), 0]);
    expect(arcRise(half, 0, 40, [0, 1, 0])).toBeCloseTo(50, 6);
    expect(arcRise(half, 0, 40, [0, -1, 0])).toBeCloseTo(-50, 6);
  });

  test('a straight line rises nowhere, and a point has no chord', () => {
    const line = path(5, (i) => [i, i, 0]);
    expect(arcRise(line, 0, 4, [0, 1, 0])).toBeCloseTo(0, 9);
    expect(
      arcRise(
        path(3, () => [1, 1, 1]),
        0,
        2,
        [0, 1, 0],
      ),
    ).toBeNaN();
  });
});

test('a run over the threshold is reported once, at its largest, also over the end of a period', () => {
  expect(runsOver(Float64Array.of(0, 3, 5, 4, 0, 2, 0), 1)).toEqual([2, 5]);
  expect(runsOver(Float64Array.of(3, 0, 0, 2, 5), 1, 5)).toEqual([4]);
  expect(runsOver(Float64Array.of(2, 3, 2), 1, 3)).toEqual([1]);
});
