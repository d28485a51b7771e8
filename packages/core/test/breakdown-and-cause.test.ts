import fc from 'fast-check';
import { measureBreakdown, measureChart, nameSpacing } from '../src/measure/breakdown/breakdown.ts';
import { measureCause, type Share } from '../src/measure/attention/cause.ts';
import { measureHead } from '../src/measure/head/head.ts';
import { jointIndex, type Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { quatAt, slerp, unit } from '../src/motion/quaternion.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { detailOf, walkShot } from './fixtures.ts';

/** A figure that goes from one pose to another with given fractions of the way. */
function between(fractions: readonly number[], from = 0, to = 6): Motion {
  const walk = walkExemplar();
  const n = walk.joints.length;
  const rotations = new Float64Array(4 * n * fractions.length);
  fractions.forEach((u, f) => {
    for (let j = 0; j < n; j++)
      rotations.set(
        slerp(quatAt(walk.rotations, from * n + j), quatAt(walk.rotations, to * n + j), u),
        4 * (f * n + j),
      );
  });
  const translations = Float64Array.from(fractions.flatMap(() => [0, 90, 0]));
  return { ...walk, frames: fractions.length, rotations, translations };
}

const prepared = (fractions: readonly number[]) => prepareShot(between(fractions), { loop: 'none' });

describe('breakdowns', () => {
  test('of a spherical interpolation at u the favour is exactly 1 − u, beyond both ends as well, and nothing departs', () => {
    fc.assert(
      fc.property(fc.double({ min: -0.4, max: 1.4, noNaN: true }), (u) => {
        const { readings } = measureBreakdown(prepared([0, u, 1]), { a: 1, at: 2, b: 3 });
        for (const { id, value } of readings) {
          if (id === 'breakdown.favour') expect(value).toBeCloseTo(100 * (1 - u), 3);
          else expect(value).toBeLessThan(0.01);
        }
      }),
    );
  });

  // Common practice: a breakdown that keeps a pose alive longer favours it by 80 to 90 percent.
  test('a pose that stays near the first favours it, part by part where parts differ', () => {
    const motion = between([0, 0.15, 1]);
    const n = motion.joints.length;
    const hand = jointIndex(motion, 'upperArm.L');
    motion.rotations.set(
      slerp(quatAt(motion.rotations, hand), quatAt(motion.rotations, 2 * n + hand), 0.6),
      4 * (n + hand),
    );
    const { readings } = measureBreakdown(prepareShot(motion, { loop: 'none' }), { a: 1, at: 2, b: 3 });
    const favour = (part?: string): number =>
      readings.find((r) => r.id === 'breakdown.favour' && r.part === part)!.value as number;
    expect(favour('leg.L')).toBeCloseTo(85, 3);
    expect(favour('arm.L')).toBeLessThan(75);
    expect(readings.find((r) => r.id === 'breakdown.departure' && r.part === 'arm.L')!.value).toBeGreaterThan(5);
  });

  test('poses that are the same have nothing between them', () => {
    const { readings, unmade } = measureBreakdown(prepared([0, 0.5, 0]), { a: 1, at: 2, b: 3 });
    expect(readings).toEqual([]);
    expect(unmade[0]!.why).toContain('the same');
  });
});

describe('timing charts', () => {
  const bezier = (out: number, into: number) =>
    Array.from({ length: 13 }, (_, i) => {
      const u = i / 12;
      // A cubic with the given shares of an even start and end.
      return out * u * (1 - u) ** 2 + (3 - 2 * u) * u * u - into * u * u * (1 - u);
    });

  test.each<[string, number[]]>([
    ['even', Array.from({ length: 9 }, (_, i) => i / 8)],
    ['halves', [0, 0.5, 0.75, 0.875, 1]],
    ['halves', [0, 0.125, 0.25, 0.5, 0.75, 0.875, 1]],
    ['slow-out', Array.from({ length: 9 }, (_, i) => (i / 8) ** 2)],
    ['slow-in', Array.from({ length: 9 }, (_, i) => 1 - (1 - i / 8) ** 2)],
    ['both', bezier(0, 0)],
    ['uneven', [0, 0.6, 0.45, 0.9, 0.7, 1]],
  ])('%s', (name, fractions) => {
    expect(nameSpacing(fractions)).toBe(name);
  });

  test('the fractions of a move are those it was made with', () => {
    const made = [0, 0.1, 0.3, 0.55, 0.9, 1];
    const [reading] = measureChart(prepared(made), { a: 1, b: 6 }).readings;
    (reading!.detail as { fractions: number[] }).fractions.forEach((t, i) => expect(t).toBeCloseTo(made[i]!, 3));
    expect(measureChart(prepared(made), { a: 1, b: 2 }).unmade[0]!.why).toContain('no frame between');
  });
});

describe('what causes a motion', () => {
  const shares = (
    shot: ReturnType<typeof walkShot>,
    name: string,
    kind: 'rotation' | 'position',
    from?: number,
    to?: number,
  ): Map<string, number> => {
    const [reading] = measureCause(shot, jointIndex(shot.motion, name), from, to).readings;
    return new Map(detailOf<Record<string, Share[]>>(reading!)[kind]!.map(({ joint, share }) => [joint, share]));
  };

  test('shares of a joint and all its ancestors sum to 1, for any joint and range', () => {
    const shot = walkShot({ pop: 20, seam: 10 });
    fc.assert(
      fc.property(
        fc.constantFrom('head', 'hand.L', 'toe.R', 'bag', 'hips'),
        fc.integer({ min: 0, max: 12 }),
        fc.integer({ min: 1, max: 12 }),
        (name, from, length) => {
          for (const kind of ['rotation', 'position'] as const) {
            const sum = [...shares(shot, name, kind, from, from + length).values()].reduce((a, b) => a + b, 0);
            expect(sum).toBeCloseTo(1, 9);
          }
        },
      ),
    );
  });

  test('a head that is carried along is turned by what carries it, not by itself', () => {
    const motion = walkExemplar({}, {});
    const n = motion.joints.length;
    const rotations = new Float64Array(motion.rotations.length);
    // Only the hips turn: everything above stays as it is.
    for (let f = 0; f < motion.frames; f++) {
      for (let j = 0; j < n; j++)
        rotations.set(j === 0 ? unit([0, Math.sin(f / 9), 0, 1]) : [0, 0, 0, 1], 4 * (f * n + j));
    }
    const found = shares(prepareShot({ ...motion, rotations }, { loop: 'none' }), 'head', 'rotation');
    expect(found.get('hips')).toBeCloseTo(1, 9);
    expect(found.get('head')).toBeCloseTo(0, 9);
  });

  test('one joint that pops makes the turning over its frames', () => {
    const found = shares(walkShot({ pop: 40 }), 'hand.R', 'rotation', 7, 9);
    expect([...found].sort((a, b) => b[1] - a[1])[0]![0]).toBe('foreArm.R');
    expect(found.get('foreArm.R')).toBeGreaterThan(0.9);
  });

  test('a joint that does not move has no cause', () => {
    const shot = prepareShot(between([0, 0, 0]), { loop: 'none' });
    expect(measureCause(shot, 3).unmade[0]!.why).toContain('does not move');
  });
});

describe('the head', () => {
  const reading = (steady: number, id: string): number =>
    measureHead(walkShot({}, { steady })).readings.find((r) => r.id === id)!.value as number;

  test.each([0, 0.3, 0.6, 0.85, 1])('made to undo %d of the chest’s turning, it is found to', (steady) => {
    expect(Math.abs(reading(steady, 'head.counter') - steady)).toBeLessThan(0.04);
  });

  test('is the steadier the more it undoes', () => {
    expect(reading(0, 'head.steady')).toBeCloseTo(1, 1);
    expect(reading(0.9, 'head.steady')).toBeLessThan(0.25);
  });
});
