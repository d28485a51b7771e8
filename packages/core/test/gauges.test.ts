import { findingsOf, judgeShot } from '../src/gauge/findings.ts';
import { type Gauge, judge, type Verdict, verdicts } from '../src/gauge/gauge.ts';
import { STAGES } from '../src/trade/stages.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import type { Reading } from '../src/measure/reading.ts';
import { MEASURES, type ReadingId } from '../src/measure/registry.ts';
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
    expect(judge(value, [2, 5], 0.75)).toEqual({ judgement, distance: expect.closeTo(distance, 9) });
  });

  test('near is in the reading’s own unit, under and over the band, and nothing where it is not given', () => {
    expect(judge(1.9, [2, 5]).judgement).toBe('outside');
    expect([judge(1.9, [2, 5], [0, 1]), judge(5.9, [2, 5], [0, 1])].map(({ judgement }) => judgement)).toEqual([
      'outside',
      'near',
    ]);
    expect(judge(1, [0, 0]).judgement).toBe('outside');
    expect(judge(0, [0, 0]).judgement).toBe('inside');
  });
});

describe('verdicts and findings', () => {
  const gauge = (reading: string, more: Partial<Gauge> = {}): Gauge => ({
    reading: reading as ReadingId,
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
  const told = (all: readonly Pick<Verdict, 'gauge' | 'judgement'>[]) =>
    all.map(({ gauge: { reading }, judgement }) => [reading, judgement]);

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

  test('findings are what is not inside: outside before near, then by weight times bands’ widths outside', () => {
    const near = verdicts([gauge('b', { weight: 9, near: 1 }), gauge('a', { weight: 2 })], measured, 'polish');
    expect(told(findingsOf(near))).toEqual([
      ['a', 'outside'],
      ['b', 'near'],
    ]);
    // 9 in [0, 4] is 1.25 bands out, 4.5 in [0, 4] an eighth of one.
    const order = (a: number, b: number) =>
      findingsOf(verdicts([gauge('a', { weight: a }), gauge('b', { weight: b })], measured, 'polish')).map(
        ({ reading }) => reading.id,
      );
    expect(order(1, 9)).toEqual(['a', 'b']);
    expect(order(1, 11)).toEqual(['b', 'a']);
  });

  test('several of one id and part are one finding, the farthest, with the frames of all', () => {
    const steps = {
      readings: [
        { id: 'a', part: 'leg.L', value: 5, unit: 'x', frames: [9] },
        { id: 'a', part: 'leg.L', value: 7, unit: 'x', frames: [33] },
        { id: 'a', part: 'leg.R', value: 6, unit: 'x', frames: [21] },
      ],
      unmade: [],
    };
    const { findings } = judgeShot([gauge('a')], steps, 'polish');
    expect(findings.map(({ reading, frames }) => [reading.part, reading.value, frames])).toEqual([
      ['leg.L', 7, [9, 33]],
      ['leg.R', 6, [21]],
    ]);
  });

  test('what could not be judged is told with its reason, and counts as not judged', () => {
    const { judged, unjudged, findings } = judgeShot([gauge('a'), gauge('d'), gauge('e')], measured, 'polish');
    expect([judged, unjudged, findings.length]).toEqual([1, [{ reading: 'd', why: 'too short' }], 1]);
    // What could not be made at all could not be made of any part.
    expect(judgeShot([gauge('d', { part: 'head' })], measured, 'polish').unjudged).toHaveLength(1);
  });

  test('a band can be a share of the shot’s own step; without steps it can’t be judged', () => {
    const step = { id: 'gait.step', value: 20, unit: 'frames' };
    const share = gauge('b', { band: [5, 25], per: 'step' });
    expect(verdicts([share], { ...measured, readings: [...measured.readings, step] }, 'polish')[0]).toMatchObject({
      judgement: 'inside',
    });
    expect(
      verdicts([{ ...share, band: [5, 20] }], { ...measured, readings: [...measured.readings, step] }, 'polish')[0],
    ).toMatchObject({ judgement: 'outside', distance: 0.5 });
    expect(verdicts([share], measured, 'polish')[0]).toMatchObject({ judgement: 'unmade' });
  });

  test('a number in the detail, or how far three readings are apart, can be judged in place of the value', () => {
    const move = (value: number, more = {}) => ({ id: 'm', value, unit: 'x', detail: { odd: value / 10 }, ...more });
    const moves = { readings: [move(8), move(8), move(9)], unmade: [] };
    expect(told(verdicts([gauge('m', { of: 'odd' })], moves, 'polish'))).toEqual(Array(3).fill(['m', 'inside']));
    const spread = gauge('m', { over: 'spread', band: [2, 99] });
    expect(verdicts([spread], moves, 'polish')).toMatchObject([{ judgement: 'outside', distance: -1 }]);
    expect(verdicts([spread], { ...moves, readings: moves.readings.slice(1) }, 'polish')).toMatchObject([
      { judgement: 'unmade', why: expect.stringMatching(/three/) },
    ]);
    const cut = { readings: [move(9, { detail: { cut: true } }), move(9)], unmade: [] };
    expect(verdicts([gauge('m', { except: 'cut' })], cut, 'polish')).toHaveLength(1);
  });
});

describe('one cause, one finding', () => {
  const bad = (id: string, more: object = {}) => ({ id, value: 9, unit: 'x', ...more });
  const judged = (...readings: ReturnType<typeof bad>[]) => {
    const ids = [...new Set(readings.map(({ id }) => id))];
    const gauges = ids.map((id): Gauge => ({
      reading: id as ReadingId,
      from: 'blocking',
      band: [0, 4],
      weight: 1,
      why: 'because',
    }));
    return judgeShot(gauges, { readings, unmade: [] }, 'polish').findings.map(({ reading, also }) => [
      reading.id,
      also,
    ]);
  };

  // How far a foot lands ahead is read where it lands; how long a step takes needs both halves of the loop.
  test('a loop that is cut explains how long a step takes, and not how far it goes', () => {
    expect(judged(bad('cycle.seam'), bad('gait.step'), bad('gait.stepLength'))).toEqual([
      ['cycle.seam', ['gait.step']],
      ['gait.stepLength', []],
    ]);
  });

  test('a loop that does not close explains halves that do not mirror, but not a foot in the ground', () => {
    expect(judged(bad('cycle.seam'), bad('mirror.off'), bad('gait.depth', { part: 'leg.L' }))).toEqual([
      ['cycle.seam', ['mirror.off']],
      ['gait.depth', []],
    ]);
  });

  test('a pop explains what is read at its moment, and not what is elsewhere', () => {
    const pop = bad('arc.pop', { part: 'hips', frames: [20] });
    expect(judged(pop, bad('gait.float', { part: 'leg.L', frames: [18, 30] }))).toEqual([['arc.pop', ['gait.float']]]);
    expect(judged(pop, bad('gait.float', { part: 'leg.L', frames: [24, 30] }))).toHaveLength(2);
    expect(judged(pop, bad('arc.off', { part: 'head', frames: [22] }))).toHaveLength(1);
    expect(judged(pop, bad('arc.off', { part: 'head', frames: [23] }))).toHaveLength(2);
  });

  test('a knee that snaps is named as that, whichever joint of its leg does it; of the hips the pop is', () => {
    const knee = bad('gait.knee', { part: 'leg.L', frames: [9] });
    const pop = (role: string) => bad('arc.pop', { part: role, frames: [9], detail: { role } });
    expect(judged(knee, pop('thigh.L'))).toEqual([['gait.knee', ['arc.pop']]]);
    expect(judged(knee, pop('thigh.R')).map(([id]) => id)).toEqual(['gait.knee', 'arc.pop']);
    expect(judged(knee, pop('hips'))).toEqual([['arc.pop', ['gait.knee']]]);
  });

  test('a span round a loop is what lies outside of its middle; a seam is where its two frames meet', () => {
    const pop = (at: number) => bad('arc.pop', { part: 'hips', frames: [at] });
    const round = bad('gait.slide', { part: 'leg.R', frames: [20, 3] });
    expect([2, 12, 22].map((at) => judged(pop(at), round).length)).toEqual([1, 2, 1]);
    const seam = bad('cycle.seam', { frames: [24, 1] });
    expect([2, 12, 23].map((at) => judged(pop(at), seam).length)).toEqual([1, 2, 1]);
  });

  test('a pop explains what hangs from its joint alone', () => {
    const pop = (role: string) => bad('arc.pop', { part: 'x', frames: [9], detail: { role } });
    const within = bad('arc.pop', { part: 'thumb', frames: [9], detail: { within: 'hand.R' } });
    const slide = bad('gait.slide', { part: 'leg.L', frames: [4, 12] });
    const bob = bad('gait.bob', { frames: [9] });
    const held = bad('hold.kind', { part: 'head', frames: [6, 14] });
    const alone = (cause: ReturnType<typeof bad>, effect: ReturnType<typeof bad>): boolean =>
      judged(cause, effect).length === 2;
    expect(['foreArm.R', 'head', 'chest', 'thigh.R'].map((role) => alone(pop(role), slide))).toEqual(
      Array(4).fill(true),
    );
    expect(['thigh.L', 'foot.L', 'hips'].map((role) => alone(pop(role), slide))).toEqual(Array(3).fill(false));
    expect([alone(within, slide), alone(within, bad('arc.off', { part: 'hand.R', frames: [9] }))]).toEqual([
      true,
      false,
    ]);
    expect(['foot.L', 'chest'].map((role) => alone(pop(role), bob))).toEqual([true, true]);
    expect(alone(pop('hips'), bob)).toBe(false);
    expect(['chest', 'neck', 'hand.L'].map((role) => alone(pop(role), held))).toEqual([false, false, true]);
  });

  test('of two that explain each other the farther is kept', () => {
    const seam = bad('cycle.seam', { frames: [24, 1] });
    expect(judged(seam, bad('arc.pop', { value: 6, part: 'chest', frames: [1] }))).toEqual([
      ['cycle.seam', ['arc.pop']],
    ]);
    expect(judged({ ...seam, value: 6 }, bad('arc.pop', { part: 'chest', frames: [1] }))).toEqual([
      ['arc.pop', ['cycle.seam']],
    ]);
  });
});

describe('the default gauges', () => {
  test.each(KINDS.filter((kind) => kind !== 'any'))(
    'of a %s name readings that its kind makes, each with a reason',
    (kind) => {
      const ids = MEASURES.flatMap(({ readings }) => readings)
        .filter(({ kinds }) => kinds.includes(kind))
        .map(({ id }) => id);
      const gauges = defaultGauges(kind);
      expect(gauges.length).toBeGreaterThan(4);
      for (const { reading, why, weight, band, allowed } of gauges) {
        expect(ids).toContain(reading);
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

describe('a link of a chain', () => {
  const arm = (lags: readonly (number | null)[]): Reading => ({
    id: 'lag.frames',
    part: 'arm.L',
    value: 1,
    unit: 'frames',
    detail: {
      links: lags.map((lag, k) => ({
        parent: ['upperArm.L', 'foreArm.L'][k]!,
        child: ['foreArm.L', 'hand.L'][k]!,
        lag,
        likeness: 0.9,
      })),
    },
  });
  const gauge: Gauge = {
    reading: 'lag.frames',
    part: 'arm.L',
    link: 2,
    from: 'polish',
    band: [1, 3],
    weight: 5,
    why: 'The hand drags.',
  };
  const judged = (reading: Reading, own = gauge) => judgeShot([own], { readings: [reading], unmade: [] }, 'polish');

  test('is judged by itself, whatever the others do', () => {
    expect(judged(arm([9, 2])).findings).toEqual([]);
    const [late] = judged(arm([2, 5])).findings;
    expect([late!.distance, late!.say]).toEqual([2, 'The left hand moves 5 frames after the left forearm']);
    expect(judged(arm([2, -1])).findings[0]!.say).toBe('The left hand moves a frame before the left forearm');
  });

  test('of which nothing was told, or that the chain does not have, is not judged', () => {
    for (const lags of [[2, null], [2]]) expect(judged(arm(lags))).toMatchObject({ findings: [], judged: 0 });
  });

  test('of likenesses is told as one', () => {
    const alike = { ...arm([1, 1]), id: 'lag.likeness' };
    const [unlike] = judged(alike, { ...gauge, reading: 'lag.likeness', band: [0.95, 1] }).findings;
    expect(unlike!.say).toBe('The left hand moves unlike the left forearm (likeness 0.9)');
  });
});
