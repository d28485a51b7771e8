import { findings, type Gauge, judge, STAGES, type Verdict, verdicts } from '../src/gauge/gauge.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { MEASURES } from '../src/measure/registry.ts';
import { KINDS } from '../src/motion/prepared-shot.ts';

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

  test('a gauge can be for every chain there is', () => {
    const chains = {
      readings: [{ id: 'a', part: 'chain:rope', value: 9, unit: 'x' }, ...measured.readings],
      unmade: [],
    };
    expect(told(verdicts([gauge('a', { part: 'chain:*' })], chains, 'polish'))).toEqual([['a', 'outside']]);
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
  test.each(KINDS.filter((kind) => kind !== 'any'))(
    'of a %s name readings that its kind makes, each with a reason',
    (kind) => {
      const ids = MEASURES.filter(({ kinds }) => kinds === undefined || kinds.includes(kind)).flatMap(
        ({ ids: own }) => own,
      );
      const gauges = defaultGauges(kind);
      expect(gauges.length).toBeGreaterThan(4);
      for (const { reading, why, weight, band, allowed } of gauges) {
        // A head's moves bring their holds with them.
        expect([...ids, ...(ids.includes('arc.rise') ? ['move.frames', 'hold.frames', 'hold.kind'] : [])]).toContain(
          reading,
        );
        expect(why.length).toBeGreaterThan(15);
        expect(weight).toBeGreaterThan(0);
        expect((band === undefined) !== (allowed === undefined)).toBe(true);
        if (band) expect(band[0]).toBeLessThanOrEqual(band[1]);
      }
    },
  );

  test('expect nothing in particular of any', () => {
    expect(defaultGauges('any')).toEqual([]);
  });

  test('a time is so many frames of the shot’s own: on twos at 12 fps half as many, a ratio stays', () => {
    const band = (fps: number, reading: string) =>
      defaultGauges('take', fps).find((gauge) => gauge.reading === reading)!.band!;
    expect(band(12, 'look.frames')).toEqual(band(24, 'look.frames').map((frames) => frames / 2));
    expect(band(48, 'take.accentHold')).toEqual(band(24, 'take.accentHold').map((frames) => frames * 2));
    expect(band(12, 'take.accent')).toEqual(band(24, 'take.accent'));
    expect(band(48, 'arc.pop')).toEqual([0, 0]);
  });
});
