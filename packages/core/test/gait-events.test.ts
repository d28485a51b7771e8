import { stepsExemplar } from '../src/exemplar/steps.ts';
import { runExemplar, walkExemplar } from '../src/exemplar/walk.ts';
import { posesOffMirror } from '../src/measure/cycle/mirrored-poses.ts';
import type { Measured, Reading } from '../src/measure/reading.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { ShotOptions } from '../src/motion/prepared-shot.ts';
import { rotateY, rotateZ } from '../src/motion/quaternion.ts';
import { inOtherAxes, movedInWorld, zUp } from './figures.ts';
import { keeperWalk } from './other-figure.ts';
import { cut } from './material.ts';

const measure = (motion: Motion, options: ShotOptions = {}): Measured =>
  measureShot(prepareShot(motion, { kind: 'walk', ...options }));
const of = ({ readings }: Measured, id: string, part?: string): Reading[] =>
  readings.filter((reading) => reading.id === id && (part === undefined || reading.part === part));
/** Values of a reading that must be there. */
function values(measured: Measured, id: string, part?: string): Reading['value'][] {
  const found = of(measured, id, part).map(({ value }) => value);
  if (found.length === 0) throw new Error(`no ${id}`);
  return found;
}

test('a pose and the one half a cycle later mirror each other in a good walk; in one with a bent arm they do not', () => {
  const off = (motion: Motion, from: number, to: number): number =>
    posesOffMirror(prepareShot(motion, { kind: 'walk', roles: { 'chain:strap': null } }), from, to);
  for (const from of [0, 3, 6]) expect(off(walkExemplar(), from, from + 12)).toBeLessThan(0.01);
  expect(off(walkExemplar({}, { pop: 26 }), 8, 20)).toBeGreaterThan(2);
  expect(off(walkExemplar(), 0, 3)).toBeGreaterThan(10);
});

describe('a cycle that is there twice', () => {
  const twice = measure(walkExemplar({ cycles: 2 }));
  const once = measure(walkExemplar());

  test('has the length of one, and says how often it is there', () => {
    expect(of(twice, 'cycle.length')).toMatchObject([{ value: 24, detail: { cycles: 2 } }]);
    expect(values(twice, 'cycle.cadence')).toEqual([120]);
  });

  test('is its own mirror half of one cycle later', () => {
    expect(of(twice, 'mirror.off')[0]!.value).toBeLessThan(0.01);
    expect(values(twice, 'mirror.height')[0]).toBeLessThan(0.01);
  });

  test('has every contact of both, and shares and means of one', () => {
    expect(values(twice, 'gait.contact').toSorted((a, b) => Number(a) - Number(b))).toEqual([1, 13, 25, 37]);
    for (const id of ['gait.stance', 'gait.step', 'gait.bob', 'gait.flight', 'gait.lowAfter'])
      values(once, id).forEach((value, k) => expect(values(twice, id)[k]).toBeCloseTo(value as number, 1));
  });

  test('three times is not twice', () => {
    expect(of(measure(walkExemplar({ cycles: 3 })), 'cycle.length')).toMatchObject([
      { value: 24, detail: { cycles: 3 } },
    ]);
  });
});

describe('a cycle that travels', () => {
  const spot = measure(walkExemplar());
  const travels = measure(walkExemplar({ travel: 1 }));

  test('is still a loop, with the same landings, slides and sizes', () => {
    for (const id of [
      'cycle.length',
      'gait.contact',
      'gait.stance',
      'gait.bob',
      'gait.track',
      'gait.opposition',
      'gait.shift',
    ])
      values(spot, id).forEach((value, k) =>
        expect([id, Math.abs((values(travels, id)[k] as number) - (value as number)) < 1.01]).toEqual([id, true]),
      );
    for (const slide of values(travels, 'gait.slide')) expect(slide).toBeLessThan(2);
  });

  test('slides where the body goes faster than the feet carry it', () => {
    for (const slide of values(measure(walkExemplar({ travel: 1.15 })), 'gait.slide')) expect(slide).toBeGreaterThan(8);
  });

  test('goes as fast as the ground under a walk on the spot', () => {
    expect(values(travels, 'gait.froude')[0]).toBeCloseTo(values(spot, 'gait.froude')[0] as number, 1);
  });
});

describe('a walk that is cut somewhere in it', () => {
  const walk = walkExemplar({ cycles: 3, travel: 1 });

  // Of a stand that began before the shot nobody sees the landing.
  test.each([3, 5, 8, 11, 15, 17, 20, 22])('has even steps, %i frames after it began', (from) => {
    const measured = measure(cut(walk, from, from + 50), { loop: 'none' });
    const [step] = of(measured, 'gait.step');
    for (const length of (step!.detail as { steps: number[] }).steps) expect(length).toBe(12);
    expect(values(measured, 'cycle.length')).toEqual([24]);
    expect(values(measured, 'gait.contact').toSorted((a, b) => Number(a) - Number(b))[0]).toBe(
      from < 12 ? 13 - from : 25 - from,
    );
  });

  test('and one that begins with a landing keeps it', () => {
    expect(values(measure(cut(walk, 12, 62), { loop: 'none' }), 'gait.contact')).toContain(1);
    expect(values(measure(cut(walk, 0, 50), { loop: 'none' }), 'gait.contact')).toContain(1);
  });

  test('a first cycle that is faster than the rest is not taken for a cut one', () => {
    for (const cycles of [
      [16, 24, 24],
      [18, 30],
    ] as const) {
      const measured = measure(keeperWalk({ cycles: [...cycles], travel: 1 }), { loop: 'none' });
      expect(values(measured, 'gait.contact')).toContain(1);
    }
  });
});

describe('a walk that starts, goes and stops', () => {
  const stroll = measure(stepsExemplar({ rise: 0, stand: 12, length: 96 }));

  test('lands at every step, and not where it stood', () => {
    expect(values(stroll, 'gait.contact').toSorted((a, b) => Number(a) - Number(b))).toEqual([25, 37, 49, 61, 73, 85]);
  });

  test('has even steps and no share of a cycle it does not have', () => {
    expect(of(stroll, 'gait.step')).toMatchObject([{ value: 12, detail: { unevenness: 0 } }]);
    // Of the whole cycles that are in it: about 60 percent (gait literature, from memory).
    for (const stance of values(stroll, 'gait.stance')) expect(Math.abs(Number(stance) - 62)).toBeLessThan(8);
    for (const slide of values(stroll, 'gait.slide')) expect(slide).toBeLessThan(2);
  });
});

describe('a walk up steps', () => {
  test.each([13, -13])('of %d %%L each lands on every one, at whatever height', (rise) => {
    const climb = measure(stepsExemplar({ rise }));
    expect(values(climb, 'gait.contact').toSorted((a, b) => Number(a) - Number(b))).toEqual([1, 13, 25, 37]);
    for (const slide of values(climb, 'gait.slide')) expect(slide).toBeLessThan(2);
    // The climb itself is no up and down.
    expect(values(climb, 'gait.bob')[0]).toBeLessThan(6);
    expect(climb.unmade.filter(({ id }) => /depth|float/.test(id)).map(({ why }) => why)[0]).toMatch(
      /height of its own/,
    );
  });

  test('can be told by the brief, and flat ground as well', () => {
    const told = measure(stepsExemplar(), { ground: 'steps' });
    expect(values(told, 'gait.contact')).toEqual(values(measure(stepsExemplar()), 'gait.contact'));
    const flat = measure(stepsExemplar(), { ground: 'flat' });
    expect(values(flat, 'gait.contact').length).toBeLessThan(4);
  });

  test('a walk on flat ground is not taken for one', () => {
    expect(of(measure(stepsExemplar({ rise: 0 })), 'gait.depth')).toHaveLength(2);
  });
});

describe('whichever way it goes', () => {
  const plain = measure(stepsExemplar({ rise: 0 }));
  const ids = [
    'gait.contact',
    'gait.step',
    'gait.bob',
    'gait.stepLength',
    'gait.track',
    'gait.counter',
    'gait.shift',
    'gait.pelvis',
    'gait.slide',
  ];
  test.each<[string, Motion]>([
    ['along X', movedInWorld(stepsExemplar({ rise: 0 }), rotateY(90), [0, 0, 0])],
    ['along −Z', movedInWorld(stepsExemplar({ rise: 0 }), rotateY(180), [0, 0, 0])],
    ['on the diagonal', movedInWorld(stepsExemplar({ rise: 0 }), rotateY(-45), [20, 0, 5])],
    ['in inches', inOtherAxes(stepsExemplar({ rise: 0 }), (v) => v, 1 / 2.54)],
    ['in metres', inOtherAxes(stepsExemplar({ rise: 0 }), (v) => v, 0.01)],
    ['Z-up, on the diagonal', movedInWorld(inOtherAxes(stepsExemplar({ rise: 0 }), zUp), rotateZ(45), [0, 0, 0])],
  ])('%s its readings are the same', (_, motion) => {
    const other = measure(motion);
    for (const id of ids)
      values(plain, id).forEach((value, k) =>
        expect([id, (values(other, id)[k] as number).toFixed(2)]).toEqual([id, (value as number).toFixed(2)]),
      );
  });

  test('backwards a walk still has its contacts, and its steps go back', () => {
    const motion = stepsExemplar({ rise: 0 });
    const turn = 4 * motion.joints.length;
    const rotations = new Float64Array(motion.rotations.length);
    const translations = new Float64Array(motion.translations.length);
    for (let f = 0; f < motion.frames; f++) {
      const from = motion.frames - 1 - f;
      rotations.set(motion.rotations.subarray(from * turn, (from + 1) * turn), f * turn);
      translations.set(motion.translations.subarray(3 * from, 3 * from + 3), 3 * f);
    }
    const back = measure({ ...motion, rotations, translations }, { loop: 'none' });
    expect(values(back, 'gait.contact').length).toBeGreaterThanOrEqual(3);
    expect(values(back, 'gait.stepLength')[0]).toBeLessThan(0);
    for (const slide of values(back, 'gait.slide')) expect(slide).toBeLessThan(2);
  });
});

test('a run has flight and a walk has none; walkers change to a run near a Froude number of 0.5 (gait literature, from memory)', () => {
  const run = measure(runExemplar(), { kind: 'run' });
  const walk = measure(walkExemplar());
  expect(values(run, 'gait.flight')[0]).toBeGreaterThan(2);
  expect(values(walk, 'gait.flight')[0]).toBe(0);
  expect(values(run, 'gait.froude')[0]).toBeGreaterThan(0.5);
  expect(values(walk, 'gait.froude')[0]).toBeLessThan(0.5);
  // A runner stands on each foot for about a third of the cycle (Novacheck 1998, from memory).
  for (const stance of values(run, 'gait.stance')) expect(Math.abs((stance as number) - 35)).toBeLessThan(6);
});
