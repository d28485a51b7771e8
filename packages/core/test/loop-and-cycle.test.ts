import { exposeOn } from '../src/exemplar/expose.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { measureCycle } from '../src/measure/cycle/cycle.ts';
import { measureMirror } from '../src/measure/cycle/mirror.ts';
import { measureShot } from '../src/measure/registry.ts';
import { detectLoop } from '../src/motion/loop.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { axisAngle, multiply, quatAt, rotate } from '../src/motion/quaternion.ts';
import { sayReading } from '../src/measure/sentence.ts';
import { readingOf, recording, walkShot } from './fixtures.ts';
import { cut } from './material.ts';

const value = (...[shot, id, part]: Parameters<typeof readingOf>): number => readingOf(shot, id, part).value as number;

/** The whole figure turned about up and moved. */
function placed(motion: Motion, degrees: number, [x, z]: readonly [number, number]): Motion {
  const q = axisAngle([0, 1, 0], degrees);
  const rotations = motion.rotations.slice();
  const translations = motion.translations.slice();
  for (let f = 0; f < motion.frames; f++) {
    const at = f * motion.joints.length;
    rotations.set(multiply(q, quatAt(rotations, at)), 4 * at);
    const p = rotate(q, [translations[3 * f]!, translations[3 * f + 1]!, translations[3 * f + 2]!]);
    translations.set([p[0] + x, p[1], p[2] + z], 3 * f);
  }
  return { ...motion, rotations, translations };
}

describe('the loop habit', () => {
  test.each([16, 20, 24, 30, 32])('both habits are told apart in a cycle of %i', (length) => {
    expect(detectLoop(walkExemplar({ length, loop: 'repeat' }))).toBe('repeat');
    expect(detectLoop(walkExemplar({ length, loop: 'follow' }))).toBe('follow');
  });

  test('a piece of a cycle is no loop', () => {
    expect(detectLoop(cut(walkExemplar(), 0, 17))).toBe('none');
  });

  test('a shot that starts and ends at rest in one pose is no loop', () => {
    const walk = walkExemplar();
    const rest = 8;
    const turn = 4 * walk.joints.length;
    const held = (list: Float64Array, width: number): Float64Array =>
      Float64Array.from([
        ...Array(rest)
          .fill([...list.subarray(0, width)])
          .flat(),
        ...list,
        ...Array(rest)
          .fill([...list.subarray(0, width)])
          .flat(),
      ]);
    const shot = {
      ...walk,
      frames: walk.frames + 2 * rest,
      rotations: held(walk.rotations, turn),
      translations: held(walk.translations, 3),
    };
    expect(detectLoop(shot)).toBe('none');
  });

  test('recordings of people are no loops, and neither is a still figure or one frame', () => {
    for (const name of ['01_03.bvh', 'Boxing_Toes.bvh'] as const)
      expect(detectLoop(readBvh(recording(name)).motion)).toBe('none');
    expect(detectLoop(exposeOn(walkExemplar(), 99))).toBe('none');
    expect(detectLoop(cut(walkExemplar(), 0, 0))).toBe('none');
  });

  test('is not looked for in a kind that can’t loop, and is what the brief says where it says so', () => {
    expect(prepareShot(walkExemplar(), { kind: 'jump' }).loop).toBe('none');
    expect(prepareShot(walkExemplar({ loop: 'follow' }), { kind: 'walk', loop: 'follow' }).loop).toBe('follow');
    // A brief that says `follow` of a file that repeats is told so, and the repeated pose is left out of the rest.
    expect(prepareShot(walkExemplar(), { kind: 'walk', loop: 'follow' })).toMatchObject({
      habit: 'follow',
      seamDoubled: true,
      period: 24,
    });
  });
});

describe('the cycle', () => {
  // Common practice: at 24 frames a second a cycle of 24 frames is 120 steps a minute.
  test.each([
    [24, 24, 120],
    [16, 12, 90],
    [32, 24, 90],
  ])('a cycle of %i frames at %i fps makes %i steps a minute', (length, fps, cadence) => {
    for (const loop of ['repeat', 'follow'] as const) {
      const shot = walkShot({}, { length, fps, loop });
      expect(value(shot, 'cycle.length')).toBe(length);
      expect(value(shot, 'cycle.cadence')).toBeCloseTo(cadence, 9);
    }
  });

  test('a clean seam is near 1 with either habit', () => {
    for (const loop of ['repeat', 'follow'] as const) {
      const seam = value(walkShot({}, { loop }), 'cycle.seam');
      expect(seam).toBeGreaterThan(0.5);
      expect(seam).toBeLessThan(1.5);
    }
  });

  test('a doubled frame is a seam of 0, said in words', () => {
    const reading = readingOf(walkShot({ doubledFrame: 1 }), 'cycle.seam');
    expect(reading.value).toBeCloseTo(0, 6);
    expect(sayReading(reading, { judgement: 'outside', side: -1 })).toContain('hitches');
    // The habit `repeat` played as if it were `follow` does the same.
    expect(value(walkShot({}, {}, { loop: 'follow' }), 'cycle.seam')).toBeCloseTo(0, 6);
  });

  test('a jump at the seam grows with the jump and names the joint', () => {
    const seams = [0, 10, 20, 40].map((seam) => readingOf(walkShot({ seam }, {}, { loop: 'repeat' }), 'cycle.seam'));
    for (let k = 1; k < seams.length; k++) expect(seams[k]!.value).toBeGreaterThan(seams[k - 1]!.value as number);
    expect(sayReading(seams[3]!, { judgement: 'outside', side: 1 })).toContain('jumps');
    const worst = (seams[3]!.detail as { worst: { joint: string }[] }).worst[0]!.joint;
    expect(['spine', 'chest']).toContain(worst);
    const jerk = (seam: number): number => value(walkShot({ seam }, {}, { loop: 'repeat' }), 'cycle.jerk');
    expect(jerk(20)).toBeGreaterThan(4 * jerk(0));
  });

  test('what is no loop has no seam, and says why; its length is told by its footfalls', () => {
    const { readings, unmade } = measureCycle(prepareShot(walkExemplar({ cycles: 2 }), { kind: 'walk', loop: 'none' }));
    expect(readings.map(({ id, value: own }) => [id, own])).toEqual([
      ['cycle.length', 24],
      ['cycle.cadence', 120],
    ]);
    expect(unmade.map(({ id }) => id)).toEqual(['cycle.seam', 'cycle.jerk']);
    for (const { why } of unmade) expect(why).toContain('no loop');
    const still = measureCycle(prepareShot(exposeOn(walkExemplar(), 99), { kind: 'idle', loop: 'none' }));
    expect(still.unmade.map(({ id }) => id)).toContain('cycle.length');
  });
});

describe('the mirror', () => {
  test('of a faultless walk has nothing off, whole and per part', () => {
    const { readings } = measureMirror(walkShot());
    expect(readings.filter(({ id }) => id === 'mirror.off').map(({ part }) => part)).toEqual(
      expect.arrayContaining([undefined, 'hips', 'spine', 'head', 'arm.L', 'arm.R', 'leg.L', 'leg.R']),
    );
    for (const reading of readings) expect(reading.value).toBeLessThan(0.01);
  });

  test('is judged in the figure’s own plane, wherever it stands and faces', () => {
    const skewed = walkExemplar({}, { halfHeight: 4 });
    const measured = (motion: Motion) =>
      measureMirror(prepareShot(motion, { kind: 'walk' })).readings.map((reading) => reading.value as number);
    const here = measured(skewed);
    for (const turn of [37, 90, 180])
      measured(placed(skewed, turn, [120, -40])).forEach((v, k) => expect(v).toBeCloseTo(here[k]!, 3));
  });

  test('arms that go together are off in the arms alone', () => {
    const shot = walkShot({ twinArms: 1 });
    expect(value(shot, 'mirror.off', 'arm.R')).toBeGreaterThan(8);
    for (const part of ['hips', 'spine', 'head', 'leg.L', 'leg.R'])
      expect(value(shot, 'mirror.off', part)).toBeLessThan(0.01);
  });

  test.each([2, 4, 6])('a second half %i %%L lower is found at its size', (halfHeight) => {
    const reading = readingOf(walkShot({ halfHeight }), 'mirror.height');
    expect(reading.value).toBeCloseTo(halfHeight, 2);
    // A quarter into each half, by label: passing, 7, and its mirror, 19.
    expect(reading.frames).toEqual([7, 19]);
  });

  test('an odd cycle is mirrored between its frames', () => {
    expect(value(walkShot({}, { length: 25 }), 'mirror.off')).toBeLessThan(0.6);
  });
});

describe('exposure', () => {
  // Common practice: a drawing held for two frames is “on twos”.
  test.each([
    [1, 'ones'],
    [2, 'twos'],
    [3, 'threes'],
    [6, 'stepped'],
  ])('poses held for %i frames are on %s', (hold, name) => {
    const shot = prepareShot(exposeOn(walkExemplar(), hold), { kind: 'walk', loop: 'repeat' });
    const reading = readingOf(shot, 'exposure.pattern');
    expect(reading.value).toBe(name);
    expect((reading.detail as Record<string, number>)[name]).toBeCloseTo(1, 6);
  });

  test('a figure that never moves is one pose, and that is found', () => {
    const measured = measureShot(prepareShot(exposeOn(walkExemplar(), 99), { kind: 'walk' }));
    expect(measured.readings.find(({ id }) => id === 'exposure.pattern')!.value).toBe('still');
    const { findings } = judgeShot(defaultGauges('walk'), measured, 'blocking');
    expect(findings.map(({ say }) => say)).toEqual(['Nothing moves: the whole shot is one pose']);
  });
});

test('readings of bad and odd shots are finite or unmade with a reason', () => {
  const walk = walkExemplar();
  const shots: Motion[] = [
    cut(walk, 0, 0),
    cut(walk, 0, 1),
    cut(walk, 0, 4),
    exposeOn(walk, 99),
    { ...walk, joints: walk.joints.map((joint) => ({ ...joint, offset: [0, 0, 0] as const, ends: [] })) },
    cut(readBvh(recording('01_03.bvh')).motion, 0, 499),
  ];
  for (const motion of shots) {
    for (const loop of ['auto', 'repeat', 'follow'] as const) {
      const { readings, unmade } = measureShot(prepareShot(motion, { kind: 'walk', loop }));
      for (const reading of readings)
        if (typeof reading.value === 'number')
          expect([reading.id, Number.isFinite(reading.value)]).toEqual([reading.id, true]);
      for (const { why } of unmade) expect(why.length).toBeGreaterThan(8);
    }
  }
});
