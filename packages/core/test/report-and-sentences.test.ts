import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { writeBvh } from '../src/formats/bvh/write-bvh.ts';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { jointParts } from '../src/measure/parts.ts';
import { tipPoints } from '../src/measure/spacing/tips.ts';
import { partners } from '../src/measure/cycle/mirror.ts';
import { CATALOGUE, type CatalogueEntry } from '../src/measure/catalogue.ts';
import { MEASURES, measureShot, READING_KINDS, readingKind } from '../src/measure/registry.ts';
import type { Reading } from '../src/measure/reading.ts';
import { reportShot } from '../src/measure/report.ts';
import { sayReading } from '../src/measure/sentence.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { KINDS } from '../src/motion/prepared-shot.ts';
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

/** All readings of each exemplar, clean and with each of its faults. */
const OF_EXEMPLARS: ReadonlyMap<string, readonly Reading[]> = new Map(
  Object.entries(EXEMPLARS).map(([name, { kind, make, faults }]) => [
    name,
    [undefined, ...faults].flatMap((fault) => {
      const motion = make({}, fault === undefined ? {} : { [fault]: fault === 'floats' ? 0.4 : 1 });
      return measureShot(prepareShot(motion, { kind })).readings;
    }),
  ]),
);

describe('the registry', () => {
  test('names every id once, and makes no reading of another', () => {
    const ids = MEASURES.flatMap(({ readings }) => readings.map(({ id }) => id));
    expect(new Set(ids).size).toBe(ids.length);
    const made = FAULTS.flatMap((faults) => measureShot(walkShot(faults)).readings);
    expect(made.filter(({ id }) => !(ids as readonly string[]).includes(id))).toEqual([]);
  });

  test('knows every reading that another one explains, and calls each by a name that is no id', () => {
    for (const { id, name, explains = {} } of READING_KINDS.values()) {
      for (const explained of Object.keys(explains)) expect([id, readingKind(explained)?.id]).toEqual([id, explained]);
      expect(name).toMatch(/^[A-Za-z][a-zA-Z’ -]+$/);
      expect(name).not.toBe(id);
    }
    // Within a topic no two are called the same.
    const names = CATALOGUE.map(({ topic, name }) => `${topic}: ${name}`);
    expect(new Set(names).size).toBe(names.length);
  });

  test('has every id in its catalogue, once, with unit, needs and kinds', () => {
    const ids = CATALOGUE.map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
    for (const id of MEASURES.flatMap(({ readings }) => readings.map(({ id }) => id))) expect(ids).toContain(id);
    for (const { id, needs, kinds } of CATALOGUE) {
      expect(needs.length).toBeGreaterThan(3);
      const onDemand = /^(breakdown|chart|cause|pair|shape|track|plan|blink)\./.test(id);
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
      const entries = new Map<string, CatalogueEntry>(CATALOGUE.map((entry) => [entry.id, entry]));
      // Listed and expected once: there are thousands.
      const odd = OF_EXEMPLARS.get(name)!.filter((reading) => {
        const said = sayReading(reading);
        const unit = reading.id === 'stray.motion' ? '%L' : reading.unit;
        return unit !== entries.get(reading.id)?.unit || said.includes(reading.id) || /undefined|NaN|null/.test(said);
      });
      expect(odd).toEqual([]);
    },
  );

  test('makes or refuses every id of a walk, with a reason', () => {
    const { readings, unmade } = measureShot(walkShot({}, {}, { loop: 'none' }));
    const told = new Set([...readings.map(({ id }) => id), ...unmade.map(({ id }) => id)]);
    const asked = MEASURES.flatMap(({ readings: own }) => own).filter(({ kinds }) => kinds.includes('walk'));
    for (const { id } of asked) expect(told).toContain(id);
    for (const { why } of unmade) expect(why).toMatch(/\w+ \w+/);
  });

  test('does not look for a walk’s readings in a jump', () => {
    const { readings } = measureShot(walkShot({}, {}, { kind: 'jump' }));
    expect(readings.filter(({ id }) => /^(gait|cycle|mirror)\./.test(id))).toEqual([]);
    expect(readings.filter(({ id }) => id === 'arc.off').length).toBeGreaterThan(3);
  });

  test.each(KINDS)('every reading of kind %s is finite and has a unit', (kind) => {
    // Listed and expected once: there are thousands.
    const wrong = FAULTS.flatMap((faults) => measureShot(walkShot(faults, {}, { kind })).readings).filter(
      ({ value, unit }) => (typeof value === 'number' && !Number.isFinite(value)) || unit.length === 0,
    );
    expect(wrong).toEqual([]);
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
    const odd = FAULTS.flatMap((faults) => measureShot(walkShot(faults)).readings)
      .map((reading) => [reading.id, sayReading(reading)] as const)
      .filter(([id, said]) => said.includes(id) || /undefined|NaN|null/.test(said) || said.endsWith('.'));
    expect(odd).toEqual([]);
  });

  // What a gauge has said is told; a sentence judges nothing by itself.
  const outside = (side: -1 | 1) => ({ judgement: 'outside', side }) as const;
  const inside = { judgement: 'inside', side: 0 } as const;
  test.each([
    [
      { id: 'arc.off', part: 'head', value: 0.4, unit: 'ratio', frames: [3, 8] },
      undefined,
      'the head leaves its arc at frames 3 and 8, by 0.4 of a step',
    ],
    [
      { id: 'gait.slide', part: 'leg.L', value: 3.21, unit: '%L', detail: { from: 2, to: 14 } },
      outside(1),
      'the left foot slides by 3.2 % of a leg while it stands from 2 to 14',
    ],
    [
      { id: 'gait.slide', part: 'leg.L', value: 0.42, unit: '%L', detail: { from: 2, to: 14 } },
      inside,
      'the left foot stays where it stands from 2 to 14, to within 0.4 % of a leg',
    ],
    [
      { id: 'gait.lowAfter', value: -1.2, unit: 'frames', detail: { each: [] } },
      undefined,
      'the hips are lowest a frame before the contact',
    ],
    [
      { id: 'gait.lowAfter', value: -12, unit: 'frames', detail: { each: [] } },
      undefined,
      'the hips are lowest 12 frames before the contact',
    ],
    [
      { id: 'lag.frames', part: 'arm.L', value: -1, unit: 'frames', detail: { links: [] } },
      undefined,
      'along the left arm each joint is 1 frame earlier than the one before it, on average',
    ],
    [
      { id: 'cycle.length', value: 25, unit: 'frames', detail: { cycles: 2, lengths: [24, 26], tail: 0, alike: 1 } },
      undefined,
      'a cycle lasts 25 frames (24 and 26), 2 times',
    ],
    [
      { id: 'cycle.length', value: 24, unit: 'frames', detail: { cycles: 1, lengths: [24], tail: 1, alike: 0 } },
      undefined,
      'a cycle lasts 24 frames, and its last pose stands 1 frame longer',
    ],
    [
      { id: 'jump.gravity', value: 0.82, unit: 'ratio', detail: { metresPerSecond2: 8 } },
      inside,
      'the body falls at 0.82 of gravity',
    ],
    [
      { id: 'jump.gravity', value: 0.82, unit: 'ratio', detail: { metresPerSecond2: 8 } },
      outside(-1),
      'the body floats: it falls at 0.82 of gravity',
    ],
    [
      { id: 'cycle.seam', value: 0, unit: 'ratio', detail: { worst: [] } },
      outside(-1),
      'a pose is there twice at the seam: the loop hitches',
    ],
    [
      { id: 'cycle.seam', value: 4.1666667, unit: 'ratio', detail: { worst: [] } },
      outside(1),
      'over the seam the pose steps 4.17 times as far as beside it: the loop jumps',
    ],
    [{ id: 'arc.off', part: 'chain:strap', value: 0, unit: 'ratio' }, undefined, 'the strap keeps to its arc'],
    [{ id: 'not.known', value: 3, unit: 'x' }, undefined, 'not.known: 3 x'],
  ])('%j, told %j', (reading, told, said) => {
    expect(sayReading(reading, told)).toBe(said);
  });

  test('of many frames the first few are named', () => {
    const frames = Array.from({ length: 30 }, (_, k) => k + 1);
    expect(sayReading({ id: 'arc.off', part: 'head', value: 1, unit: 'ratio', frames })).toContain('5, 6 and 24 more');
  });

  test('read well aloud: no units’ short forms, no long numbers, no negative delays, whatever the verdict', () => {
    const bad = /%L|(?<![\d.])1 frames|\d\.\d{4,}|[1-9]\.\d{3}|\d{5}|-\d+ frame|\bleg (lands|slides)| {2}|undefined/;
    const said = [...OF_EXEMPLARS].flatMap(([name, readings]) =>
      readings.flatMap((reading) =>
        [undefined, inside, outside(1), outside(-1)].map((told) => [name, sayReading(reading, told)] as const),
      ),
    );
    expect(said.length).toBeGreaterThan(1000);
    expect(said.filter(([, sentence]) => bad.test(sentence))).toEqual([]);
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
    expect(tipPoints(shot).map(({ part }) => part)).toEqual([
      'hips',
      'head',
      'hand.L',
      'hand.R',
      'foot.L',
      'toe.L',
      'foot.R',
      'toe.R',
      'chain:strap',
    ]);
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
  for (const exemplar of Object.values(EXEMPLARS)) {
    const { kind } = exemplar;
    const motion = exemplar.make({}, {});
    const { motion: back } = readBvh(bytes(writeBvh(motion)));
    const readings = (m: typeof motion) =>
      measureShot(prepareShot(m, { kind })).readings.filter(({ id }) => id !== 'cycle.jerk');
    const measured = readings(back);
    readings(motion).forEach(({ value }, k) => {
      if (typeof value === 'number') expect(measured[k]!.value).toBeCloseTo(value, 1);
      else expect([kind, measured[k]!.value]).toEqual([kind, value]);
    });
    expect(exemplar.faults.length).toBeGreaterThan(0);
  }
});
