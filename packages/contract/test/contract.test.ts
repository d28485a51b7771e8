import { randomUUID } from 'node:crypto';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { reportShot } from '@ypsigraph/core/measure/report';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { KINDS } from '@ypsigraph/core/motion/prepared-shot';
import { STAGES } from '@ypsigraph/core/trade/stages';
import { AssignmentChange, NewAssignment } from '../src/courses.ts';
import { SignIn } from '../src/people.ts';
import { Problem } from '../src/problem.ts';
import { DEMO_ROUTES, ROUTES } from '../src/routes.ts';
import { MarkVerdict, NewMark, NewReply } from '../src/marks.ts';
import { HandIn, RevisionSettings, StoredReport } from '../src/shots.ts';
import { FrameLabel, KindOfExercise, MarkKind, Stage } from '../src/vocabulary.ts';

const mark = { kind: 'arc', from: 3, to: 9, point: null, words: 'It pops.', key: randomUUID() };
const wrong = (result: { success: boolean; error?: { issues: { path: PropertyKey[] }[] } | undefined }): string[] =>
  result.success ? [] : result.error!.issues.map(({ path }) => path.join('.'));

describe('our words are the same everywhere', () => {
  test('kinds and stages of the core are those on the wire', () => {
    expect(KindOfExercise.options).toEqual([...KINDS]);
    expect(Stage.options).toEqual([...STAGES]);
  });

  test('a mark has nine kinds and the plain note', () => {
    expect(MarkKind.options).toEqual([
      'timing',
      'spacing',
      'arc',
      'breakdown',
      'overshoot',
      'moving hold',
      'amount',
      'pose',
      'delay',
      'note',
    ]);
  });
});

describe('what is taken in', () => {
  test.each<[object, string[]]>([
    [{}, []],
    [{ from: 9, to: 9 }, []],
    [{ from: -4, to: 0 }, []],
    [{ from: 10 }, ['to']],
    [{ words: '  ' }, ['words']],
    [{ words: 'x'.repeat(4001) }, ['words']],
    [{ kind: 'lovely' }, ['kind']],
    [{ from: 1.5 }, ['from']],
    [{ point: '' }, ['point']],
    [{ key: 'not-a-uuid' }, ['key']],
  ])('a mark with %j', (change, fields) => {
    expect(wrong(NewMark.safeParse({ ...mark, ...change }))).toEqual(fields);
  });

  test('words are kept as they are, but for blanks around them', () => {
    expect(NewMark.parse({ ...mark, words: '  line one\n  line two  ' }).words).toBe('line one\n  line two');
    expect(NewReply.parse({ key: randomUUID(), words: ' ja ' }).words).toBe('ja');
  });

  test('a hand-in’s fields come as text', () => {
    expect(HandIn.parse({ stage: 'blocking', firstFrame: '0', loop: 'follow' })).toEqual({
      stage: 'blocking',
      note: '',
      workedOn: [],
      curesSeen: [],
      firstFrame: 0,
      loop: 'follow',
    });
    expect(wrong(HandIn.safeParse({ stage: 'done' }))).toEqual(['stage']);
    expect(wrong(HandIn.safeParse({ stage: 'polish', firstFrame: '1.5' }))).toEqual(['firstFrame']);
  });

  test('an exercise is set with a date; a change must change something', () => {
    const id = randomUUID();
    expect(wrong(NewAssignment.safeParse({ brief: id, cohort: id, due: 'next Monday' }))).toEqual(['due']);
    expect(wrong(NewAssignment.safeParse({ brief: id, cohort: id, due: '0000-01-01T00:00:00Z' }))).toEqual(['due']);
    expect(AssignmentChange.safeParse({}).success).toBe(false);
    expect(AssignmentChange.safeParse({ closed: true }).success).toBe(true);
  });

  test('a mark can be opened, cleared or waived, but not answered by a verdict', () => {
    expect(MarkVerdict.safeParse({ state: 'waived' }).success).toBe(true);
    expect(MarkVerdict.safeParse({ state: 'answered' }).success).toBe(false);
  });

  test('roles are corrected by joint names, or taken away', () => {
    expect(RevisionSettings.parse({ roles: { head: 'Kopf', 'toe.L': null } }).roles).toEqual({
      head: 'Kopf',
      'toe.L': null,
    });
    expect(wrong(RevisionSettings.safeParse({ roles: { head: 3 } }))).toEqual(['roles.head']);
  });

  test('signing in needs an address and a password', () => {
    expect(wrong(SignIn.safeParse({ email: 'harbour', password: '' }))).toEqual(['email', 'password']);
  });

  test('labels are whole and bounded', () => {
    for (const label of [0.5, 1e7, Number.NaN]) expect(FrameLabel.safeParse(label).success).toBe(false);
  });
});

describe('what is given out', () => {
  test('every report of the core is a stored report', () => {
    for (const kind of KINDS) {
      for (const loop of ['auto', 'none'] as const) {
        const shot = prepareShot(walkExemplar({}, { pop: 20 }), { kind, loop });
        const report = reportShot(
          shot,
          { file: 'w.bvh', format: 'bvh', warnings: [] },
          { joints: ['hand.R', 'nobody'] },
        );
        expect(wrong(StoredReport.safeParse(JSON.parse(JSON.stringify(report))))).toEqual([]);
      }
    }
  });

  // RFC 9457, section 3.1: type, status, title, detail, instance.
  test('a problem document has the members of RFC 9457', () => {
    expect(Object.keys(Problem.shape)).toEqual(['type', 'title', 'status', 'detail', 'instance', 'fields']);
  });
});

describe('the table of routes', () => {
  const routes = [...Object.values(ROUTES), ...Object.values(DEMO_ROUTES)];

  test('has no route twice, and all of them under /api', () => {
    const names = routes.map(({ method, path }) => `${method} ${path}`);
    expect(new Set(names).size).toBe(names.length);
    for (const { path } of routes)
      expect(path).toMatch(
        /^\/api(\/(:id|:session|:token|:phrase|:size|:upload|:brief|:file|:key|:shown|:passkey|[a-z-]+(-1\.json)?))+$/,
      );
  });

  test('names what an address with an id concerns', () => {
    for (const route of routes)
      expect([route.path, route.concerns !== undefined]).toEqual([route.path, route.path.includes(':id')]);
  });

  test('lets nobody in unasked but to sign in, by an invitation or a forgotten password, to the health and to the demo', () => {
    const open = Object.entries(ROUTES).filter(([, { audience }]) => audience === 'anyone');
    expect(open.map(([name]) => name)).toEqual([
      'health',
      'ready',
      'session',
      'signIn',
      'signOut',
      'beginOidc',
      'finishOidc',
      'forgotPassword',
      'beginPasskeySignIn',
      'passkeySignIn',
      'invitation',
      'acceptInvitation',
      'briefSchema',
      'courseSchema',
      'calendar',
    ]);
  });
});
