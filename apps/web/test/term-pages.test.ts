import { execFileSync } from 'node:child_process';
import type { ReadingId } from '@ypsigraph/core/measure/registry';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { asking, measureMark, type PayloadOf } from '@ypsigraph/core/mark/mark';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import type { Gauge, ReadingValues } from '@ypsigraph/contract/briefs';
import type { FolioExercise, FolioRevision, Tally, TallyEntry } from '@ypsigraph/contract/folios';
import { EMPTY_BRIEF } from '@ypsigraph/contract/briefs';
import type { PlacedMark } from '../src/desk/marks/placed-marks.ts';
import { wantedOnTrace } from '../src/desk/lanes/wanted-on-trace.ts';
import { thenPath } from '../src/desk/marks/then-path.ts';
import { MotionSource } from '../src/desk/frames/motion-source.ts';
import { unseenFindings } from '../src/desk/unseen.ts';
import { docketSearch } from '../src/pages/docket-search.ts';
import { faultAt, faultsOfDraft } from '../src/pages/briefs/brief-draft.ts';
import { countShots, countsText, exemplarValues } from '../src/pages/briefs/gauge-counts.ts';
import { gaugeTopic, isNamed } from '../src/pages/briefs/gauge-topic.ts';
import { readBriefFile } from '../src/pages/briefs/read-brief-file.ts';
import { answerTimes, folioTotals, returningFaults, spanText } from '../src/pages/folio/folio-facts.ts';
import { withTaken } from '@ypsigraph/core/posing/pulled-pose';
import { NOTHING_WANTED } from '@ypsigraph/core/posing/wanted-pose';
import { markDrawing } from '../src/pages/sheet/drawing.ts';
import type { Sheet } from '../src/pages/sheet/sheet-facts.ts';
import { sheetPdf } from '../src/pages/sheet/sheet-pdf.ts';
import { cellText, tallyRows } from '../src/pages/tally/tally-facts.ts';

const ID = '00000000-0000-4000-8000-000000000000';

describe('a gauge against the shots there are', () => {
  const gauge: Gauge = { reading: 'gait.slide', from: 'polish', band: [0, 2], near: 0.5, weight: 1, why: 'x' };
  type Readings = ReadingValues['shots'][number]['readings'];
  const slide = (part: string, value: number): Readings[number] => ({ id: 'gait.slide', part, value, detail: {} });
  const shot = (name: string, ...readings: Readings) => ({ shot: name, student: name, readings });
  const values = {
    shots: [
      shot('a', slide('leg.L', 1), slide('leg.R', 6)),
      shot('b', slide('leg.L', 2.4)),
      shot('c', slide('leg.L', 0)),
      shot('d'),
    ],
  };

  test('a shot is as its worst reading; moving the band says at once how many fall outside', () => {
    expect(countShots(gauge, values)).toMatchObject({ inside: 1, near: 1, outside: 1 });
    expect(countsText(countShots(gauge, values))).toBe('3 shots: 1 outside, 1 near.');
    expect(countsText(countShots({ ...gauge, band: [0, 7] }, values))).toBe('3 shots: all lie inside.');
    expect(countShots({ ...gauge, part: 'leg.L' }, values).shots.find((own) => own.shot === 'a')!.value).toBe(1);
    expect(countsText(countShots(gauge, { shots: [] }))).toBe('No shot has it yet.');
  });

  // A delay of 3 frames is a quarter of a step of 12, and half of one of 6.
  test('a band that is a share of the step stands among shots as the share that each has of its own', () => {
    const late = (name: string, step: number, by: number) =>
      shot(name, { id: 'gait.step', value: step, detail: {} }, { id: 'gait.lowAfter', value: by, detail: {} });
    const shares: Gauge = { ...gauge, reading: 'gait.lowAfter', band: [10, 30], near: 0, per: 'step' };
    const counts = countShots(shares, { shots: [late('a', 12, 3), late('b', 6, 3), shot('c', slide('leg.L', 1))] });
    expect(counts.shots.map(({ value, judgement }) => [value, judgement])).toEqual([
      [25, 'inside'],
      [50, 'outside'],
    ]);
    expect(exemplarValues(shares, late('x', 24, 6).readings as never)).toEqual([25]);
  });

  test('a number in the detail, how far several are apart, and what is no number, are counted as they are judged', () => {
    const hold = (value: string, drift: number): Readings[number] => ({ id: 'hold.kind', value, detail: { drift } });
    const shots = [shot('a', hold('dead', 0)), shot('b', hold('moving', 3))];
    expect(countShots({ ...gauge, reading: 'hold.kind', of: 'drift' }, { shots }).shots).toMatchObject([
      { shot: 'a', value: 0, judgement: 'inside' },
      { shot: 'b', value: 3, judgement: 'outside' },
    ]);
    const { band: _, ...words } = gauge;
    const allowed = countShots({ ...words, reading: 'hold.kind', allowed: ['moving'] }, { shots });
    expect([allowed.inside, allowed.outside, allowed.shots[0]!.value]).toEqual([1, 1, undefined]);
    const move = (value: number): Readings[number] => ({ id: 'move.frames', value, detail: {} });
    const spread = countShots(
      { ...gauge, reading: 'move.frames', over: 'spread' },
      { shots: [shot('a', move(8), move(12), move(9))] },
    );
    expect(spread.shots[0]).toMatchObject({ value: 4, judgement: 'outside' });
  });
});

test.each<[ReadingId, string | undefined, string]>([
  ['gait.slide', 'leg.L', 'feet and ground'],
  ['knee.down', 'leg.R', 'legs'],
  ['gait.opposition', undefined, 'arms and hands'],
  ['lag.together', 'chain:*', 'what drags'],
  ['lag.together', 'arm.R', 'arms and hands'],
  ['head.steady', 'none', 'head'],
  ['gait.bob', undefined, 'hips'],
  ['posture.lean', undefined, 'trunk'],
  ['gait.lowAfter', undefined, 'timing'],
  ['cycle.seam', undefined, 'loop'],
])('a gauge on %s of %s stands under %s', (reading, part, under) => {
  expect(gaugeTopic({ reading, ...(part !== undefined && { part }) })).toBe(under);
});

test('a gauge is found by the words of its name, its part and where it stands', () => {
  expect(isNamed({ reading: 'knee.down' }, 'Knee down')).toBe(true);
  expect(isNamed({ reading: 'gait.slide', part: 'leg.L' }, 'left slide')).toBe(true);
  expect(isNamed({ reading: 'gait.slide' }, 'ground')).toBe(true);
  expect(isNamed({ reading: 'gait.slide' }, 'slide arm')).toBe(false);
  expect(isNamed({ reading: 'gait.slide' }, '')).toBe(true);
});

describe('a brief that is written', () => {
  const draft = { ...EMPTY_BRIEF, title: 'Fog watch', kind: 'walk' as const };
  test('lines left empty are no lines; what is wrong is said at its field', () => {
    expect(faultsOfDraft({ ...draft, watch: ['', '  '] })).toEqual([]);
    const faults = faultsOfDraft({ ...draft, title: ' ', fps: 0 });
    expect(faultAt(faults, 'title')).toBe('a title is needed');
    expect(faultAt(faults, 'fps')).toBe('at least one frame a second');
    expect(faultAt([{ field: 'gauges.3.band', message: 'x' }], 'gauges.3')).toBe('x');
    expect(faultAt([{ field: 'gauges.31.band', message: 'x' }], 'gauges.3')).toBeUndefined();
  });

  test('a file says what is wrong with it before it is sent', () => {
    const file = (brief: object) =>
      JSON.stringify({ format: 'ypsigraph-brief', version: 1, brief: { ...draft, before: [], ...brief } });
    expect('brief' in readBriefFile(file({}))).toBe(true);
    expect(readBriefFile('{')).toEqual({ faults: [expect.stringMatching(/^This is no JSON/)] });
    expect(readBriefFile(file({ fps: 'fast' }))).toEqual({ faults: [expect.stringMatching(/^brief\.fps: /)] });
    expect(readBriefFile(file({ exemplar: { name: 'swim', set: {} } }))).toEqual({
      faults: ['brief.exemplar.name: there is no exemplar “swim”'],
    });
  });
});

const revision = (number: number, at: string, faults: string[], more: Partial<FolioRevision> = {}): FolioRevision => ({
  id: `${at} ${number}`,
  number,
  stage: 'smoothing',
  state: 'sent back',
  at: `2026-10-${at}T18:00:00.000Z`,
  judged: `2026-10-${at}T23:00:00.000Z`,
  late: false,
  verdicts: { inside: 5, near: 0, outside: faults.length, unjudged: 0 },
  faults: faults.map((reading) => ({ reading, part: null, judgement: 'outside', say: reading })),
  marks: { open: 1, answered: 0, cleared: 2, waived: 0 },
  ...more,
});
const exercise = (title: string, revisions: FolioRevision[]): FolioExercise => ({
  assignment: ID,
  brief: { id: ID, family: ID, version: 1, title, kind: 'walk', text: '', clockMinutes: null },
  due: '2026-10-20T18:00:00.000Z',
  shot: ID,
  revisions,
});

describe('what a folio says', () => {
  test('a fault comes back when it was there, was gone, and is there again', () => {
    const course = [
      exercise('Signal halyard', [
        revision(1, '01', ['hold.kind', 'lag.together']),
        revision(2, '05', ['lag.together']),
      ]),
      exercise('Two voices', [revision(1, '09', ['hold.kind', 'lag.together'])]),
    ];
    const [back, ...others] = returningFaults(course);
    expect(others).toEqual([]);
    expect([back!.reading, back!.times, back!.trail.map(({ shown }) => shown)]).toEqual([
      'hold.kind',
      2,
      [true, false, true],
    ]);
  });

  test('a stage that does not look at it is no sign that it is gone', () => {
    const course = [
      exercise('Foghorn', [
        revision(1, '01', ['arc.pop'], { stage: 'polish' }),
        revision(2, '05', [], { stage: 'blocking' }),
        revision(3, '09', ['arc.pop'], { stage: 'polish' }),
      ]),
    ];
    expect(returningFaults(course)).toEqual([]);
  });

  test('waits and sums', () => {
    const course = [
      exercise('Foghorn', [
        revision(1, '01', ['a']),
        revision(2, '05', [], { judged: null, state: 'handed in', late: true }),
      ]),
    ];
    expect(answerTimes(course).map(({ hours, of }) => [hours, of])).toEqual([[5, 'Foghorn, R1']]);
    expect(folioTotals(course)).toEqual({ revisions: 2, signedOff: 0, raised: 6, cleared: 4, waived: 0, late: 0 });
    expect([spanText(0.2), spanText(1), spanText(30), spanText(73)]).toEqual([
      '1 hour',
      '1 hour',
      '30 hours',
      '3 days',
    ]);
  });
});

describe('what a tally says', () => {
  const shot = (student: string, judgement: 'near' | 'outside' = 'outside') => ({
    shot: student,
    student: { id: student, name: student },
    revision: { id: ID, number: 1 },
    judgement,
    say: 'x',
  });
  const entry = (reading: string, assignment: string, shots: ReturnType<typeof shot>[], mended = 0): TallyEntry => ({
    reading,
    assignment,
    shots,
    mended,
    marks: 1,
  });
  const assignments = ['a', 'b'].map((id) => ({
    ...exercise(id, []),
    id,
    shots: 4,
    measured: 4,
    signedOff: 0,
  })) as unknown as Tally['assignments'];

  test('what most students share stands first; one student counts once', () => {
    const entries = [
      entry('arc.pop', 'a', [shot('Hoku'), shot('Bram')]),
      entry('gait.slide', 'a', [shot('Hoku')]),
      entry('gait.slide', 'b', [shot('Hoku'), shot('Inês', 'near')]),
      entry('hold.kind', 'b', [], 2),
    ];
    const rows = tallyRows({ entries, assignments });
    expect(rows.map(({ reading, students, outside, mended }) => [reading, students, outside, mended])).toEqual([
      ['arc.pop', 2, 2, 0],
      ['gait.slide', 1, 2, 0],
      ['hold.kind', 0, 0, 2],
    ]);
    expect(cellText(rows[1]!.cells[1]!)).toBe('1 of 4 outside, 1 near');
    expect(cellText(rows[2]!.cells[1]!)).toBe('0 of 4 outside, 2 fixed');
  });
});

test('an address asks the docket for what it can be asked for', () => {
  expect(docketSearch(new URLSearchParams(`order=due&stage=lunch&only=late&exercise=${ID}&sort=x`))).toEqual({
    order: 'due',
    exercise: ID,
    only: 'late',
  });
});

test('what nobody has said anything of is what would be signed off unseen', () => {
  const finding = (id: string, part: string | undefined, judgement: 'near' | 'outside') =>
    ({ reading: { id, value: 1, unit: '', ...(part && { part }) }, judgement }) as never;
  const mark = (reading: string, part?: string) => ({ payload: { quote: { reading, part } } }) as never;
  const standing = [
    finding('gait.slide', 'leg.L', 'outside'),
    finding('gait.slide', 'leg.R', 'outside'),
    finding('arc.off', undefined, 'near'),
  ];
  expect(unseenFindings(standing, [mark('gait.slide', 'leg.L')]).map(({ reading }) => reading.part)).toEqual(['leg.R']);
});

describe('then, now and wanted', () => {
  const markOf = (point: string, from: number, to: number, payload: object) =>
    ({ id: 'm', point, from, to, was: { from, to }, payload, state: 'open' }) as unknown as PlacedMark;
  const sourceOf = (faults: object, options: object = {}) =>
    new MotionSource(prepareShot(walkExemplar(options, faults), { kind: 'walk', loop: 'repeat' }));

  test('the way a point went then lies on the figure of now: the same motion on itself, another size and axis too', () => {
    const own = sourceOf({});
    const mark = { from: 4, was: { from: 4, to: 9 }, point: 'foot.L' };
    const path = own.path(own.pointNames.indexOf('foot.L')).points;
    const then = thenPath(own, own, mark)!;
    expect(then).toHaveLength(18);
    then.forEach((value, k) => expect(value).toBeCloseTo(path[9 + k]!, 6));
    expect(thenPath(own, own, { ...mark, point: 'wing' })).toBeUndefined();
  });

  test('the steps a spacing mark wants add up to the way the point goes', () => {
    const own = sourceOf({ slide: 6 });
    const speeds = own.signal(own.pointNames.indexOf('foot.L'), 'speed')!;
    const payload = { kind: 'spacing', core: 'x', measured: null, wanted: { fractions: [0, 0.5, 0.75, 1] } };
    const mark = markOf('foot.L', 4, 7, payload);
    const traced = { trace: 'speed', values: speeds.values, first: 1 } as const;
    const [wanted] = wantedOnTrace([mark], 'foot.L', traced);
    const way = speeds.values[3]! + speeds.values[4]! + speeds.values[5]!;
    expect(wanted!.points.map(([label]) => label)).toEqual([4.5, 5.5, 6.5]);
    expect(wanted!.points.map(([, step]) => step / way)).toEqual([0.5, 0.25, 0.25].map((s) => expect.closeTo(s, 9)));
    expect(wantedOnTrace([mark], 'hand.L', traced)).toEqual([]);
    // Steps are told of the speed alone.
    expect(wantedOnTrace([mark], 'foot.L', { ...traced, trace: 'height' })).toEqual([]);
  });

  describe('what other marks want of a trace', () => {
    // A turn of 40 degrees over frames 5 to 13, then a rest, from label 1 on.
    const values = Array.from({ length: 30 }, (_, k) => 40 * Math.min(1, Math.max(0, (k + 1 - 5) / 8)));
    const traced = { trace: 'turn', values, first: 1 } as const;
    const wants = (payload: object, from: number, to: number, was = { from, to }) =>
      wantedOnTrace([{ ...markOf('head', from, to, { core: 'x', ...payload }), was }], 'head', traced)[0]?.points ?? [];

    test('a timing mark: the same move on the frames it should take', () => {
      const points = wants({ kind: 'timing', measured: { from: 5, to: 13 }, wanted: { from: 5, to: 9 } }, 5, 13);
      expect(points[0]).toEqual([5, 0]);
      expect(points[4]).toEqual([7, 20]);
      expect(points.at(-1)).toEqual([9, 40]);
    });

    test('a breakdown: three quarters of the first pose is a quarter of the way', () => {
      const payload = { kind: 'breakdown', measured: { at: 9, favour: 50, departure: 0 }, wanted: { favour: 75 } };
      expect(wants(payload, 5, 13)).toEqual([
        [5, 0],
        [9, 10],
        [13, 40],
      ]);
    });

    test('an overshoot: as deep and as long as is wanted, a little the other way first', () => {
      const measured = { from: 5, to: 13, depth: 0, frames: 0, swings: 0, anticipation: 0 };
      const points = wants({ kind: 'overshoot', measured, wanted: { depth: 25, frames: 6, anticipation: 10 } }, 5, 13);
      expect(Math.max(...points.map(([, value]) => value))).toBeCloseTo(50, 9);
      expect(Math.min(...points.map(([, value]) => value))).toBeCloseTo(-4, 9);
      expect(points.at(-1)![0]).toBe(19);
    });

    test('a moving hold: its rest drifts on by what is wanted of the move before', () => {
      const payload = { kind: 'moving hold', measured: null, wanted: { from: 13, to: 25, drift: 5 } };
      expect(wants(payload, 13, 25)).toEqual([
        [13, 40],
        [25, 42],
      ]);
    });

    test('a mark of an earlier revision is drawn where its frames are now', () => {
      const payload = { kind: 'breakdown', measured: { at: 24, favour: 50, departure: 0 }, wanted: { favour: 75 } };
      expect(wants(payload, 5, 13, { from: 20, to: 28 })[1]).toEqual([9, 10]);
    });

    test('what is cleared wants nothing', () => {
      const payload = { kind: 'moving hold', core: 'x', measured: null, wanted: { from: 13, to: 25, drift: 5 } };
      const cleared = { ...markOf('head', 13, 25, payload), state: 'cleared' as const };
      expect(wantedOnTrace([cleared], 'head', traced)).toEqual([]);
    });
  });
});

describe('a return sheet', () => {
  const shot = prepareShot(walkExemplar({}, { slide: 6 }), { kind: 'walk', loop: 'repeat' });
  const place = { from: 4, to: 9, point: 'foot.L' };
  const payload = measureMark('arc', shot, place) as never;

  test('a mark is drawn within its paper: figure, path, and the arc that is wanted', () => {
    const drawing = markDrawing(shot, { ...place, payload })!;
    expect(new Set(drawing.strokes.map(({ of }) => of))).toEqual(
      new Set(['left', 'right', 'centre', 'ghost', 'path', 'wanted']),
    );
    for (const { points } of drawing.strokes)
      points.forEach((value, k) => {
        expect(value).toBeGreaterThanOrEqual(0);
        expect(value).toBeLessThanOrEqual(k % 2 === 0 ? drawing.width : drawing.height);
      });
    expect(markDrawing(shot, { ...place, from: 90, to: 91, payload: null })).toBeUndefined();
  });

  test('draws the pose that is wanted beside the one that is there', () => {
    const shot = prepareShot(EXEMPLARS.walk!.make({}, {}), { kind: 'walk' });
    const at = { from: 4, to: 4, point: null };
    const payload = measureMark('pose', shot, at) as PayloadOf<'pose'>;
    const wanted = withTaken(shot, 3, NOTHING_WANTED, { shot, sample: 15 }, ['arm.L', 'arm.R']);
    const strokes = (own: PayloadOf<'pose'>): number =>
      markDrawing(shot, { ...at, payload: own })!.strokes.filter(({ of }) => of === 'wanted').length;
    expect(strokes(payload)).toBe(0);
    expect(strokes(asking(payload, wanted))).toBeGreaterThan(10);
  });

  test('the PDF is read by poppler: its text, its fonts, its pages', async () => {
    const font = (subset: string, weight: number, family = 'atkinson-hyperlegible-next'): Uint8Array =>
      new Uint8Array(
        readFileSync(require.resolve(`@fontsource/${family}/files/${family}-${subset}-${weight}-normal.woff`)),
      );
    const entry: Sheet['marks'][number] = {
      id: 'm',
      frames: '4–9',
      kind: 'arc',
      about: 'foot.L, should, smoothing',
      words: 'The foot goes straight where it should swing. '.repeat(6),
      state: 'open',
      now: '2 % of a leg off its arc',
      wanted: 'the arc as drawn',
      replies: ['Tomasz Wieczór: poprawiłem łuk', 'Дуга исправлена, ανάγνωση, chuyển động'],
      chart: { measured: [0, 0.3, 1], wanted: [0, 0.5, 1], first: 4 },
      drawing: markDrawing(shot, { ...place, payload }),
      picture: undefined,
    };
    const sheet: Sheet = {
      title: 'Night round',
      student: 'Tomasz Wieczór',
      about: 'Revision 2, smoothing, sent back',
      words: 'Nearly there.',
      asked: 'Arcs. 港 is set as what no font here has.',
      from: 'Thursday loft',
      marks: Array.from({ length: 9 }, (_, k) => ({ ...entry, id: String(k) })),
    };
    const fonts = {
      plain: [
        font('latin', 400),
        font('latin-ext', 400),
        ...['cyrillic', 'greek', 'vietnamese'].map((subset) => font(subset, 400, 'noto-sans')),
      ],
      bold: [font('latin', 700), font('latin-ext', 700)],
    };
    const folder = mkdtempSync(join(tmpdir(), 'sheet-'));
    try {
      const file = join(folder, 'sheet.pdf');
      writeFileSync(file, await sheetPdf(sheet, fonts));
      const text = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
      for (const words of [
        'Night round: Tomasz Wieczór',
        'Next: Arcs. ? is set',
        'Дуга исправлена, ανάγνωση, chuyển động',
        '4–9',
        'wanted: the arc as drawn',
        'poprawiłem łuk',
      ])
        expect(text).toContain(words);
      expect(text.match(/4–9/g)).toHaveLength(9);
      const facts = execFileSync('pdfinfo', [file], { encoding: 'utf8' });
      expect(facts).toMatch(/Pages:\s+[234]\n/);
      expect(facts).toMatch(/Page size:\s+595\.28 x 841\.89 pts \(A4\)/);
      const [, , ...lines] = execFileSync('pdffonts', [file], { encoding: 'utf8' }).trim().split('\n');
      expect(lines.length).toBeGreaterThanOrEqual(3);
      // Every font is embedded, with its characters' meaning.
      for (const line of lines) expect(line).toMatch(/ yes \w+ +yes /);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
