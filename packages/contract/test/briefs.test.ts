import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { KINDS } from '@ypsigraph/core/motion/kinds';
import { briefChanges } from '../src/brief-changes.ts';
import { briefJsonSchema } from '../src/brief-schema.ts';
import { BriefContent, BriefFileFormat, EMPTY_BRIEF, Gauge, PlannedPose } from '../src/briefs.ts';
import { faultsOf } from '../src/check-brief.ts';
import { bandsOf, gaugesOf } from '../src/gauges-of.ts';
import { pictureOptions } from '../src/pictures.ts';
import { shotOptions } from '../src/shot-options.ts';

const NIGHT: BriefContent = { ...EMPTY_BRIEF, title: 'Night round', kind: 'walk', frames: 24, loop: 'repeat' };

describe('gauges', () => {
  test.each(KINDS)('the usual ones of a %s can be stored as they are, and judge the same', (kind) => {
    const usual = defaultGauges(kind);
    expect(usual.map((gauge) => Gauge.parse(structuredClone(gauge)))).toEqual(usual);
    expect(gaugesOf({ ...NIGHT, kind, gauges: usual.map((gauge) => Gauge.parse(structuredClone(gauge))) })).toEqual(
      usual,
    );
  });

  test('a brief of its own gauges judges by those, and by none where it has none', () => {
    expect(gaugesOf({ ...NIGHT, gauges: [] })).toEqual([]);
    expect(gaugesOf({ ...NIGHT, gauges: null })).toEqual(defaultGauges('walk', 24));
  });

  test('of several kinds come along, and those of the plan stand first', () => {
    const both = gaugesOf({ ...NIGHT, alsoKinds: ['turn'], plan: [{ name: 'contact', frame: 1, tolerance: 2 }] });
    expect(both.map(({ reading }) => reading)).toEqual([
      'plan.frame',
      'plan.missing',
      ...defaultGauges(['walk', 'turn']).map(({ reading }) => reading),
    ]);
    expect(both[0]).toMatchObject({ part: 'contact', band: [-2, 2] });
    expect(bandsOf({ ...NIGHT, alsoKinds: ['turn'] }).length).toBeGreaterThan(defaultGauges('walk').length);
  });

  test('reach the core with how a shot is measured', () => {
    const plan: PlannedPose[] = [{ name: 'up', share: 75, tolerance: 1 }];
    const revision = { firstFrame: 1, loop: 'auto', roles: {} } as const;
    expect(shotOptions({ ...NIGHT, alsoKinds: ['take'], plan }, revision)).toMatchObject({
      kind: 'walk',
      alsoKinds: ['take'],
      plan,
      up: 'auto',
    });
    expect(shotOptions(NIGHT, { ...revision, up: '-Z' }).up).toBe('-Z');
    expect(pictureOptions({ ...NIGHT, alsoKinds: ['take'], plan }, revision)).toMatchObject({
      alsoKinds: ['take'],
      plan,
    });
  });

  test.each([
    ['a band the wrong way round', { band: [5, 2] }],
    ['neither a band nor what is allowed', { band: undefined }],
    ['both', { allowed: [true] }],
    ['no reason', { why: '  ' }],
    ['a weight below nothing', { weight: -1 }],
    ['a number that is none', { band: [0, Number.NaN] }],
    ['a reading that nobody makes', { reading: 'gait.limp' }],
  ])('%s is refused', (_, spoil) => {
    const gauge = { reading: 'gait.bob', from: 'polish', band: [2, 5], weight: 1, why: 'Because.' };
    expect(Gauge.safeParse(gauge).success).toBe(true);
    expect(Gauge.safeParse({ ...gauge, ...spoil }).success).toBe(false);
  });
});

const { band: _, ...HOLDS }: Gauge = { reading: 'hold.kind', from: 'polish', band: [0, 1], weight: 1, why: 'So.' };
const BOB: Gauge = { ...HOLDS, reading: 'gait.bob', band: [2, 5] };
const LINE = { id: 'feet', stage: 'smoothing' as const, title: 'Feet', points: 10 };

describe('what no schema can see', () => {
  test('what a reading has may be judged, left out, allowed and graded by', () => {
    const gauges: Gauge[] = [
      { ...BOB, reading: 'gait.step', of: 'unevenness' },
      { ...BOB, reading: 'hold.frames', except: 'cut' },
      { ...BOB, reading: 'lag.frames', part: 'arm.L', link: 2 },
      { ...HOLDS, allowed: ['moving', 'creeping'] },
    ];
    const rubric = [{ ...LINE, readings: ['gait', 'arc.pop', 'activity'] }];
    expect(faultsOf({ ...NIGHT, gauges, rubric })).toEqual([]);
    for (const kind of KINDS)
      expect(
        faultsOf({ ...NIGHT, gauges: defaultGauges(kind).map((own) => Gauge.parse(structuredClone(own))) }),
      ).toEqual([]);
  });

  test('every exemplar can be chosen as it is, and with any dial turned', () => {
    for (const [name, { defaults }] of Object.entries(EXEMPLARS)) {
      expect(faultsOf({ ...NIGHT, exemplar: { name, set: {} } })).toEqual([]);
      for (const [dial, value] of Object.entries(defaults))
        expect(faultsOf({ ...NIGHT, exemplar: { name, set: { [dial]: value } } })).toEqual([]);
    }
  });

  test.each([
    ['an exemplar that is none', { exemplar: { name: 'swim', set: {} } }, 'exemplar.name'],
    ['a name that every object has', { exemplar: { name: 'toString', set: {} } }, 'exemplar.name'],
    ['one that can’t be made so short', { exemplar: { name: 'turn', set: { length: 12 } } }, 'exemplar.set'],
    ['a word on a number’s dial', { exemplar: { name: 'walk', set: { bob: 'much' } } }, 'exemplar.set.bob'],
    ['a number its reading does not have', { gauges: [{ ...BOB, of: 'unevenness' }] }, 'gauges.0.of'],
    ['a link of what has none', { gauges: [{ ...BOB, link: 1 }] }, 'gauges.0.link'],
    ['a flag its reading does not have', { gauges: [{ ...BOB, except: 'cut' }] }, 'gauges.0.except'],
    ['a word its reading never says', { gauges: [{ ...HOLDS, allowed: ['alive'] }] }, 'gauges.0.allowed'],
    ['a rubric that names no reading', { rubric: [{ ...LINE, readings: ['gait', 'contact'] }] }, 'rubric.0.readings'],
    ['a beginning that ends within a word', { rubric: [{ ...LINE, readings: ['ga'] }] }, 'rubric.0.readings'],
    ['a stage twice', { stages: [1, 2].map(() => ({ stage: 'polish' as const, shows: 'x' })) }, 'stages'],
  ])('%s', (_, spoil, field) => {
    expect(faultsOf({ ...NIGHT, ...spoil }).map((fault) => fault.field)).toEqual([field]);
  });
});

describe('a planned pose', () => {
  const POSE = { directions: { trunk: [0, 0, 1] as [number, number, number] } };
  test.each<[string, object]>([
    ['at a frame and at a share', { frame: 4, share: 20 }],
    ['at neither', { frame: undefined }],
    ['with a tolerance under 0', { tolerance: -1 }],
    ['of a leg that is none', { part: 'leg.X' }],
    ['without a name', { name: ' ' }],
    ['whose directions are no directions', { pose: { directions: { trunk: [0, 0, 7] } } }],
  ])('%s is refused', (_, spoil) => {
    const planned = { name: 'down', frame: 4, tolerance: 1, part: 'leg.L' };
    expect(PlannedPose.safeParse(planned).success).toBe(true);
    expect(PlannedPose.safeParse({ ...planned, ...spoil }).success).toBe(false);
  });

  test.each<[string, PlannedPose, string[]]>([
    ['known by its name', { name: 'landing', frame: 4, tolerance: 1 }, []],
    ['of its own, with its pose', { name: 'hand on the rail', frame: 4, tolerance: 1, pose: POSE }, []],
    ['of its own, without one', { name: 'hand on the rail', frame: 4, tolerance: 1 }, ['plan.0.pose']],
    ['with a pose of no parts', { name: 'rail', frame: 4, tolerance: 1, pose: { directions: {} } }, ['plan.0.pose']],
    ['as a share of the step', { name: 'passing', share: 50, tolerance: 1 }, []],
    ['as a share, and no pose of a step', { name: 'contact', share: 50, tolerance: 1 }, ['plan.0.share']],
  ])('%s', (_, planned, fields) => {
    expect(faultsOf({ ...NIGHT, plan: [planned] }).map(({ field }) => field)).toEqual(fields);
  });

  test('a kind that a brief is already is no further one', () => {
    expect(faultsOf({ ...NIGHT, alsoKinds: ['walk'] }).map(({ field }) => field)).toEqual(['alsoKinds']);
    expect(faultsOf({ ...NIGHT, alsoKinds: ['take', 'turn'] })).toEqual([]);
  });
});

describe('the schema of a file', () => {
  // The package ajv reads it as JSON Schema, draft 2020-12, has it.
  const validate = new Ajv2020({ strict: false, formats: { uuid: true } }).compile(briefJsonSchema());
  const file = (brief: object): object => ({
    format: 'ypsigraph-brief',
    version: 1,
    brief: { ...NIGHT, before: [], ...brief },
  });

  test('says yes to what is taken in, and no to what is not', () => {
    const cases: readonly object[] = [
      file({}),
      file({ gauges: defaultGauges('walk') }),
      file({ fps: -1 }),
      file({ kind: 'swim' }),
      file({ watch: Array.from({ length: 13 }, () => 'x') }),
      file({ clockMinutes: 0.5 }),
      { ...file({}), version: 2 },
      {},
    ];
    for (const own of cases) expect(validate(own)).toBe(BriefFileFormat.safeParse(own).success);
    expect(cases.filter((own) => validate(own))).toHaveLength(2);
  });

  test('a brief goes through a file and comes back as it was', () => {
    const words = fc.string({ minLength: 1, maxLength: 30 }).map((text) => `a${text.replace(/\0/g, '')}`.trim());
    fc.assert(
      fc.property(
        words,
        fc.array(words, { maxLength: 5 }),
        fc.integer({ min: 1, max: 500 }),
        (title, watch, frames) => {
          const { before: _, ...content } = BriefContent.parse({
            ...NIGHT,
            title: title,
            watch: watch.map((own) => own),
            frames,
          });
          const there = BriefFileFormat.parse(JSON.parse(JSON.stringify(file(content))));
          expect(there.brief).toEqual({ ...content, before: [] });
        },
      ),
    );
  });
});

describe('what changed from one version to the next', () => {
  const gauge = Gauge.parse({ reading: 'gait.bob', from: 'polish', band: [2, 5], weight: 1, why: 'Because.' });

  test('nothing where nothing is other', () => expect(briefChanges(NIGHT, structuredClone(NIGHT))).toEqual([]));

  test.each<[string, Partial<BriefContent>, Partial<BriefContent>, string[]]>([
    ['its length', {}, { frames: 20 }, ['length: 24 → 20']],
    ['any length', {}, { frames: null }, ['length: 24 → any']],
    ['another kind as well', {}, { alsoKinds: ['take'] }, ['kinds that it is as well: take']],
    [
      'its plan',
      {},
      {
        plan: [
          { name: 'contact', frame: 13, tolerance: 1 },
          { name: 'down', share: 17, tolerance: 1 },
        ],
      },
      ['planned poses: contact at 13, down at 17 % of the step'],
    ],
    ['no plan', { plan: [{ name: 'contact', frame: 13, tolerance: 1 }] }, { plan: [] }, ['planned poses: nothing']],
    ['gauges of its own', {}, { gauges: [gauge] }, ['it has one gauge of its own']],
    [
      'a band',
      { gauges: [gauge] },
      { gauges: [{ ...gauge, band: [3, 6] }] },
      ['up and down of the hips: 2 to 5 → 3 to 6'],
    ],
    ['a gauge less', { gauges: [gauge] }, { gauges: [] }, ['no gauge on up and down of the hips any more']],
    [
      'a reason',
      { gauges: [gauge] },
      { gauges: [{ ...gauge, why: 'Why not.' }] },
      ['the gauge on up and down of the hips is judged or explained differently'],
    ],
    ['a stage', {}, { stages: [{ stage: 'blocking', shows: 'Contacts.' }] }, ['blocking must show: Contacts.']],
    ['a rule', {}, { rules: { ...NIGHT.rules, length: 'refuse' } }, ['another length is not taken in any more']],
  ])('%s', (_, before, after, lines) => {
    expect(briefChanges({ ...NIGHT, ...before }, { ...NIGHT, ...after })).toEqual(lines);
  });
});
