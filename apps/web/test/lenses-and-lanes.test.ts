import { bodyTopicOf } from '@ypsigraph/core/measure/body-topics';
import { drawnQuantity, quantityId, quantityName, quantityOfId } from '@ypsigraph/core/quantity/drawn-quantity';
import { quantitySignal } from '@ypsigraph/core/quantity/measure-quantity';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { exposeOn } from '@ypsigraph/core/exemplar/expose';
import { judgeShot } from '@ypsigraph/core/gauge/findings';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { reportShot } from '@ypsigraph/core/measure/report';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { Kind } from '@ypsigraph/core/motion/prepared-shot';
import type { StoredReport } from '@ypsigraph/contract/shots';
import { unseenParts, useDesk } from '../src/desk/desk-store.ts';
import { shownLabel } from '../src/desk/frames/exposing.ts';
import { MotionSource } from '../src/desk/frames/motion-source.ts';
import { IDENTITY } from '../src/desk/frames/label-map.ts';
import { type AnyLane, stacked } from '../src/desk/lanes/lane.ts';
import { LANES } from '../src/desk/lanes/registry.ts';
import { ghostLabels } from '../src/desk/lenses/ghosts-lens.ts';
import { LENSES } from '../src/desk/lenses/registry.ts';
import { verdicts } from '@ypsigraph/core/gauge/gauge';
import { labelsOnALine } from '../src/desk/lanes/labels-on-a-line.ts';
import { readingRows, rowsBeside } from '../src/desk/margin/readings-rows.ts';
import { preparedFor } from '../src/desk/paper/overlay.ts';
import { windowWithin } from '../src/desk/strip/use-zoom.ts';

const made = (kind: Kind, faults: Record<string, number> = {}, set: Record<string, number> = {}) => {
  const shot = prepareShot(EXEMPLARS[kind]!.make(set, faults), { kind });
  const report = reportShot(shot, { file: 'x.bvh', format: 'bvh', warnings: [] });
  const { findings } = judgeShot(defaultGauges(kind, 24), report, 'polish');
  return { source: new MotionSource(shot), report: report as StoredReport, findings, beside: undefined, marks: [] };
};
const lane = (id: string): AnyLane => LANES.find((own) => own.id === id)!;
const desk = () => useDesk.getState();

describe('lenses', () => {
  test('each has a key of its own, and none takes a view’s', () => {
    const keys = LENSES.map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
    for (const key of [...'asdfhcnmopliu']) expect(keys).not.toContain(key);
  });

  test('what a shot does not show, its lens does not claim: a turn has no mirrored pair, a rope no balance', () => {
    const told = (kind: Kind): string[] =>
      LENSES.filter(({ id }) => preparedFor(made(kind).source, id) !== undefined).map(({ id }) => id);
    // What is other from frame to frame is told by pictures alone.
    expect(told('walk')).toEqual(LENSES.map(({ id }) => id).filter((id) => id !== 'difference'));
    expect(told('turn')).not.toContain('mirror');
    expect(told('overlap')).not.toContain('balance');
    expect(told('overlap')).toContain('lag');
  });

  test('ghosts: round a loop, within a shot that is none, on twos two frames apart, by key poses at them', () => {
    const { source: walk } = made('walk');
    expect(ghostLabels(walk, 1, 'frames', 3)).toEqual({ before: [0, -1, -2], behind: [2, 3, 4] });
    expect(ghostLabels(walk, 9, 'twos', 3)).toEqual({ before: [7, 5, 3], behind: [11, 13, 15] });
    const { source: turn } = made('turn');
    expect(ghostLabels(turn, 1, 'frames', 3).before).toEqual([]);
    const poses = walk.keyPoses().map(({ label }) => label);
    expect(ghostLabels(walk, 5, 'poses', 3).before).toEqual(poses.filter((label) => label < 5).reverse());
  });

  test('a contact’s slide is the number of its reading, for every stand', () => {
    const { source, report } = made('walk', { slide: 6 });
    const { at } = preparedFor(source, 'contacts') as { at: Map<number, { side: string; slide: number }[]> };
    const stands = [...new Set([...at.values()].flat())];
    const slides = report.readings.filter(({ id }) => id === 'gait.slide');
    expect(stands.map(({ slide }) => slide).sort()).toEqual(slides.map(({ value }) => value).sort());
  });
});

describe('lanes', () => {
  test('two spans that meet lie in two rows, two that are apart in one', () => {
    const rows = (spans: [number, number][]): number[] =>
      stacked(spans.map(([from, to]) => ({ from, to }))).map(({ row }) => row);
    expect(
      rows([
        [1, 5],
        [5, 9],
        [10, 12],
      ]),
    ).toEqual([0, 1, 0]);
    expect(
      rows([
        [1, 4],
        [5, 9],
      ]),
    ).toEqual([0, 0]);
  });

  test('the trace of a revision beside lies on the axis of the one on the desk, where its frames belong', () => {
    const own = made('walk', {}, { length: 20 });
    const other = made('walk', {}, { length: 40 }).source;
    const traced = (labelMap: (label: number) => number) =>
      lane('trace').prepare(
        { ...own, beside: { source: other, labelMap } },
        { ...desk(), chosen: { 'trace of': 'height' }, point: 'hips' },
      ) as { own: { values: Float64Array }; beside: { signal: { values: Float64Array }; first: number } };
    // By label it is twice as long; on the axis each frame lies where the same share of the cycle does.
    expect(traced(IDENTITY).beside.signal.values).toHaveLength(41);
    const { own: now, beside } = traced((label) => 1 + 2 * (label - 1));
    expect([beside.first, beside.signal.values.length]).toEqual([1, 21]);
    const off = beside.signal.values.map((value, k) => Math.abs(value - now.values[k]!));
    expect(Math.max(...off)).toBeLessThan(0.4);
  });

  test('the weave has a band a part, pale in a hold, and sorts by what starts first', () => {
    const subject = made('turn');
    type Weave = { bands: { part: string; strength: Float64Array; start: number }[] };
    const { bands } = lane('weave').prepare(subject, desk()) as Weave;
    expect(bands.map(({ part }) => part)).toEqual(subject.source.parts);
    const head = bands.find(({ part }) => part === 'head')!;
    // The exemplar turns within frames 9 to 18 and holds until 32.
    expect(Math.max(...head.strength.subarray(10, 15))).toBeGreaterThan(0.5);
    expect(Math.max(...head.strength.subarray(22, 28))).toBeLessThan(0.1);
    const sorted = lane('weave').prepare(subject, { ...desk(), chosen: { 'weave sorted': 'start' } }) as Weave;
    const starts = sorted.bands.map(({ start }) => start);
    expect(starts).toEqual([...starts].sort((a, b) => a - b));
  });

  test('footfalls are the contacts of the readings, and a spot tells which foot stands', () => {
    const subject = made('walk');
    const prepared = lane('footfalls').prepare(subject, desk());
    const spot = lane('footfalls').spot!(prepared, 6, 4)!;
    expect(spot).toMatchObject({ part: 'leg.L', from: 1 });
    // The right foot, which landed at 13, stands on over the seam.
    expect(lane('footfalls').spot!(prepared, 2, 16)).toMatchObject({ part: 'leg.R', from: 13 });
    expect(lane('footfalls').prepare(made('turn'), desk())).toBeUndefined();
  });

  test('what happens when is told once a delay is asked for, a row a part; a spot tells which event it is', () => {
    const subject = made('walk');
    expect(lane('events').prepare(subject, desk())).toBeUndefined();
    const writes = { kind: 'delay' as const, payload: null, from: 1, to: 7 };
    const prepared = lane('events').prepare({ ...subject, writes }, desk());
    const { names } = lane('events').rows!(prepared);
    expect(names[0]).toBe('body');
    expect(names).toEqual(expect.arrayContaining(['left arm', 'right arm', 'hips']));
    const spot = lane('events').spot!(prepared, 1, 10)!;
    expect(spot).toMatchObject({ from: 1, event: { name: 'contact', label: 1 } });
    expect(spot.text).toMatch(/^the contact of the (left|right) foot, at 1$/);
    expect(lane('events').spot!(prepared, 1, 400)).toBeUndefined();
  });

  test('holds tell a dead one from a moving one; exposures are there only where poses are held', () => {
    const kinds = (faults: Record<string, number>): string[] =>
      ((lane('holds').prepare(made('turn', faults), desk()) ?? []) as { kind: string }[]).map(({ kind }) => kind);
    expect(kinds({ deadHold: 1 })).toContain('dead');
    expect(kinds({})).toContain('moving');
    expect(lane('exposures').prepare(made('walk'), desk())).toBeUndefined();
    const held = new MotionSource(prepareShot(exposeOn(EXEMPLARS.walk!.make({}, {}), 3), { kind: 'walk' }));
    const exposed = lane('exposures').prepare({ ...made('walk'), source: held }, desk()) as { length: number }[];
    expect(exposed[0]).toEqual({ from: 1, length: 3 });
  });

  test('the trace turns round where the signal does, and reads the ends of its moves', () => {
    const subject = made('turn');
    const trace = lane('trace').prepare(subject, {
      ...desk(),
      point: 'head',
      chosen: { 'trace of': 'turn in the world' },
    }) as {
      ends: { from: number; text: string }[];
      extremes: number[];
    };
    expect(trace.ends.length).toBeGreaterThanOrEqual(2);
    expect(trace.ends[0]!.text).toMatch(/eases out \d/);
    expect(Math.abs(trace.ends[0]!.from - 9)).toBeLessThanOrEqual(2);
  });

  test.each(['walk', 'run', 'jump', 'take', 'turn', 'overlap', 'idle'] as const)(
    'of a %s all draw without a word',
    (kind) => {
      const subject = made(kind);
      const calls = { count: 0 };
      const context = new Proxy({} as CanvasRenderingContext2D, {
        get: (_, name) => (text: string) => (
          calls.count++,
          name === 'measureText' ? { width: 6 * text.length } : undefined
        ),
        set: () => true,
      });
      const inks = { ink: '', graphite: '', sheet: '', left: '', right: '', instructor: '', student: '', wash: '' };
      for (const own of LANES) {
        const prepared: unknown = own.prepare(subject, desk());
        if (prepared === undefined) continue;
        expect(own.height(prepared)).toBeGreaterThan(8);
        const [from, to] = [subject.source.first, subject.source.first + subject.source.frames - 1];
        own.draw(
          { context, x: (l) => 10 * l, perFrame: 10, from, to, width: 800, height: 60, inks, desk: desk() },
          prepared,
        );
        for (let label = from; label <= to; label++) own.spot?.(prepared, label, 5);
      }
      expect(calls.count).toBeGreaterThan(50);
    },
  );
});

describe('what is shown', () => {
  test('on twos every other frame, on key poses the last of them, as in blocking', () => {
    const { source } = made('walk');
    expect([1, 2, 3, 4].map((label) => shownLabel(source, label, 'twos'))).toEqual([1, 1, 3, 3]);
    expect([1, 2, 3, 4].map((label) => shownLabel(source, label, 'threes'))).toEqual([1, 1, 1, 4]);
    const poses = source.keyPoses().map(({ label }) => label);
    for (let label = 1; label <= 25; label++) expect(poses).toContain(shownLabel(source, label, 'poses'));
  });

  test('a window keeps to the shot, is never too small, and is none where it is everything', () => {
    expect(windowWithin(-5, 20, 1, 100)).toEqual([1, 26]);
    expect(windowWithin(90, 120, 1, 100)).toEqual([70, 100]);
    expect(windowWithin(50, 51, 1, 100)).toEqual([50, 58]);
    expect(windowWithin(-20, 140, 1, 100)).toBeNull();
  });

  test('solo hides all parts but one, hidden parts stay hidden', () => {
    const parts = ['hips', 'head', 'arm.L'];
    expect([...unseenParts(parts, { hidden: new Set(['head']), solo: null })]).toEqual(['head']);
    expect([...unseenParts(parts, { hidden: new Set(), solo: 'head' })]).toEqual(['hips', 'arm.L']);
  });
});

describe('the table of readings', () => {
  test('left and right stand beside each other, and what repeats is one row with its worst', () => {
    const { report } = made('walk', { slide: 6 });
    const rows = readingRows(report.readings, verdicts(defaultGauges('walk', 24), report, 'polish'));
    const slide = rows.filter(({ id }) => id === 'gait.slide');
    expect(slide).toHaveLength(1);
    expect(slide[0]!.left!.judgement).toBe('outside');
    expect(slide[0]!.right!.line).toBeDefined();
    expect(rows.length).toBeLessThan(report.readings.length);
  });

  test('a row tells the reading’s own value where its gauge looks at a detail, or is a share of the step', () => {
    const cellOf = (id: string, set: Record<string, number> = {}) => {
      const { report } = made('walk', {}, set);
      const told = verdicts(defaultGauges('walk', 24), report, 'polish');
      return readingRows(report.readings, told).find((row) => row.id === id)!.middle!;
    };
    const step = cellOf('gait.step');
    expect([step.text, step.judgement, step.line]).toEqual(['12 frames', 'inside', undefined]);
    const [late, early] = [cellOf('gait.lowAfter', { bobDelay: 2 }), cellOf('gait.lowAfter', { bobDelay: -1 })];
    expect([late.judgement, early.judgement]).toEqual(['inside', 'outside']);
    expect(early.line!.at).toBeLessThan(early.line!.low);
    expect(early.told).toEqual({ judgement: 'outside', side: -1 });
    // When something happens is a frame, not so many of them.
    const { report } = made('walk');
    const passing = readingRows(report.readings, []).find(({ id }) => id === 'gait.passing')!;
    expect([passing.left!.text, passing.right!.text]).toEqual(['frame 7', 'frame 19']);
  });

  test('the readings of another revision stand beside its own, the latest first; what only that has is there too', () => {
    const gauges = defaultGauges('walk', 24);
    const [own, lower, faulty] = [made('walk'), made('walk', {}, { bob: 2 }), made('walk', { slide: 6 })].map(
      ({ report }) => readingRows(report.readings, verdicts(gauges, report, 'polish')),
    );
    const rows = rowsBeside(own!, [
      { number: 1, rows: lower! },
      { number: 2, rows: faulty! },
    ]);
    const bob = rows.find(({ id }) => id === 'gait.bob')!;
    expect(bob.then.map(({ number }) => number)).toEqual([2, 1]);
    expect(bob.then[0]!.middle).toBe(bob.middle!.text);
    expect(parseFloat(bob.then[1]!.middle!)).toBeLessThan(parseFloat(bob.middle!.text));
    const gone = rowsBeside(
      own!.filter(({ id }) => id !== 'gait.bob'),
      [{ number: 1, rows: own! }],
    );
    const row = gone.find(({ id }) => id === 'gait.bob')!;
    expect(row.middle).toBeUndefined();
    expect(row.then).toEqual([{ number: 1, middle: bob.middle!.text }]);
    expect(rowsBeside(own!, []).every(({ then }) => then.length === 0)).toBe(true);
  });

  test('a recording of many cycles has no more rows than one of one', () => {
    const one = readingRows(made('walk').report.readings, []);
    const many = readingRows(made('walk', {}, { cycles: 8 }).report.readings, []);
    expect(many.length).toBeLessThanOrEqual(one.length + 2);
    expect(many.find(({ id }) => id === 'gait.contact')!.left!.times).toBeGreaterThan(4);
  });
});

test('labels that have no room beside each other are one, and none lies over another', () => {
  const widthOf = (text: string): number => 6 * text.length;
  const at = (text: string, place: number) => ({ text, at: place });
  expect(labelsOnALine([at('down', 40), at('passing', 120), at('up', 200)], widthOf)).toHaveLength(3);
  expect(labelsOnALine([at('passing', 120), at('up', 130), at('down', 300)], widthOf)).toEqual([
    at('passing, up', 125),
    at('down', 300),
  ]);
  // The one that has grown reaches back.
  expect(labelsOnALine([at('down', 74), at('passing', 120), at('up', 122)], widthOf)).toEqual([
    at('down, passing, up', 98),
  ]);
  expect(labelsOnALine([], widthOf)).toEqual([]);
});

describe('a quantity of the figure', () => {
  test('is a signal of the trace by its name, with its value at every frame, and drawn where it is seen', () => {
    const subject = made('walk');
    const { source } = subject;
    const names = source.quantities.map(quantityName);
    expect(names).toContain('bend of the left knee');
    expect(names).toContain('lean of the trunk');
    const trace = lane('trace').prepare(subject, { ...desk(), chosen: { 'trace of': 'bend:knee.L' } }) as {
      name: string;
      own: { values: Float64Array };
    };
    expect(trace.name).toBe('bend of the left knee, °');
    expect(trace.own.values[0]).toBeCloseTo(
      (quantitySignal(source.figure.shown, 'bend', 'knee.L') as Float64Array)[0]!,
      9,
    );
    expect(drawnQuantity(source.figure.shown, { quantity: 'bend', of: 'knee.L' })).toMatchObject({ as: 'bend' });
    expect(drawnQuantity(source.figure.shown, { quantity: 'lean', of: 'trunk' })).toMatchObject({ against: 'up' });
  });

  test('that a signal of a point is called like is not taken for it', () => {
    expect(quantityOfId('turn in the world')).toBeUndefined();
    for (const own of made('walk').source.quantities) expect(quantityOfId(quantityId(own))).toEqual(own);
  });
});

describe('readings as a teacher goes through a body', () => {
  test.each([
    ['foot.land', 'leg.L', 'feet and ground'],
    ['knee.up', 'leg.R', 'legs'],
    ['size.turn', 'pelvis', 'hips'],
    ['size.turn', 'chest', 'trunk'],
    ['posture.head', 'head', 'head'],
    ['size.arm', 'arm.L', 'arms and hands'],
    ['lag.together', 'chain:strap', 'what drags'],
    ['gait.lowAfter', undefined, 'timing'],
    ['cycle.seam', undefined, 'loop'],
  ])('%s of %s is told with %s', (id, part, topic) => {
    expect(bodyTopicOf({ id, ...(part !== undefined && { part }) })).toBe(topic);
  });
});
