import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { WALK_FAULTS, type WalkFaults } from '../src/exemplar/walk-options.ts';
import { findings, type Gauge, judge, STAGES, type Verdict, verdicts } from '../src/gauge/gauge.ts';
import { DEFAULT_GAUGES } from '../src/gauge/gauges.ts';
import { WALK_GAUGES } from '../src/gauge/walk-gauges.ts';
import { MEASURES, measureShot } from '../src/measure/registry.ts';
import { sayReading } from '../src/measure/sentence.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot, type ShotOptions } from '../src/motion/prepared-shot.ts';

describe('a value and its band', () => {
  test.each([
    [3, 'inside', 0],
    [2, 'inside', 0],
    [5, 'inside', 0],
    [5.75, 'near', 0.75],
    [1.25, 'near', -0.75],
    [5.76, 'outside', 0.76],
    [-4, 'outside', -6],
  ])('%d in [2, 5] is %s', (value, judgement, distance) => {
    expect(judge(value, [2, 5])).toEqual({ judgement, distance: expect.closeTo(distance, 9) });
  });

  test('a band without width has no near', () => {
    expect(judge(1, [0, 0]).judgement).toBe('outside');
    expect(judge(0, [0, 0]).judgement).toBe('inside');
  });
});

describe('verdicts and findings', () => {
  const gauge = (reading: string, more: Partial<Gauge> = {}): Gauge => ({
    reading,
    from: 'blocking',
    band: [0, 4],
    weight: 1,
    why: 'because',
    ...more,
  });
  const measured = {
    readings: [
      { id: 'a', part: 'leg.L', value: 9, unit: 'x' },
      { id: 'a', part: 'leg.R', value: 1, unit: 'x' },
      { id: 'b', value: 4.5, unit: 'x' },
      { id: 'c', value: true, unit: 'yes/no' },
    ],
    unmade: [{ id: 'd', why: 'too short' }],
  };
  const told = (all: readonly Verdict[]) => all.map(({ gauge: { reading }, judgement }) => [reading, judgement]);

  test('every part’s reading is judged, unless the gauge is for one', () => {
    expect(told(verdicts([gauge('a')], measured, 'polish'))).toEqual([
      ['a', 'outside'],
      ['a', 'inside'],
    ]);
    expect(told(verdicts([gauge('a', { part: 'leg.R' })], measured, 'polish'))).toEqual([['a', 'inside']]);
  });

  test('what is no number is held against the values allowed', () => {
    const { band: _, ...rest } = gauge('c');
    expect(told(verdicts([{ ...rest, allowed: [false] }], measured, 'polish'))).toEqual([['c', 'outside']]);
    expect(told(verdicts([{ ...rest, allowed: [true] }], measured, 'polish'))).toEqual([['c', 'inside']]);
  });

  test('what could not be made is told with its reason, what was never asked for is left out', () => {
    expect(verdicts([gauge('d'), gauge('e')], measured, 'polish')).toMatchObject([
      { judgement: 'unmade', why: 'too short' },
    ]);
  });

  test('a gauge waits for its stage', () => {
    const late = gauge('a', { from: 'smoothing' });
    expect(STAGES.map((stage) => verdicts([late], measured, stage).length)).toEqual([0, 0, 0, 2, 2]);
  });

  test('findings are what is not inside: outside before near, then the heaviest, then the farthest', () => {
    const all = verdicts([gauge('b', { weight: 9 }), gauge('a', { weight: 2 })], measured, 'polish');
    expect(told(findings(all))).toEqual([
      ['a', 'outside'],
      ['b', 'near'],
    ]);
    const heavy = verdicts([gauge('a', { weight: 2 }), gauge('b', { weight: 3, band: [0, 1] })], measured, 'polish');
    expect(told(findings(heavy))).toEqual([
      ['b', 'outside'],
      ['a', 'outside'],
    ]);
  });
});

describe('the default gauges', () => {
  test.each(Object.entries(DEFAULT_GAUGES))(
    'of a %s name readings that its kind makes, each with a reason',
    (kind, gauges) => {
      const ids = MEASURES.filter(({ kinds }) => kinds === undefined || kinds.includes(kind as 'walk')).flatMap(
        ({ ids: own }) => own,
      );
      for (const { reading, why, weight, band, allowed } of gauges) {
        expect(ids).toContain(reading);
        expect(why.length).toBeGreaterThan(15);
        expect(weight).toBeGreaterThan(0);
        expect((band === undefined) !== (allowed === undefined)).toBe(true);
        if (band) expect(band[0]).toBeLessThanOrEqual(band[1]);
      }
    },
  );
});

/** The figure built differently: other names, other size, another axis up. */
function builtDifferently(motion: Motion): Motion {
  const size = 1 / 2.54;
  const turn = ([x, y, z]: readonly [number, number, number]): [number, number, number] => [
    size * x,
    -size * z,
    size * y,
  ];
  const rotations = motion.rotations.slice();
  for (let k = 0; k < rotations.length; k += 4) {
    // Conjugated by a quarter turn about X: the vector part turns like a vector.
    const [x, y, z] = [rotations[k]!, rotations[k + 1]!, rotations[k + 2]!];
    rotations.set([x, -z, y], k);
  }
  const translations = Float64Array.from(
    Array.from({ length: motion.translations.length / 3 }, (_, k) =>
      turn([motion.translations[3 * k]!, motion.translations[3 * k + 1]!, motion.translations[3 * k + 2]!]),
    ).flat(),
  );
  const names: Record<string, string> = {
    thigh: 'UpLeg',
    shin: 'Knee',
    foot: 'Ankle',
    toe: 'Ball',
    clavicle: 'Collar',
    upperArm: 'Shoulder',
    foreArm: 'Elbow',
    hand: 'Wrist',
  };
  const rename = (name: string): string => {
    const [word, side] = name.split('.') as [string, string | undefined];
    return side ? `rig:${side === 'L' ? 'Left' : 'Right'}${names[word]}` : `rig:${word === 'hips' ? 'Pelvis' : word}`;
  };
  const joints = motion.joints.map((joint) => ({
    ...joint,
    name: rename(joint.name),
    offset: turn(joint.offset),
    ends: joint.ends.map(turn),
  }));
  return { ...motion, joints, rotations, translations };
}

const found = (motion: Motion, options: ShotOptions = {}): Verdict[] =>
  findings(
    verdicts(WALK_GAUGES, measureShot(prepareShot(motion, { kind: 'walk', loop: 'repeat', ...options })), 'polish'),
  );

const NAMED: Readonly<Record<(typeof WALK_FAULTS)[number], readonly [size: number, reading: string]>> = {
  slide: [5, 'gait.slide'],
  depth: [4, 'gait.depth'],
  lowOnContact: [1, 'gait.lowAfter'],
  seam: [30, 'cycle.seam'],
  doubledFrame: [1, 'cycle.seam'],
  halfHeight: [4, 'mirror.height'],
  twinArms: [1, 'twin.arms'],
  sameSideArms: [1, 'gait.opposition'],
  noDelay: [1, 'lag.together'],
  kneePop: [1, 'gait.knee'],
  pop: [26, 'arc.pop'],
  bigBob: [6, 'gait.bob'],
};

describe.each<[string, (motion: Motion) => Motion, ShotOptions]>([
  ['the exemplar’s figure', (motion) => motion, {}],
  ['a figure with other names, in inches, Z-up, counted from 0', builtDifferently, { firstFrame: 0 }],
])('with %s', (_, build, options) => {
  test.each(WALK_FAULTS)('the fault %s is named first', (fault) => {
    const [size, reading] = NAMED[fault];
    const faults: WalkFaults = { [fault]: size };
    const [first] = found(build(walkExemplar({}, faults)), options);
    expect([fault, first?.gauge.reading, first?.judgement]).toEqual([fault, reading, 'outside']);
  });

  test.each([20, 24, 30, 32])('a faultless walk of %i frames has nothing outside its bands', (length) => {
    const all = found(build(walkExemplar({ length })), options).filter(({ judgement }) => judgement === 'outside');
    expect(all.map(({ reading }) => sayReading(reading!))).toEqual([]);
  });
});

test('every exemplar has gauges', () => {
  for (const kind of Object.keys(EXEMPLARS)) expect(DEFAULT_GAUGES[kind as 'walk']!.length).toBeGreaterThan(5);
});
