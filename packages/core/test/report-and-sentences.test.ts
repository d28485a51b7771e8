import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { writeBvh } from '../src/formats/bvh/write-bvh.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { jointParts, tipJoints } from '../src/measure/parts.ts';
import { partners } from '../src/measure/cycle/mirror.ts';
import { CATALOGUE } from '../src/measure/catalogue.ts';
import { MEASURES, measureShot } from '../src/measure/registry.ts';
import { reportShot } from '../src/measure/report.ts';
import { SAID_IDS, sayReading } from '../src/measure/sentence.ts';
import { KINDS, prepareShot } from '../src/motion/prepared-shot.ts';
import { chainJoints } from '../src/motion/roles.ts';
import { bytes, walkShot } from './fixtures.ts';

const FAULTS = [
  {},
  { slide: 5 },
  { depth: 4 },
  { pop: 26 },
  { kneePop: 1 },
  { seam: 30 },
  { doubledFrame: 1 },
  { halfHeight: 4 },
];

describe('the registry', () => {
  test('names every id once, and makes no reading of another', () => {
    const ids = MEASURES.flatMap(({ ids: own }) => own);
    expect(new Set(ids).size).toBe(ids.length);
    for (const faults of FAULTS) {
      for (const { id } of measureShot(walkShot(faults)).readings) expect(ids).toContain(id);
    }
  });

  test('has every id in its catalogue, once, with unit, needs and kinds', () => {
    const ids = CATALOGUE.map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
    for (const id of ids) expect([id, SAID_IDS.has(id)]).toEqual([id, true]);
    for (const id of MEASURES.flatMap(({ ids: own }) => own)) expect(ids).toContain(id);
    for (const { id, needs, kinds } of CATALOGUE) {
      expect(needs.length).toBeGreaterThan(3);
      const onDemand = /^(breakdown|chart|cause)\./.test(id);
      expect([id, kinds.length > 0]).toEqual([id, !onDemand]);
      if (!onDemand)
        expect([
          id,
          kinds.includes('any') || id === 'cycle.cadence' || /^(anticipation|overshoot|settle|ease)/.test(id),
        ]).toEqual([id, true]);
    }
  });

  test.each(Object.keys(EXEMPLARS))(
    'makes of a %s only what is in the catalogue, in its unit, and says it in words',
    (name) => {
      const { kind, make, faults } = EXEMPLARS[name]!;
      const entries = new Map(CATALOGUE.map((entry) => [entry.id, entry]));
      for (const fault of [undefined, ...faults]) {
        const motion = make({}, fault === undefined ? {} : { [fault]: fault === 'floats' ? 0.4 : 1 });
        for (const reading of measureShot(prepareShot(motion, { kind })).readings) {
          const entry = entries.get(reading.id)!;
          expect(reading.id === 'stray.motion' ? '%L' : reading.unit).toBe(entry.unit);
          const said = sayReading(reading);
          expect(said).not.toMatch(/undefined|NaN|null/);
          expect(said).not.toContain(reading.id);
        }
      }
    },
  );

  test('makes or refuses every id of a walk, with a reason', () => {
    const { readings, unmade } = measureShot(walkShot({}, {}, { loop: 'none' }));
    const told = new Set([...readings.map(({ id }) => id), ...unmade.map(({ id }) => id)]);
    const asked = MEASURES.filter(({ kinds }) => kinds === undefined || kinds.includes('walk'));
    for (const id of asked.flatMap(({ ids }) => ids)) expect(told).toContain(id);
    for (const { why } of unmade) expect(why).toMatch(/\w+ \w+/);
  });

  test('does not look for a walk’s readings in a jump', () => {
    const { readings } = measureShot(walkShot({}, {}, { kind: 'jump' }));
    expect(readings.filter(({ id }) => /^(gait|cycle|mirror)\./.test(id))).toEqual([]);
    expect(readings.filter(({ id }) => id === 'arc.off').length).toBeGreaterThan(3);
  });

  test.each(KINDS)('every reading of kind %s is finite and has a unit', (kind) => {
    for (const faults of FAULTS) {
      for (const reading of measureShot(walkShot(faults, {}, { kind })).readings) {
        if (typeof reading.value === 'number')
          expect([reading.id, Number.isFinite(reading.value)]).toEqual([reading.id, true]);
        expect(reading.unit.length).toBeGreaterThan(0);
      }
    }
  });

  test('all frames are labels within the shot', () => {
    const shot = walkShot({ pop: 26, kneePop: 1, seam: 20 }, {}, { firstFrame: 101, loop: 'repeat' });
    for (const { id, frames = [] } of measureShot(shot).readings) {
      for (const frame of frames) expect([id, frame >= 101 && frame <= 125]).toEqual([id, true]);
    }
  });

  test('the first frame’s label shifts every label and changes no value', () => {
    const strip = (firstFrame: number) =>
      measureShot(walkShot({ pop: 26 }, {}, { firstFrame })).readings.filter(
        ({ id }) => !/^gait\.(contact|down|passing|up)$/.test(id),
      );
    const [one, hundred] = [strip(1), strip(100)];
    one.forEach((reading, k) => {
      expect(hundred[k]!.value).toEqual(reading.value);
      expect(hundred[k]!.frames).toEqual(reading.frames?.map((frame) => frame + 99));
    });
  });
});

describe('sentences', () => {
  test('every reading is said in words, without its id, with the part it is about', () => {
    for (const faults of FAULTS) {
      for (const reading of measureShot(walkShot(faults)).readings) {
        const said = sayReading(reading);
        expect(said).not.toContain(reading.id);
        expect(said).not.toMatch(/undefined|NaN|null/);
        expect(said.endsWith('.')).toBe(false);
      }
    }
  });

  test.each([
    [{ id: 'arc.pop', part: 'hand.L', value: 1, unit: 'frames', frames: [9] }, 'the left hand pops at frame 9'],
    [
      { id: 'arc.off', part: 'head', value: 0.4, unit: 'ratio', frames: [3, 8] },
      'the head leaves its arc at frames 3, 8',
    ],
    [
      { id: 'gait.slide', part: 'leg.L', value: 3.2, unit: '%L', frames: [11, 1] },
      'the left leg slides 3.2 %L between frames 1 and 11 while it is planted',
    ],
    [
      { id: 'gait.knee', part: 'leg.R', value: 1, unit: 'frames', frames: [11] },
      'the knee of the right leg snaps straight at frame 11',
    ],
    [
      { id: 'cycle.seam', value: 0, unit: 'ratio', note: 'a doubled frame: the loop hitches' },
      'over the seam the pose steps 0 times as far as beside it: a doubled frame: the loop hitches',
    ],
    [{ id: 'arc.off', part: 'chain:strap', value: 0, unit: 'ratio' }, 'strap keeps to its arc'],
    [{ id: 'not.known', value: 3, unit: 'x' }, 'not.known: 3 x'],
  ])('%j', (reading, said) => {
    expect(sayReading(reading)).toBe(said);
  });

  test('of many frames the first few are named', () => {
    const frames = Array.from({ length: 30 }, (_, k) => k + 1);
    expect(sayReading({ id: 'arc.off', part: 'head', value: 1, unit: 'ratio', frames })).toContain('7, 8 and 22 more');
  });
});

describe('parts and partners', () => {
  const shot = prepareShot(walkExemplar(), { kind: 'walk' });
  const names = shot.motion.joints.map(({ name }) => name);

  test('every joint belongs to one part', () => {
    const parts = jointParts(shot);
    const of = (name: string): string => parts[names.indexOf(name)]!;
    expect(['hips', 'chest', 'neck', 'toe.L', 'hand.R', 'clavicle.L', 'bag'].map(of)).toEqual([
      'hips',
      'spine',
      'head',
      'leg.L',
      'arm.R',
      'arm.L',
      'chain:strap',
    ]);
  });

  test('each joint’s partner’s partner is itself; the bag has none', () => {
    const partner = partners(shot);
    partner.forEach((other, j) => other >= 0 && expect(partner[other]).toBe(j));
    expect(names[partner[names.indexOf('shin.L')]!]).toBe('shin.R');
    expect(partner[names.indexOf('head')]).toBe(names.indexOf('head'));
    expect(partner[names.indexOf('bag')]).toBe(-1);
  });

  test('the tips that lead the eye are followed', () => {
    expect(tipJoints(shot).map(({ part }) => part)).toEqual(['hips', 'head', 'hand.L', 'hand.R', 'chain:strap']);
    expect(chainJoints(shot.motion.joints, names.indexOf('strap')).map((j) => names[j])).toEqual(['strap', 'bag']);
  });
});

describe('a report', () => {
  const source = { file: 'walk.bvh', format: 'bvh', warnings: ['odd'] };

  test('says what the shot was taken for', () => {
    const report = reportShot(walkShot({}, {}, { firstFrame: 0, metresPerUnit: 0.01 }), source);
    expect(report).toMatchObject({
      file: 'walk.bvh',
      fps: 24,
      frames: 25,
      firstFrame: 0,
      loop: 'repeat',
      up: '+Y',
      forward: '+Z',
      warnings: ['odd'],
    });
    expect(report.scale.metresPerUnit).toBe(0.01);
    expect(report.roles).toMatchObject({ 'chain:strap': 'strap', 'thigh.L': 'thigh.L' });
    expect(JSON.parse(JSON.stringify(report))).toEqual(report);
  });

  test('a move’s rise is made over the labels asked for', () => {
    const report = reportShot(walkShot(), source, { joints: ['hand.L'], from: 3, to: 15 });
    expect(report.readings.find(({ id }) => id === 'arc.rise')).toMatchObject({
      part: 'hand.L',
      detail: { from: 3, to: 15 },
    });
    const beyond = reportShot(walkShot(), source, { joints: ['hand.L'], from: -3, to: 15 });
    expect(beyond.unmade.find(({ id }) => id === 'arc.rise')!.why).toContain('within the shot');
  });
});

test('an exemplar’s file is measured as the exemplar is', () => {
  for (const [kind, exemplar] of Object.entries(EXEMPLARS)) {
    const motion = exemplar.make({}, {});
    const { motion: back } = readMotion(bytes(writeBvh(motion)));
    const readings = (m: typeof motion) =>
      measureShot(prepareShot(m, { kind: 'walk' })).readings.filter(({ id }) => id !== 'cycle.jerk');
    readings(motion).forEach((reading, k) => {
      if (typeof reading.value === 'number') expect(readings(back)[k]!.value).toBeCloseTo(reading.value, 1);
      else expect([kind, readings(back)[k]!.value]).toEqual([kind, reading.value]);
    });
    expect(exemplar.faults.length).toBeGreaterThan(0);
  }
});
