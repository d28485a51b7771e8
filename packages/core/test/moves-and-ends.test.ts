import bezier from 'bezier-easing';
import fc from 'fast-check';
import { jointTurn } from '../src/motion/joint-turn.ts';
import { easeOf, measureMoveEnds, readStep } from '../src/measure/moves/move-ends.ts';
import { measureMoves } from '../src/measure/moves/moves-and-holds.ts';
import { poseSignal, scalarSignal } from '../src/measure/moves/moving-signal.ts';
import { isMove, stretchesOf } from '../src/measure/moves/stretches.ts';
import type { Reading } from '../src/measure/reading.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { axisAngle } from '../src/motion/quaternion.ts';
import { detailOf, walkShot } from './fixtures.ts';

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
  const stretches = (values: readonly number[]) => stretchesOf(scalarSignal(Float64Array.from(values)), 24);

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

  // Common practice: a tremble of a percent within a turn is no second turn; a turn back by a third of it is one.
  test('a way back is a move of its own by its size', () => {
    const turn = (back: number): number[] => [
      ...times(6, () => 0),
      ...times(8, (i) => 60 * ease(i / 8)),
      ...times(6, (i) => 60 - back * ease(i / 6)),
      ...times(8, (i) => 60 - back + (40 + back) * ease(i / 8)),
      ...times(8, () => 100),
    ];
    const moves = (back: number): number => stretches(turn(back)).filter(({ kind }) => kind === 'move').length;
    expect([moves(0.4), moves(50)]).toEqual([moves(0), moves(0) + 1]);
    // Whatever unit it is told in.
    const spans = (size: number) =>
      stretches(turn(50).map((v) => size * v)).map(({ kind, from, to }) => [kind, from, to]);
    expect(spans(1e-3)).toEqual(spans(1));
  });

  test('stretches come in order and do not overlap, whatever the signal', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 8, maxLength: 60 }),
        (values) => {
          const found = stretches(values);
          for (const [k, { from, to }] of found.entries()) {
            expect(to).toBeGreaterThan(from);
            expect(from).toBeGreaterThanOrEqual(found[k - 1]?.to ?? 0);
            expect(to).toBeLessThan(values.length);
          }
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

  test('it is one move behind which it settles, however lightly it is damped', () => {
    for (const ζ of [0.15, 0.2, 0.3, 0.5]) {
      // A turn that rests before it and behind: its swings are no moves of their own.
      const turn = [...times(24, () => 0), ...secondOrder(ζ, 24, 240).map((value) => 40 * value)];
      const moves = stretchesOf(scalarSignal(Float64Array.from(turn)), 24).filter(isMove);
      expect([ζ, moves.length]).toEqual([ζ, 1]);
      expect(moves[0]!.from).toBeLessThanOrEqual(25);
      expect(moves[0]!.rests).toBeGreaterThanOrEqual(moves[0]!.to + 12);
    }
  });

  test('swings that do not die down are moves', () => {
    const swings = [
      ...times(24, () => 0),
      ...times(96, (i) => 20 * Math.sin((i * Math.PI) / 12)),
      ...times(24, () => 0),
    ];
    expect(stretchesOf(scalarSignal(Float64Array.from(swings)), 24).filter(isMove).length).toBeGreaterThan(5);
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
  const read = (curve: readonly [number, number, number, number], frames = 120) => {
    const of = bezier(...curve);
    const values = times(frames + 1, (i) => of(i / frames));
    return { ease: easeOf(values, { from: 0, to: frames }), step: readStep(values, 0, 1), of };
  };

  test.each<[string, [number, number, number, number]]>([
    ['linear', [0, 0, 1, 1]],
    ['ease', [0.25, 0.1, 0.25, 1]],
    ['ease-in', [0.42, 0, 1, 1]],
    ['ease-out', [0, 0, 0.58, 1]],
    ['ease-in-out', [0.42, 0, 0.58, 1]],
  ])('the first and last third of %s are three times its values there', (_, curve) => {
    for (const frames of [8, 10, 120]) {
      const { ease: found, of } = read(curve, frames);
      expect(found.out).toBeCloseTo(3 * of(1 / 3), 1);
      expect(found.in).toBeCloseTo(3 * (1 - of(2 / 3)), 1);
    }
  });

  // By hand: 3(1/3)² − 2(1/3)³ = 7/27; 10(1/3)³ − 15(1/3)⁴ + 6(1/3)⁵ = 17/81.
  test('even is 1 at both ends, 3u² − 2u³ is 7/9, 10u³ − 15u⁴ + 6u⁵ is 17/27', () => {
    const of = (curve: (u: number) => number) =>
      easeOf(
        times(9, (i) => curve(i / 8)),
        { from: 0, to: 8 },
      );
    expect(of((u) => u)).toEqual({ out: expect.closeTo(1, 6), in: expect.closeTo(1, 6) });
    expect(of(ease)).toEqual({ out: expect.closeTo(7 / 9, 6), in: expect.closeTo(7 / 9, 6) });
    const { out } = of((u) => u ** 3 * (10 - 15 * u + 6 * u * u));
    expect(out).toBeCloseTo(17 / 27, 2);
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
      detail: { from: 15, to: 15, betweenMoves: true },
    });
  });

  test('are none where the head stops, however shortly, or swings past its end and back', () => {
    expect(kinds(pilot(3)).map(({ value }) => value)).not.toContain('creeping');
    const past = [...times(6, () => 0), ...times(9, (i) => 6 * i), 44, 41, 40, ...times(10, () => 40)];
    expect(kinds(past).map(({ value }) => value)).not.toContain('creeping');
  });

  test('can’t be told of a signal without a direction', () => {
    const steps = Float64Array.from([3, 3, 3, 3]);
    expect(stretchesOf({ steps, distance: () => 1 }, 24)).toEqual([
      { kind: 'move', from: 0, to: 4, begins: 0, rests: 4, afterNoHold: false },
    ]);
  });
});

describe('the real ends of moves', () => {
  const readingsOf = (turn: readonly number[]) =>
    measureMoves(shotOf(turn), scalarSignal(Float64Array.from(turn)), 'head').readings;
  const valuesOf = (turn: readonly number[], id: string) =>
    readingsOf(turn).flatMap((r) => (r.id === id ? [r.value] : []));
  const to = (turn: readonly number[]) => [...turn, ...times(6, () => turn.at(-1)!)];

  test('a rest of two frames between two moves reads as two, linear or eased', () => {
    for (const curve of [(u: number) => u, ease]) {
      const turn = to([
        ...times(6, () => 0),
        ...times(9, (i) => 40 * curve(i / 8)),
        40,
        40,
        ...times(8, (i) => 40 - 40 * curve((i + 1) / 8)),
      ]);
      expect(valuesOf(turn, 'hold.frames')[1]).toBe(2);
      expect(valuesOf(turn, 'move.frames')).toEqual([8, 8]);
    }
  });

  test('an ease into a drift is read as what it is, however the rest drifts', () => {
    for (const drift of [0, 0.5, 3, 7]) {
      const turn = [
        ...times(6, () => 0),
        ...times(8, (i) => 40 * ease(i / 8)),
        ...times(16, (i) => 40 + (40 * drift * i) / 1500),
      ];
      const { readings } = measureMoveEnds(shotOf(turn), Float64Array.from(turn), 'head');
      const value = (id: string) => readings.find((r) => r.id === id)!.value as number;
      expect(Math.abs(value('ease.in') - 7 / 9)).toBeLessThan(0.04);
      expect(Math.abs(value('ease.out') - 7 / 9)).toBeLessThan(0.04);
      expect(value('overshoot.depth')).toBeLessThan(0.5);
    }
  });

  test('a small way the other way before the turn back is its anticipation, and the hold before it does not creep', () => {
    const back = 4;
    const turn = to([
      ...times(6, () => 0),
      ...times(8, (i) => 40 * ease(i / 8)),
      ...times(14, (i) => 40 + 0.05 * i),
      ...times(4, (i) => 40.65 + back * ease((i + 1) / 4)),
      ...times(8, (i) => 44.65 - 44.65 * ease((i + 1) / 8)),
    ]);
    expect(valuesOf(turn, 'hold.kind')[0]).toBe('moving');
    const holds = readingsOf(turn).filter(({ id }) => id === 'hold.frames');
    expect(Math.abs((holds[1]!.value as number) - 13)).toBeLessThanOrEqual(1);
    const second = readingsOf(turn).filter(({ id }) => id === 'move.frames')[1]!;
    expect(detailOf(second).anticipates).toBe(4);
    const depth = measureMoveEnds(shotOf(turn), Float64Array.from(turn), 'head').readings.filter(
      ({ id }) => id === 'anticipation.depth',
    );
    expect(Math.abs((depth[1]!.value as number) - (100 * back) / 40.65)).toBeLessThan(1.5);
  });

  test('a hold that drifts by one percent is alive, one that is frozen is dead', () => {
    for (const frames of [12, 40, 80]) {
      const rest = (drift: number) => [
        ...times(6, () => 0),
        ...times(8, (i) => 40 * ease(i / 8)),
        ...times(frames, (i) => 40 + (40 * drift * i) / 100 / (frames - 1)),
      ];
      expect(valuesOf(rest(1), 'hold.kind')).toEqual(['moving']);
      expect(valuesOf(rest(0), 'hold.kind')).toEqual(['dead']);
      expect(valuesOf(rest(12), 'hold.kind')).toEqual(['creeping']);
    }
  });

  test('a smooth turning point is no hold', () => {
    for (const period of [12, 24, 48]) {
      const swing = times(3 * period, (i) => 30 * Math.sin((2 * Math.PI * i) / period));
      expect(valuesOf(swing, 'hold.frames')).toEqual([]);
    }
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
  expect(Math.abs(detailOf(move).travel! - 30)).toBeLessThan(0.5);
});
