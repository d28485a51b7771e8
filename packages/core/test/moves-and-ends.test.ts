import bezier from 'bezier-easing';
import fc from 'fast-check';
import { jointTurn } from '../src/signal/joint-turn.ts';
import { measureMoveEnds, readStep } from '../src/measure/moves/move-ends.ts';
import {
  measureMoves,
  movesAndHolds,
  poseSignal,
  scalarSignal,
  turnsWithoutHold,
} from '../src/measure/moves/moves-and-holds.ts';
import type { Reading } from '../src/measure/reading.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepared-shot.ts';
import { axisAngle } from '../src/motion/quaternion.ts';
import { walkShot } from './fixtures.ts';

/** A mast that turns about its length as told, degrees a frame. */
function mast(turn: readonly number[]): Motion {
  const rotations = Float64Array.from(turn.flatMap((angle) => [...axisAngle([0, 1, 0], angle)]));
  return {
    joints: [{ name: 'mast', parent: -1, offset: [0, 0, 0], ends: [[0, 100, 0]] }],
    frames: turn.length,
    fps: 24,
    rotations,
    moving: [],
    translations: new Float64Array(),
  };
}

const shotOf = (turn: readonly number[]) => prepareShot(mast(turn), { kind: 'turn' });
const ease = (u: number): number => u * u * (3 - 2 * u);
const times = (n: number, value: (i: number) => number): number[] => Array.from({ length: n }, (_, i) => value(i));

/** Rest, a turn of 60 degrees in 8 frames, a hold of 12 that drifts, the turn back, rest. Common practice of a head turn. */
const pilot = (drift: number): number[] => [
  ...times(6, () => 0),
  ...times(8, (i) => 60 * ease(i / 8)),
  ...times(12, (i) => 60 + (60 * drift * i) / 1200),
  ...times(8, (i) => 60 * (1 - ease(i / 8)) + (60 * drift * (1 - i / 8)) / 100),
  ...times(8, () => 0),
];

describe('moves and holds', () => {
  const stretches = (values: readonly number[]) => movesAndHolds(scalarSignal(Float64Array.from(values)), 24);

  test('a turn, a hold and a turn back are cut where they begin and end, to a frame', () => {
    const found = stretches(pilot(3));
    expect(found.map(({ kind }) => kind)).toEqual(['hold', 'move', 'hold', 'move', 'hold']);
    [
      [5, 14],
      [14, 26],
      [26, 34],
    ].forEach(([from, to], k) => {
      expect(Math.abs(found[k + 1]!.from - from!)).toBeLessThanOrEqual(1);
      expect(Math.abs(found[k + 1]!.to - to!)).toBeLessThanOrEqual(1);
    });
  });

  test('stretches follow one another without a gap, whatever the signal', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 8, maxLength: 60 }),
        (values) => {
          const found = stretches(values);
          if (found.length === 0) return;
          expect([found[0]!.from, found.at(-1)!.to]).toEqual([0, values.length - 1]);
          for (let k = 1; k < found.length; k++)
            expect([found[k]!.from, found[k]!.kind !== found[k - 1]!.kind]).toEqual([found[k - 1]!.to, true]);
        },
      ),
    );
  });

  test('a short move in a long rest counts', () => {
    const found = stretches([
      ...times(200, () => 0),
      ...times(6, (i) => 40 * ease((i + 1) / 6)),
      ...times(200, () => 40),
    ]);
    expect(found.map(({ kind }) => kind)).toEqual(['hold', 'move', 'hold']);
    expect(found[1]!.to - found[1]!.from).toBeGreaterThanOrEqual(4);
    expect(found[1]!.to - found[1]!.from).toBeLessThanOrEqual(7);
  });

  // Common practice: a slight drift keeps a hold alive; none is dead, much is creeping.
  test.each([
    [0, 'dead'],
    [3, 'moving'],
    [6, 'moving'],
  ])('a hold that drifts by %d percent is %s', (drift, kind) => {
    const { readings } = measureMoves(shotOf(pilot(drift)), scalarSignal(Float64Array.from(pilot(drift))), 'mast');
    const middle = readings.filter(({ id }) => id === 'hold.kind')[0]!;
    expect(middle.value).toBe(kind);
    const drifted = readings.filter(({ id }) => id === 'hold.drift')[0]!.value as number;
    expect(Math.abs(drifted - drift)).toBeLessThan(1.2);
  });

  test('the whole pose is cut the same way, by labels, and what never moves is not made', () => {
    const shot = prepareShot(mast(pilot(3)), { kind: 'turn', firstFrame: 100 });
    const { readings } = measureMoves(shot, poseSignal(shot));
    const holds = readings.filter(({ id }) => id === 'hold.frames');
    expect(holds.map(({ detail }) => (detail as { from: number }).from)).toEqual([
      100,
      expect.any(Number),
      expect.any(Number),
    ]);
    expect(Math.abs((holds[1]!.value as number) - 12)).toBeLessThanOrEqual(1);
    expect(measureMoves(shotOf(times(20, () => 5)), poseSignal(shotOf(times(20, () => 5)))).unmade[0]!.why).toContain(
      'nothing moves',
    );
  });
});

/** Response of a second-order system to a unit step, `perCycle` samples an undamped cycle. */
const secondOrder = (ζ: number, perCycle: number, count: number): number[] => {
  const ω = (2 * Math.PI) / perCycle;
  const ωd = ω * Math.sqrt(1 - ζ * ζ);
  return times(count, (i) => 1 - Math.exp(-ζ * ω * i) * (Math.cos(ωd * i) + ((ζ * ω) / ωd) * Math.sin(ωd * i)));
};

// Any control engineering textbook: overshoot = exp(−πζ/√(1−ζ²)); damped period 2π/(ω√(1−ζ²)).
describe('a second-order step response', () => {
  test.each([0.2, 0.3, 0.4, 0.5, 0.6, 0.7])('with ζ = %d overshoots by exp(−πζ/√(1−ζ²)) and gives its ζ back', (ζ) => {
    const step = readStep(secondOrder(ζ, 48, 600), 0, 1);
    expect(step.overshootDepth).toBeCloseTo(100 * Math.exp((-Math.PI * ζ) / Math.sqrt(1 - ζ * ζ)), 0);
    expect(Math.abs(step.damping! - ζ)).toBeLessThan(0.02);
    const halfPeriod = 24 / Math.sqrt(1 - ζ * ζ);
    expect(Math.abs(step.overshootFrames - halfPeriod)).toBeLessThan(0.5);
    expect(step.anticipationDepth).toBe(0);
  });

  test('settles sooner the more it is damped, and swings less often', () => {
    const responses = [0.15, 0.3, 0.6].map((ζ) => readStep(secondOrder(ζ, 24, 400), 0, 1));
    for (let k = 1; k < responses.length; k++) {
      expect(responses[k]!.settleFrames).toBeLessThan(responses[k - 1]!.settleFrames);
      expect(responses[k]!.swings).toBeLessThan(responses[k - 1]!.swings);
    }
  });

  test('over-damped it neither overshoots nor swings', () => {
    const step = readStep(
      times(200, (i) => 1 - Math.exp(-i / 9)),
      0,
      1,
    );
    expect([step.overshootDepth, step.swings, step.damping]).toEqual([0, 0, undefined]);
  });

  test('of any size, place and direction is read the same', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -300, max: 300, noNaN: true }),
        fc.double({ min: 1, max: 200, noNaN: true }),
        fc.boolean(),
        (x0, size, down) => {
          const travel = down ? -size : size;
          const plain = readStep(secondOrder(0.4, 30, 200), 0, 1);
          const moved = readStep(
            secondOrder(0.4, 30, 200).map((y) => x0 + travel * y),
            x0,
            x0 + travel,
          );
          expect(moved.overshootDepth).toBeCloseTo(plain.overshootDepth, 4);
          expect(moved.settleFrames).toBeCloseTo(plain.settleFrames, 4);
        },
      ),
    );
  });
});

// Reference: W3C, CSS Easing Functions, cubic-bezier(), through the registry package bezier-easing.
describe('eases', () => {
  const read = (curve: readonly [number, number, number, number]) => {
    const of = bezier(...curve);
    const step = readStep(
      times(121, (i) => of(i / 120)),
      0,
      1,
    );
    return { step, of };
  };

  test.each<[string, [number, number, number, number]]>([
    ['linear', [0, 0, 1, 1]],
    ['ease', [0.25, 0.1, 0.25, 1]],
    ['ease-in', [0.42, 0, 1, 1]],
    ['ease-out', [0, 0, 0.58, 1]],
    ['ease-in-out', [0.42, 0, 0.58, 1]],
  ])('the first and last third of %s are three times its values there', (_, curve) => {
    const { step, of } = read(curve);
    expect(step.easeOut).toBeCloseTo(3 * of(1 / 3), 2);
    expect(step.easeIn).toBeCloseTo(3 * (1 - of(2 / 3)), 2);
  });

  test('even is 1 at both ends, and what CSS calls ease-in leaves slowly and arrives at speed', () => {
    expect(read([0, 0, 1, 1]).step).toMatchObject({ easeOut: expect.closeTo(1, 3), easeIn: expect.closeTo(1, 3) });
    const { step } = read([0.42, 0, 1, 1]);
    expect(step.easeOut).toBeLessThan(0.85);
    expect(step.easeIn).toBeGreaterThan(1);
  });

  test('a curve that draws back first and shoots past its end has both at their size', () => {
    const { step, of } = read([0.4, -0.4, 0.5, 1.5]);
    const values = times(1001, (i) => of(i / 1000));
    expect(step.anticipationDepth).toBeCloseTo(-100 * Math.min(...values), 0);
    expect(step.overshootDepth).toBeCloseTo(100 * (Math.max(...values) - 1), 0);
    expect(step.anticipationFrames).toBeGreaterThan(5);
  });
});

describe('the ends of a joint’s moves', () => {
  // Common practice: a lean of 20 degrees is anticipated by 4 to 5 the other way, and settles back after overshooting.
  const lean = [
    ...times(8, () => 0),
    ...times(6, (i) => -5 * ease((i + 1) / 6)),
    ...times(8, (i) => -5 + 29 * ease((i + 1) / 8)),
    ...times(6, (i) => 24 - 4 * ease((i + 1) / 6)),
    ...times(14, () => 20),
  ];

  test('a lean is read with its anticipation and overshoot', () => {
    const shot = shotOf(lean);
    const { readings } = measureMoveEnds(shot, jointTurn(shot, 0), 'mast');
    const value = (id: string): number => readings.find((r: Reading) => r.id === id)!.value as number;
    expect(Math.abs(value('anticipation.depth') - 25)).toBeLessThan(1);
    expect(Math.abs(value('overshoot.depth') - 20)).toBeLessThan(1);
    expect(value('settle.swings')).toBe(1);
    expect(readings.every(({ part }) => part === 'mast')).toBe(true);
  });

  test('a joint’s turn is the angle about its main axis, local and in the world', () => {
    const shot = shotOf(lean);
    const turn = jointTurn(shot, 0);
    lean.forEach((angle, i) => expect(turn[i]).toBeCloseTo(angle, 6));
    expect(Array.from(jointTurn(shot, 0, 'world'))).toEqual(Array.from(turn));
  });

  test('what does not move has no ends', () => {
    expect(
      measureMoveEnds(shotOf(times(20, () => 3)), jointTurn(shotOf(times(20, () => 3)), 0), 'mast').unmade[0]!.why,
    ).toContain('nothing moves');
    expect(measureMoveEnds(walkShot(), new Float64Array(25), 'x').readings).toEqual([]);
  });
});

describe('two moves with no hold between them', () => {
  const kinds = (turn: readonly number[]) =>
    measureMoves(shotOf(turn), scalarSignal(Float64Array.from(turn)), 'head').readings.filter(
      ({ id }) => id === 'hold.kind',
    );
  /** There and straight back, as fast on the last frame as in the middle. */
  const sawtooth = [
    ...times(6, () => 0),
    ...times(9, (i) => 6 * i),
    ...times(8, (i) => 42 - 6 * i),
    ...times(6, () => 0),
  ];

  test('are a creeping hold where the direction reverses at speed', () => {
    expect(kinds(sawtooth)[0]).toMatchObject({
      value: 'creeping',
      frames: [15],
      note: expect.stringMatching(/no hold/),
    });
  });

  test('are none where the head stops, however shortly, or swings past its end and back', () => {
    expect(kinds(pilot(3)).map(({ value }) => value)).not.toContain('creeping');
    const past = [...times(6, () => 0), ...times(9, (i) => 6 * i), 44, 41, 40, ...times(10, () => 40)];
    expect(kinds(past).map(({ value }) => value)).not.toContain('creeping');
  });

  test('can’t be told of a signal without a direction', () => {
    const steps = Float64Array.from([3, 3, 3, 3]);
    expect(turnsWithoutHold({ steps, distance: () => 1 }, { kind: 'move', from: 0, to: 4 })).toEqual([]);
  });
});

describe('a freeze', () => {
  test('behind a move that eases in is dead, though the ease leaves a drift', () => {
    const eased = times(24, (i) => 40 * (1 - Math.exp(-i / 3)));
    const turn = [...times(6, () => 0), ...eased, ...times(20, () => eased.at(-1)!)];
    const readings = measureMoves(shotOf(turn), scalarSignal(Float64Array.from(turn))).readings;
    expect(readings.find(({ id }) => id === 'hold.drift')!.value).toBeGreaterThan(2);
    expect(readings.find(({ id }) => id === 'hold.kind')!.value).toBe('dead');
  });

  test('is not what a hold that keeps drifting is', () => {
    const eased = times(24, (i) => 40 * (1 - Math.exp(-i / 3)));
    const turn = [...times(6, () => 0), ...eased, ...times(20, (i) => eased.at(-1)! + 0.02 * i)];
    const readings = measureMoves(shotOf(turn), scalarSignal(Float64Array.from(turn))).readings;
    expect(readings.find(({ id }) => id === 'hold.kind')!.value).toBe('moving');
  });
});

test('a move that comes back to where it began has travelled as far as it got', () => {
  const turn = [
    ...times(6, () => 0),
    ...times(20, (i) => 30 * Math.sin((Math.PI * (i + 1)) / 21)),
    ...times(8, () => 0),
  ];
  const move = measureMoves(shotOf(turn), scalarSignal(Float64Array.from(turn))).readings.find(
    ({ id }) => id === 'move.frames',
  )!;
  expect(Math.abs((move.detail!.travel as number) - 30)).toBeLessThan(0.5);
});
