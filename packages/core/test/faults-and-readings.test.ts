import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { type Finding, judgeShot } from '../src/gauge/findings.ts';
import { verdicts } from '../src/gauge/gauge.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import type { Reading } from '../src/measure/reading.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import { FAULTS } from './expected-faults.ts';
import { builtDifferently, withMoreJoints } from './figures.ts';
import { measuredExemplar } from './measured-exemplar.ts';

const rows = Object.entries(FAULTS).flatMap(([kind, faults]) =>
  Object.entries(faults).map(([fault, expected]) => [kind, fault, expected] as const),
);

/** The brief says the loop habit: a loop that does not close, or has a frame twice, can't be told from one that is none. */
function shotOf(
  name: string,
  faults: Record<string, number>,
  build = (m: Motion) => m,
  more: ShotOptions = {},
): PreparedShot {
  const { kind, defaults, make } = EXEMPLARS[name]!;
  const loop = defaults.loop as ShotOptions['loop'];
  return prepareShot(build(make({}, faults)), { kind, ...(loop && { loop }), ...more });
}

const gaugesOf = (name: string) => defaultGauges(EXEMPLARS[name]!.kind);

const found = (name: string, shot: PreparedShot): readonly Finding[] =>
  judgeShot(gaugesOf(name), measureShot(shot), 'polish').findings;

test('every fault of every exemplar stands in this table', () => {
  for (const [kind, { faults }] of Object.entries(EXEMPLARS))
    expect([kind, [...faults].sort()]).toEqual([kind, Object.keys(FAULTS[kind]!).sort()]);
});

describe.each<[string, (motion: Motion) => Motion, ShotOptions]>([
  ['the exemplar’s figure', (motion) => motion, {}],
  ['a figure built differently', builtDifferently, { firstFrame: 0 }],
  ['a figure with a root and fingers', withMoreJoints, {}],
])('with %s', (_, build, options) => {
  test.each(Object.keys(EXEMPLARS))('a faultless %s has nothing outside its bands', (name) => {
    const outside = found(name, shotOf(name, {}, build, options)).filter((v) => v.judgement === 'outside');
    expect(outside.map(({ say }) => say)).toEqual([]);
  });

  test.each(rows)('%s: the fault %s is named first', (name, fault, expected) => {
    const [first] = found(name, shotOf(name, { [fault]: expected.at[0]![0] }, build, options));
    expect([fault, first?.gauge.reading]).toEqual([fault, expected.reading]);
  });
});

test.each(Object.keys(EXEMPLARS).flatMap((name) => [30, 48].map((fps) => [name, fps] as const)))(
  'a faultless %s at %i fps has nothing outside its bands either',
  (name, fps) => {
    const { kind, defaults, make } = EXEMPLARS[name]!;
    const motion = make({ fps, length: Math.round(((defaults.length as number) * fps) / 24) }, {});
    const shot = prepareShot(motion, { kind, loop: (defaults.loop ?? 'none') as ShotOptions['loop'] });
    const outside = judgeShot(defaultGauges(kind, fps), measureShot(shot), 'polish').findings.filter(
      ({ judgement }) => judgement === 'outside',
    );
    expect(outside.map(({ say }) => say)).toEqual([]);
  },
);

test.each(Object.keys(EXEMPLARS).filter((name) => EXEMPLARS[name]!.faults.includes('pop')))(
  'a frame out of place in a %s is there at any rate',
  (name) => {
    const { kind, defaults, make } = EXEMPLARS[name]!;
    for (const fps of [24, 25, 30]) {
      const motion = make({ fps, length: Math.ceil(((defaults.length as number) * fps) / 24) }, { pop: 45 });
      const pops = measureShot(prepareShot(motion, { kind })).readings.filter(({ id }) => id === 'arc.pop');
      expect([fps, pops.some(({ value }) => value === 1)]).toEqual([fps, true]);
    }
  },
);

describe('a fault moves its own reading by the right amount', () => {
  test.each(rows)('%s: %s', (name, fault, { reading, part, at, within = 0 }) => {
    for (const [size, value] of at) {
      const { readings } = measuredExemplar(name, { [fault]: size }).measured;
      const own = readings.filter(({ id, part: of }) => id === reading && (part === undefined || of === part));
      if (typeof value !== 'number') {
        expect(own.map((r) => r.value)).toContain(value);
        continue;
      }
      // Of several the one that is nearest: a pop is in one hand, a slide in every step.
      const off = Math.min(...own.map((r) => Math.abs((r.value as number) - value)));
      expect(off).toBeLessThanOrEqual(within + 1e-9);
    }
  });
});

describe('a fault leaves unrelated readings alone', () => {
  const key = ({ id, part }: Reading): string => `${id} ${part ?? ''}`;
  /** Values of the gauged readings, by id and part. */
  const gauged = (name: string, faults: Record<string, number>): Map<string, Reading['value'][]> => {
    const all = verdicts(gaugesOf(name), measuredExemplar(name, faults).measured, 'polish');
    const judged = new Set(all.flatMap(({ reading }) => reading ?? []));
    const values = new Map<string, Reading['value'][]>();
    for (const reading of judged) values.set(key(reading), [...(values.get(key(reading)) ?? []), reading.value]);
    return values;
  };
  /** A value that stays: the same, or a number that moves by less than a fifth of its band. */
  const stays = (name: string, id: string, a: Reading['value'], b: Reading['value'] | undefined): boolean => {
    if (typeof a !== 'number' || typeof b !== 'number') return a === b;
    const widths = gaugesOf(name).flatMap(({ reading, band }) => (reading === id && band ? [band[1] - band[0]] : []));
    return Math.abs(a - b) <= 0.2 * Math.max(...widths, 0) + 1e-9;
  };

  test.each(rows)('%s: %s', (name, fault, expected) => {
    const before = gauged(name, {});
    const after = gauged(name, { [fault]: expected.at[0]![0] });
    const moved = [...before]
      .filter(([id, values]) => !values.every((value, k) => stays(name, id.split(' ')[0]!, value, after.get(id)?.[k])))
      .map(([id]) => id.split(' ')[0]!)
      .filter((id) => id !== expected.reading && !expected.with?.includes(id));
    expect([fault, [...new Set(moved)]]).toEqual([fault, []]);
  });
});
