// Each number that decides is stood on both sides of, a little under and a little over: what it separates lies on its two sides, and on no other number's.
// The numbers are those of the definitions (the trade's own where they say common practice).
import { measureBreakdown, measureChart, nameSpacing } from '../src/measure/breakdown/breakdown.ts';
import { measureMoves } from '../src/measure/moves/moves-and-holds.ts';
import { scalarSignal } from '../src/measure/moves/moving-signal.ts';
import { isMove, stretchesOf } from '../src/measure/moves/stretches.ts';
import { readStep } from '../src/measure/moves/move-ends.ts';
import { measureChain } from '../src/measure/overlap/lag.ts';
import { measureShot } from '../src/measure/registry.ts';
import { judgePath } from '../src/measure/spacing/path-faults.ts';
import type { PointPath } from '../src/measure/spacing/point-path.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { axisAngle } from '../src/motion/quaternion.ts';
import { partShake } from '../src/measure/posture/shake.ts';

const times = <T>(n: number, value: (i: number) => T): T[] => Array.from({ length: n }, (_, i) => value(i));
const ease = (u: number): number => u * u * (3 - 2 * u);

/** A mast of one joint, and a rope of several on it, turned as told: degrees by joint and frame. */
function rope(turns: readonly (readonly number[])[], fps = 24): Motion {
  const frames = turns[0]!.length;
  const rotations = Float64Array.from(
    times(frames, (f) => turns.flatMap((own) => [...axisAngle([0, 0, 1], own[f]!)])).flat(),
  );
  const joints = turns.map((_, j) => ({
    name: `pennant ${j}`,
    parent: j - 1,
    offset: [0, j === 0 ? 0 : 10, 0] as const,
    ends: j === turns.length - 1 ? ([[0, 10, 0]] as const) : [],
  }));
  return { joints, frames, fps, rotations, moving: [], translations: new Float64Array() };
}
const shotOf = (...turns: readonly number[][]) => prepareShot(rope(turns), { kind: 'overlap' });

/** Rest, a turn of 60 degrees in 8 frames, a hold that drifts on by so many percent of it, the turn back, rest. */
const pilot = (drift: number, hold = 24): number[] => [
  ...times(6, () => 0),
  ...times(8, (i) => 60 * ease(i / 8)),
  ...times(hold, (i) => 60 + (60 * drift * i) / (100 * hold)),
  ...times(8, (i) => (60 + 0.6 * drift) * (1 - ease(i / 8))),
  ...times(8, () => 0),
];

describe('a hold', () => {
  const kindOf = (drift: number): unknown =>
    measureMoves(shotOf(pilot(drift)), scalarSignal(Float64Array.from(pilot(drift))), 'mast').readings.find(
      ({ id, detail }) => id === 'hold.kind' && (detail as { from: number }).from > 8,
    )?.value;

  test.each([
    [0, 'dead'],
    [0.3, 'dead'],
    [0.8, 'moving'],
    [6.5, 'moving'],
    [10, 'creeping'],
    [14, 'creeping'],
  ])('that drifts by %d percent of the move before it is %s', (drift, kind) => expect(kindOf(drift)).toBe(kind));

  test.each([24, 30, 48])('is one from two frames on, at %d frames a second by as much time', (fps) => {
    const long = (rest: number): number => {
      const values = [
        ...times(10, () => 0),
        ...times(12, (i) => 50 * ease(i / 12)),
        ...times(rest, () => 50),
        ...times(12, (i) => 50 * (1 - ease(i / 12))),
        ...times(10, () => 0),
      ];
      return stretchesOf(scalarSignal(Float64Array.from(values)), fps).filter(
        (own) => !isMove(own) && own.from > 12 && own.to < values.length - 12,
      ).length;
    };
    expect(long(0)).toBe(0);
    expect(long(Math.ceil((6 * fps) / 24))).toBe(1);
  });
});

describe('the end of a move', () => {
  /** From 0 to 100 in ten frames, past it by so much, back, and at rest. */
  const past = (over: number, rest = 24): Float64Array =>
    Float64Array.from([
      ...times(8, () => 0),
      ...times(10, (i) => (100 + over) * ease(i / 10)),
      ...times(6, (i) => 100 + over * (1 - ease(i / 6))),
      ...times(rest, () => 100),
    ]);

  test.each([3, 8, 20, 40])('goes %d percent past it: so deep is the overshoot', (over) => {
    // To what a parabola through three samples finds beside the highest of them.
    expect(Math.abs(readStep(past(over), 0, 100).overshootDepth - over)).toBeLessThan(0.35);
  });

  test('a swing past it counts from two percent of the way on', () => {
    expect([1, 3].map((over) => readStep(past(over), 0, 100).swings)).toEqual([0, 1]);
  });

  test('it has settled once it stays within five percent', () => {
    const settled = (over: number): number => readStep(past(over), 0, 100).settleFrames;
    expect(settled(4)).toBeLessThan(0.5);
    expect(settled(7)).toBeGreaterThan(2);
  });
});

describe('a frame out of place on an even way', () => {
  const path = (at: (i: number) => [number, number, number]): PointPath => ({
    points: Float64Array.from(times(25, at).flat()),
    count: 25,
  });
  // The residual of one displaced sample is its own displacement: in steps of 2 units 0.23 and 0.3 of a step are 0.46 and 0.6.
  const off = (along: number, across: number, leg = 80) =>
    judgePath(
      path((i) => [2 * i + (i === 12 ? along : 0), i === 12 ? across : 0, 0]),
      leg,
      24,
    );

  test.each([
    [0.46, false],
    [0.6, true],
  ])('%d units along a step of two: off its spacing from a quarter of a step on', (by, isOff) => {
    expect(off(by, 0).spacing[12]! > 0.25).toBe(isOff);
    expect(off(by, 0).arc[12]! > 0.25).toBe(false);
  });

  test.each([
    [0.46, false],
    [0.6, true],
  ])('%d units across it: off its arc from a quarter of a step on', (by, isOff) => {
    expect(off(0, by).arc[12]! > 0.25).toBe(isOff);
    expect(off(0, by).spacing[12]! > 0.25).toBe(false);
  });

  test('where steps are under 0.3 percent of a leg a frame nothing is asked', () => {
    // Steps of 2 on a leg of 500 are 0.4 percent, on one of 1000 0.2.
    expect(off(0, 1.9, 500).arc[12]).toBeGreaterThan(0);
    expect(off(0, 1.9, 1000).arc[12]).toBe(0);
  });
});

describe('a breakdown', () => {
  /** Poses of two joints at 1 and 3, and between them a pose so far on the way, with something of its own. */
  const between = (u: number, own: number) =>
    prepareShot(
      rope([
        [0, 40 * u + own, 40],
        [0, 30 * u - own, 30],
      ]),
      { kind: 'any' },
    );
  const told = (u: number, own = 0): Record<string, number> =>
    Object.fromEntries(
      measureBreakdown(between(u, own), { a: 1, at: 2, b: 3 })
        .readings.filter(({ part }) => part === undefined)
        .map(({ id, value }) => [id, value as number]),
    );

  test.each([0, 0.2, 0.5, 0.85, 1, 1.2, -0.2])('%d of the way favours its first pose by the rest, exactly', (u) => {
    expect(told(u)['breakdown.favour']).toBeCloseTo(100 * (1 - u), 6);
    expect(told(u)['breakdown.departure']).toBeCloseTo(0, 6);
  });

  test('what it has of its own is its departure: none of an inbetween', () => {
    expect(told(0.5, 1)['breakdown.departure']).toBeLessThan(5);
    expect(told(0.5, 9)['breakdown.departure']).toBeGreaterThan(5);
  });

  test('poses nearer than a twentieth of a degree have nothing between them', () => {
    const made = (far: number): number =>
      measureChart(prepareShot(rope([[0, far / 2, far]]), { kind: 'any' }), { a: 1, b: 3 }).readings.length;
    expect([made(0.04), made(0.08)]).toEqual([0, 1]);
  });

  test.each([
    ['even', [0, 0.25, 0.5, 0.75, 1]],
    ['even', [0, 0.27, 0.5, 0.73, 1]],
    ['slow-out', [0, 1 / 16, 1 / 4, 9 / 16, 1]],
    ['slow-in', [0, 7 / 16, 3 / 4, 15 / 16, 1]],
    ['both', [0, 0.15625, 0.5, 0.84375, 1]],
    ['halves', [0, 0.5, 0.75, 0.875, 1]],
  ] as const)('a spacing within three percent of %s is called so', (name, fractions) =>
    expect(nameSpacing([...fractions])).toBe(name),
  );
});

describe('the links of a chain', () => {
  const swing = (late: number, size = 20): number[] =>
    times(48, (f) => size * Math.sin((2 * Math.PI * (f - late)) / 24));
  const chain = (...turns: number[][]) => {
    const shot = prepareShot(rope(turns), { kind: 'overlap', loop: 'follow' });
    return measureChain(
      shot,
      turns.map((_, j) => j),
      'rope',
    ).readings;
  };
  const together = (late: number): unknown =>
    chain(swing(0), swing(late), swing(2 * late)).find(({ id }) => id === 'lag.together')?.value;

  test('move as one piece while each is under a quarter of a frame behind', () => {
    expect([together(0), together(0.15), together(-0.15), together(0.4), together(-0.4)]).toEqual([
      true,
      true,
      true,
      false,
      false,
    ]);
  });

  test('are related from a likeness of 0.6 on: a swing of twice the speed is none of the first', () => {
    const mixed = (share: number): number[] =>
      times(48, (f) => 20 * ((1 - share) * Math.sin((2 * Math.PI * f) / 24) + share * Math.sin((2 * Math.PI * f) / 8)));
    const lags = (share: number): (number | null)[] => {
      const reading = chain(swing(0), mixed(share)).find(({ id }) => id === 'lag.frames');
      return ((reading?.detail as { links?: { lag: number | null }[] } | undefined)?.links ?? []).map(({ lag }) => lag);
    };
    expect(lags(0.4)[0]).toBeCloseTo(0, 1);
    expect(lags(0.9)[0] ?? null).toBeNull();
  });

  test('one that turns by less than a degree does not swing', () => {
    const told = (size: number): number =>
      (
        chain(swing(0, 12), swing(2, size)).find(({ id }) => id === 'lag.frames')?.detail as
          { links: unknown[] } | undefined
      )?.links.length ?? 0;
    expect([told(0.4), told(3)]).toEqual([0, 1]);
  });
});

describe('a shake', () => {
  // One degree of sine every three frames has an effective value of 1/√2 (any text on signals); what sways slowly is no shake.
  const signal = (size: number, frames: number): Float64Array =>
    Float64Array.from(times(72, (f) => size * Math.sin((2 * Math.PI * f) / frames)));

  test('is told by its effective value, and a sway by nothing', () => {
    expect(partShake(signal(1, 3), 24)).toBeCloseTo(Math.SQRT1_2, 1);
    expect(partShake(signal(2, 3), 24)).toBeCloseTo(2 * partShake(signal(1, 3), 24), 6);
    expect(partShake(signal(10, 36), 24)).toBeLessThan(0.1);
  });
});

describe('drawings on twos, on threes, and blocking', () => {
  const held = (length: number, poses: number): number[] =>
    times(length * poses, (f) => 30 * Math.sin((2 * Math.PI * Math.floor(f / length)) / poses));
  const exposures = (length: number, poses = 12) => prepareShot(rope([held(length, poses)]), { kind: 'any' }).exposures;

  test.each([
    [1, 1, false],
    [2, 2, false],
    [3, 3, false],
    [4, 1, true],
    [6, 1, true],
  ])('poses that stand %d frames: measured every %d, blocking: %s', (length, stride, blocking) => {
    const told = exposures(length);
    expect(told.blocking).toBe(blocking);
    if (!blocking) expect(told.stride).toBe(stride);
  });

  test('of blocking nothing that needs motion is made, and it is said why', () => {
    const shot = prepareShot(rope([held(6, 6)]), { kind: 'overlap' });
    const { unmade } = measureShot(shot);
    expect(unmade.some(({ why }) => /blocking/.test(why))).toBe(true);
  });
});
