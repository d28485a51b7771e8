import fc from 'fast-check';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { measureGaitFeet } from '../src/measure/gait/gait-feet.ts';
import { measureShot } from '../src/measure/registry.ts';
import { correlation, lagBehind, straightness } from '../src/signal/correlation.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { axisAngle, multiply, quatAt, rotate } from '../src/motion/quaternion.ts';
import type { Vec3 } from '../src/motion/vector.ts';
import { detailOf, readingOf, recording, walkShot } from './fixtures.ts';
import { cut } from './material.ts';

const value = (shot: PreparedShot, id: string, part?: string): number => readingOf(shot, id, part).value as number;

describe('signals', () => {
  test('the delay between two sines is found, whole and fractional, on a loop and not', () => {
    fc.assert(
      fc.property(fc.double({ min: -5, max: 5, noNaN: true }), fc.boolean(), (delay, loop) => {
        const T = 24;
        const n = loop ? T : 3 * T;
        const wave = (late: number) =>
          Float64Array.from({ length: n }, (_, i) => Math.sin((2 * Math.PI * (i - late)) / T));
        const { lag, likeness } = lagBehind(wave(0), wave(delay), 8, loop ? T : undefined);
        expect(Math.abs(lag - delay)).toBeLessThan(loop ? 0.02 : 0.25);
        expect(likeness).toBeGreaterThan(0.99);
      }),
    );
  });

  test('correlation and straightness of lines, and of signals that do not move', () => {
    expect(correlation([1, 2, 3], [5, 3, 1])).toBeCloseTo(-1, 12);
    expect(correlation([1, 1, 1], [1, 2, 3])).toBeNaN();
    expect(straightness([4, 2, 0, -2])).toBeCloseTo(1, 12);
    expect(straightness([0, 5, 5, 0])).toBeLessThan(0.1);
  });
});

// Common practice for a 24-frame cycle at 24 fps, first frame 1; frames are right to ±1 by definition.
describe('a natural walk', () => {
  const shot = walkShot();
  const frames = (id: string): number[] =>
    measureShot(shot)
      .readings.filter((reading) => reading.id === id)
      .map((reading) => reading.value as number);

  test.each([
    ['gait.contact', [1, 13]],
    ['gait.down', [4, 16]],
    ['gait.passing', [7, 19]],
    ['gait.up', [10, 22]],
  ])('%s', (id, wanted) => {
    const found = frames(id).sort((a, b) => a - b);
    expect(found).toHaveLength(2);
    wanted.forEach((frame, k) => expect(Math.abs(found[k]! - frame)).toBeLessThanOrEqual(1));
  });

  test('has steps of 12 frames, alike on both sides, and always a foot on the ground', () => {
    expect(value(shot, 'gait.step')).toBe(12);
    expect(readingOf(shot, 'gait.step').detail).toMatchObject({ unevenness: 0 });
    expect(value(shot, 'gait.flight')).toBe(0);
  });

  // Gait literature: stance about 60 %; a change to running near a Froude number of 0.5 (both from memory).
  test('stands on each foot for about 60 % of the cycle, slower than where walkers begin to run', () => {
    for (const part of ['leg.L', 'leg.R'])
      expect(Math.abs(value(shot, 'gait.stance', part) - 60)).toBeLessThanOrEqual(100 / 24 + 0.01);
    expect(value(shot, 'gait.froude')).toBeGreaterThan(0.1);
    expect(value(shot, 'gait.froude')).toBeLessThan(0.5);
  });

  test('has arms against the legs, hips over the carrying foot and with the leading leg, the chest against them and later', () => {
    expect(value(shot, 'gait.opposition', 'arm.L')).toBeLessThan(-0.8);
    expect(value(shot, 'gait.shift')).toBeGreaterThan(0.8);
    expect(value(shot, 'gait.pelvis')).toBeGreaterThan(0.9);
    expect(value(shot, 'gait.counter')).toBeLessThan(-0.9);
    expect(detailOf(readingOf(shot, 'gait.counter')).lag).toBeCloseTo(1, 1);
    expect(detailOf(readingOf(walkShot({ noDelay: 1 }), 'gait.counter')).lag).toBeCloseTo(0, 1);
  });

  test('stride and bob are measured as they were made', () => {
    for (const stride of [55, 74]) {
      // The feet are told a frame after they land, when the front one has gone back by one frame's travel.
      const expected = stride - stride / 12 / 2;
      expect(Math.abs(value(walkShot({}, { stride }), 'gait.stepLength') - expected)).toBeLessThan(8);
    }
    for (const bob of [2, 4.5, 8]) expect(value(walkShot({}, { bob }), 'gait.bob')).toBeCloseTo(bob, 2);
  });
});

describe('faults are measured at their size, in their own reading', () => {
  test.each([3, 5, 8])('a slide of %i %%L', (slide) => {
    for (const part of ['leg.L', 'leg.R'])
      expect(Math.abs(value(walkShot({ slide }), 'gait.slide', part) - slide)).toBeLessThan(0.6);
    expect(value(walkShot({ slide }), 'gait.even', 'leg.L')).toBeLessThan(value(walkShot(), 'gait.even', 'leg.L'));
  });

  test('a foot that does not slide stays within a shoe’s roll', () => {
    expect(value(walkShot(), 'gait.slide', 'leg.L')).toBeLessThan(1.5);
    expect(value(walkShot(), 'gait.even', 'leg.L')).toBeGreaterThan(0.999);
  });

  test.each([3, 6])('a foot %i %%L under the ground', (depth) => {
    const reading = readingOf(walkShot({ depth }), 'gait.depth', 'leg.L');
    expect(Math.abs((reading.value as number) - depth)).toBeLessThan(0.8);
    expect(value(walkShot(), 'gait.depth', 'leg.L')).toBe(0);
  });

  test('the lowest hips on the contact instead of after it', () => {
    expect(value(walkShot(), 'gait.lowAfter')).toBeGreaterThanOrEqual(2);
    expect(value(walkShot({ lowOnContact: 1 }), 'gait.lowAfter')).toBeLessThanOrEqual(0);
  });

  test('a knee that snaps next to the first or the last frame of a shot that does not loop is found', () => {
    const whole = walkExemplar({}, { kneePop: 1 });
    const [at] = readingOf(prepareShot(whole, { kind: 'walk', loop: 'none' }), 'gait.knee', 'leg.R').frames!;
    const pops = (from: number, to: number): number =>
      Number(readingOf(prepareShot(cut(whole, from, to), { kind: 'walk', loop: 'none' }), 'gait.knee', 'leg.R').value);
    // Samples count from 0, labels from 1: the snap is at sample 1, and at the last but one.
    expect(pops(at! - 2, whole.frames - 1)).toBeGreaterThan(0);
    expect(pops(0, at!)).toBeGreaterThan(0);
  });

  test('knees that snap are found in both legs, at their frames', () => {
    const [left, right] = ['leg.L', 'leg.R'].map((part) => readingOf(walkShot({ kneePop: 1 }), 'gait.knee', part));
    expect([left!.frames, right!.frames]).toEqual([[23], [11]]);
    expect(value(walkShot(), 'gait.knee', 'leg.L')).toBe(0);
  });

  test('arms with the legs of their own side', () => {
    for (const part of ['arm.L', 'arm.R'])
      expect(value(walkShot({ sameSideArms: 1 }), 'gait.opposition', part)).toBeGreaterThan(0.8);
  });

  test('each leaves the others’ readings alone', () => {
    const plain = walkShot();
    const untouched = ['gait.step', 'gait.flight', 'gait.track'];
    for (const faults of [{ slide: 5 }, { bigBob: 4 }, { kneePop: 1 }, { twinArms: 1 }, { pop: 26 }]) {
      const shot = walkShot(faults);
      for (const id of untouched) expect([id, value(shot, id)]).toEqual([id, value(plain, id)]);
    }
    expect(value(walkShot({ slide: 5 }), 'gait.bob')).toBeCloseTo(4.5, 6);
    expect(value(walkShot({ bigBob: 5 }), 'gait.slide', 'leg.L')).toBeCloseTo(value(plain, 'gait.slide', 'leg.L'), 3);
  });
});

/** The motion with every place and turn carried into other axes, another size and another spot. */
function carried(motion: Motion, turn: readonly [axis: Vec3, degrees: number], size: number, [x, y, z]: Vec3): Motion {
  const q = axisAngle(turn[0], turn[1]);
  const move = (v: Vec3): Vec3 => rotate(q, [v[0] * size, v[1] * size, v[2] * size]);
  const rotations = motion.rotations.slice();
  for (let k = 0; k < rotations.length / 4; k++) {
    rotations.set(multiply(multiply(q, quatAt(rotations, k)), [-q[0], -q[1], -q[2], q[3]]), 4 * k);
  }
  const translations = motion.translations.slice();
  for (let k = 0; k < translations.length / 3; k++) {
    const p = move([translations[3 * k]!, translations[3 * k + 1]!, translations[3 * k + 2]!]);
    translations.set([p[0] + x, p[1] + y, p[2] + z], 3 * k);
  }
  return {
    ...motion,
    joints: motion.joints.map((joint) => ({ ...joint, offset: move(joint.offset), ends: joint.ends.map(move) })),
    rotations,
    translations,
  };
}

test.each<[string, readonly [Vec3, number], number, Vec3]>([
  ['moved over the ground', [[0, 1, 0], 0], 1, [300, 0, -80]],
  ['turned to face +X', [[0, 1, 0], 90], 1, [0, 0, 0]],
  ['turned to face −Z', [[0, 1, 0], 180], 1, [0, 0, 0]],
  ['in metres', [[0, 1, 0], 0], 0.01, [0, 0, 0]],
  ['in inches', [[0, 1, 0], 0], 1 / 2.54, [0, 0, 0]],
  ['Z-up', [[1, 0, 0], 90], 1, [0, 0, 0]],
])('a walk %s gives the same readings but for units', (_, turn, size, shift) => {
  const readings = (motion: Motion) =>
    measureShot(prepareShot(motion, { kind: 'walk' })).readings.filter(
      ({ id }) => id.startsWith('gait.') || id.startsWith('mirror.'),
    );
  const walk = walkExemplar({}, { slide: 3 });
  const there = readings(carried(walk, turn, size, shift));
  readings(walk).forEach((reading, k) => {
    expect([there[k]!.id, there[k]!.part, there[k]!.frames]).toEqual([reading.id, reading.part, reading.frames]);
    expect(there[k]!.value).toBeCloseTo(reading.value as number, 2);
  });
});

test('real recordings give finite readings, or say why not; a figure without legs does', () => {
  for (const name of ['01_03.bvh', 'Boxing_Toes.bvh'] as const) {
    const { readings } = measureGaitFeet(prepareShot(readBvh(recording(name)).motion, { kind: 'walk' }));
    expect(readings.length).toBeGreaterThan(20);
    for (const reading of readings) expect([reading.id, Number.isFinite(reading.value)]).toEqual([reading.id, true]);
  }
  const walk = walkExemplar();
  const legless = prepareShot(walk, { kind: 'walk', roles: { 'foot.L': null, 'foot.R': null } });
  const { unmade } = measureGaitFeet(legless);
  expect(unmade.map(({ why }) => why)).toEqual(
    Array(7).fill('it needs foot.L, foot.R, which are not known; set the roles'),
  );
});
