// What is wrong from frame to frame: frames that were cut out, keys joined by straight lines, what trembles without a pattern. Put into clean motions, found
// for what it is, and never in what is clean.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { exposeOn } from '../src/exemplar/expose.ts';
import { runExemplar } from '../src/exemplar/walk.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { noiseOf } from '../src/measure/posture/noise.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Kind } from '../src/motion/kinds.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { angleBetween, axisAngle, quatAt } from '../src/motion/quaternion.ts';
import { cureFor, judged } from '../src/remedy/cure.ts';
import { mean } from '../src/signal/statistics.ts';
import { readingOf, recording } from './fixtures.ts';
import { alternately, Faulty } from './gross-faults.ts';
import { normals, withFrames } from './material.ts';
import { keeperWalk } from './other-figure.ts';
import { patientOf } from './patients.ts';
import { straightBetween } from './straight-keys.ts';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';

const travelling = keeperWalk({ cycles: [24, 24, 24], travel: 1 });
const lacking = (motion: Motion, at: number, count: number): Motion =>
  withFrames(
    motion,
    Array.from({ length: motion.frames }, (_, f) => f).filter((f) => f < at || f >= at + count),
  );
const outside = (motion: Motion, kind: Kind) =>
  judgeShot(defaultGauges(kind), measureShot(prepareShot(motion, { kind })), 'polish').findings.filter(
    ({ judgement }) => judgement === 'outside',
  );
const exemplar = (name: string): [Motion, Kind] => [EXEMPLARS[name]!.make({}, {}), EXEMPLARS[name]!.kind];

describe('frames that were cut out', () => {
  test.each([
    [2, 9],
    [2, 21],
    [3, 33],
    [3, 50],
  ])('of a walk that travels: %i of them behind frame %i', (count, at) => {
    const [first] = outside(lacking(travelling, at, count), 'walk');
    expect(first!.reading).toMatchObject({ id: 'exposure.missing', value: count, frames: [at] });
    expect(first!.say).toBe(
      `About ${count} frames are missing in the midst of motion, behind ${at}: everything leaps on at once`,
    );
  });

  // A pose of a walk or a run comes again mirrored: what was cut out is seen wherever it was, also where feet land and all speeds change.
  test.each<[string, Kind, () => Motion, number]>([
    ['a run', 'run', () => runExemplar({ cycles: 2 }), 2],
    ['a run on twos', 'run', () => exposeOn(runExemplar({ cycles: 2 }), 2), 2],
    ['a run on twos', 'run', () => exposeOn(runExemplar({ cycles: 2 }), 2), 4],
    ['a walk on twos', 'walk', () => exposeOn(keeperWalk({ cycles: [24, 24] }), 2), 2],
    ['a walk on twos that travels', 'walk', () => exposeOn(travelling, 2), 4],
  ])('of %s, %#: wherever they were', (_, kind, make, count) => {
    const motion = make();
    for (let at = 6; at + count < motion.frames - 6 && at < 30; at += 2) {
      const [first] = outside(lacking(motion, at, count), kind);
      expect([at, first?.reading.id, first?.reading.value]).toEqual([at, 'exposure.missing', count]);
    }
  });

  test('a walk that limps lacks none, nor does one with a frame out of place', () => {
    const limping = keeperWalk({ cycles: [24, 24], limp: 0.42 });
    const popped = new Faulty(keeperWalk({ cycles: [24, 24] }), { kind: 'walk' }).turned('hips', 'up', (f) =>
      f === 13 ? 15 : 0,
    );
    for (const motion of [limping, popped.motion])
      expect(outside(motion, 'walk').map(({ reading: { id } }) => id)).not.toContain('exposure.missing');
  });

  test.each<[string, number, number]>([
    ['idle', 30, 3],
    ['turn', 13, 3],
    ['jump', 31, 2],
    ['overlap', 14, 3],
  ])('of a %s, behind frame %i', (name, at, count) => {
    const [motion, kind] = exemplar(name);
    const found = outside(lacking(motion, at, count), kind);
    const missing = found.find(({ reading }) => reading.id === 'exposure.missing')!.reading;
    expect(missing.frames).toEqual([at]);
    expect(Math.abs((missing.value as number) - count)).toBeLessThanOrEqual(1);
  });

  test('are put in again by what is proposed, near to what was cut out', () => {
    const patient = patientOf(lacking(travelling, 33, 3), 'walk');
    const cure = cureFor(
      patient,
      judged(patient).findings.find(({ reading }) => reading.id === 'exposure.missing')!,
    )!;
    expect(cure.recipe).toEqual([{ remedy: 'retime', parameters: { from: 33, to: 34, frames: 4 } }]);
    expect([cure.isGone, cure.breaks.map(({ say }) => say)]).toEqual([true, []]);
    const { motion } = cure.treated.shot.played;
    expect(motion.frames).toBe(travelling.frames);
    const off = Array.from({ length: motion.joints.length * motion.frames }, (_, k) =>
      angleBetween(quatAt(motion.rotations, k), quatAt(travelling.rotations, k)),
    );
    expect(mean(off)).toBeLessThan(0.3);
  });

  test('one cause, one finding: a foot that leaps with the rest is not called sliding', () => {
    expect(outside(lacking(travelling, 21, 3), 'walk').map(({ reading }) => reading.id)).toEqual(['exposure.missing']);
  });

  test.each(Object.keys(EXEMPLARS))('none of a %s that is clean, nor of one on twos', (name) => {
    const [motion, kind] = exemplar(name);
    for (const own of [motion, exposeOn(motion, 2)])
      expect(readingOf(prepareShot(own, { kind }), 'exposure.missing').value).toBe(0);
  });

  test.each(['01_03.bvh', 'Boxing_Toes.bvh'] as const)('none of the recording %s', (name) => {
    const { motion } = readBvh(recording(name));
    expect(readingOf(prepareShot(motion, { kind: 'any' }), 'exposure.missing').value).toBe(0);
  });

  test('none in an accent, whose steps grow towards it: 1, 2, 5, 2, 1', () => {
    const steps = [1, 1, 1, 1, 1, 2, 5, 2, 1, 1, 1, 1, 1, 1];
    const angles = steps.reduce((all, step) => [...all, all.at(-1)! + 3 * step], [0]);
    const mast: Motion = {
      joints: [{ name: 'mast', parent: -1, offset: [0, 0, 0], ends: [[0, 1, 0]] }],
      frames: angles.length,
      fps: 24,
      rotations: Float64Array.from(angles.flatMap((angle) => axisAngle([1, 0, 0], angle))),
      moving: [0],
      translations: new Float64Array(3 * angles.length),
    };
    const value = (motion: Motion) =>
      readingOf(prepareShot(motion, { kind: 'any', loop: 'none' }), 'exposure.missing').value;
    expect(value(mast)).toBe(0);
    // The same leap out of even steps is one.
    const even = steps.map((step) => (step === 5 ? 4 : 1)).reduce((all, step) => [...all, all.at(-1)! + 3 * step], [0]);
    const rotations = Float64Array.from(even.flatMap((angle) => axisAngle([1, 0, 0], angle)));
    expect(value({ ...mast, rotations })).toBe(3);
  });
});

describe('keys that were joined by straight lines', () => {
  test.each(Object.keys(EXEMPLARS).flatMap((name) => [3, 4, 6].map((every): [string, number] => [name, every])))(
    'a %s with a key every %i frames: of so many all but one go on evenly',
    (name, every) => {
      const [motion, kind] = exemplar(name);
      const reading = readingOf(prepareShot(straightBetween(motion, every), { kind }), 'spacing.corners');
      expect(Math.abs((reading.value as number) - 100 * (1 - 1 / every))).toBeLessThan(6);
      expect(reading.detail).toMatchObject({ every });
      const found = outside(straightBetween(motion, every), kind);
      expect(found.map(({ reading: { id } }) => id)).toContain('spacing.corners');
      expect(found.filter(({ reading: { id } }) => /pop|shake/.test(id))).toEqual([]);
    },
  );

  test.each(Object.keys(EXEMPLARS))('a %s that eases has none, on ones or on twos', (name) => {
    const [motion, kind] = exemplar(name);
    for (const own of [motion, exposeOn(motion, 2)]) {
      const { readings } = measureShot(prepareShot(own, { kind }));
      const corners = readings.filter(({ id }) => id === 'spacing.corners');
      // A run on twos has too few poses for it.
      expect(corners.length).toBe(name === 'run' && own !== motion ? 0 : 1);
      for (const { value } of corners) expect(value).toBe(0);
    }
  });

  test.each([
    ['idle', 60, 240],
    ['idle', 60, 648],
    ['idle', 120, 1200],
    ['turn', 120, 320],
    ['take', 120, 360],
  ])(
    'a smooth %s at %i frames a second, %i frames long, has none: it goes slowly, and turns round slowly',
    (name, fps, length) => {
      const { kind, make } = EXEMPLARS[name]!;
      const reading = readingOf(prepareShot(make({ fps, length }, {}), { kind }), 'spacing.corners');
      expect(reading.value).toBe(0);
    },
  );

  test('a wheel that turns evenly has no corners', () => {
    const wheel: Motion = {
      joints: [{ name: 'wheel', parent: -1, offset: [0, 0, 0], ends: [[0, 1, 0]] }],
      frames: 36,
      fps: 24,
      rotations: Float64Array.from({ length: 36 }, (_, f) => f).reduce(
        (all, f) => (all.set(axisAngle([1, 0, 0], 10 * f), 4 * f), all),
        new Float64Array(144),
      ),
      moving: [0],
      translations: new Float64Array(108),
    };
    expect(readingOf(prepareShot(wheel, { kind: 'any' }), 'spacing.corners').value).toBe(0);
  });
});

describe('what trembles without a pattern', () => {
  /** Four signals of a turn about x that swings widely, with so many degrees of noise on it. */
  const swing = (noise: number, frames = 48, seed = 5): Float64Array[] => {
    const next = normals(seed);
    const turns = Array.from({ length: frames }, (_, f) =>
      axisAngle([1, 0, 0], 40 * Math.cos((2 * Math.PI * f) / 24) + noise * next()),
    );
    return [0, 1, 2, 3].map((c) => Float64Array.from(turns, (turn) => turn[c]!));
  };

  test('a wide swing does not tremble; noise on it is told by its size', () => {
    expect(noiseOf(swing(0), true, false)).toBe(0);
    const told = [1, 2, 3, 4, 5, 6].map((seed) => noiseOf(swing(1.5, 96, seed), true, false));
    for (const size of told) expect(Math.abs(size / 1.5 - 1)).toBeLessThan(0.5);
    expect(Math.abs(told.reduce((a, b) => a + b) / told.length / 1.5 - 1)).toBeLessThan(0.25);
  });

  test('one frame out of place is none', () => {
    const [x, y, z, w] = swing(0);
    const out = axisAngle([1, 0, 0], 70);
    [x![20], w![20]] = [out[0], out[3]];
    expect(noiseOf([x!, y!, z!, w!], true, false)).toBe(0);
  });

  test.each(['hand.L', 'foreArm.R', 'head', 'chest'] as const)('a %s of a walk, a run, a jump and a turn', (role) => {
    const motions: [Motion, Kind][] = [[keeperWalk(), 'walk'], exemplar('run'), exemplar('jump'), exemplar('turn')];
    for (const [seed, [motion, kind]] of motions.entries()) {
      const next = normals(seed + 3);
      const shot = new Faulty(motion, { kind })
        .turned(role, 'left', () => 1.4 * next())
        .turned(role, 'up', () => 1.4 * next());
      const ids = outside(shot.motion, kind).map(({ reading }) => reading.id);
      expect([kind, ids.includes('shake.size')]).toEqual([kind, true]);
    }
  });

  test('what alternates is still told as that: every two frames', () => {
    const shot = new Faulty(keeperWalk(), { kind: 'walk' }).turned('head', 'up', alternately(1));
    const shakes = measureShot(shot.shot).readings.filter(({ id, part }) => id.startsWith('shake') && part === 'head');
    expect(shakes.map(({ value }) => value)).toEqual([expect.closeTo(1, 1), expect.closeTo(2, 1)]);
  });
});
