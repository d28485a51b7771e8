import { randomUUID } from 'node:crypto';
import type { Mark, NewMark, Payload, Phrase } from '@ypsigraph/contract/marks';
import type { Alike, Shot } from '@ypsigraph/contract/shots';
import { openSchool, type School, shotOf, type Visitor } from './harness.ts';

let school: School;
let instructor: Visitor;
let assistant: Visitor;
beforeAll(async () => {
  school = await openSchool();
  instructor = await school.as('Ottoline Farrow');
  assistant = await school.as('Baraka Lundqvist');
});
afterAll(() => school.close());

const shot = async (student: string, exercise?: string): Promise<Shot> =>
  (await instructor.get(`/api/shots/${await shotOf(school, student, exercise)}`).expect(200)).body as Shot;

const hold: Payload = {
  kind: 'moving hold',
  core: '0.9.0',
  measured: { from: 18, to: 32, drift: 0.2, kind: 'dead' },
  wanted: { from: 18, to: 32, drift: 3 },
};
const said = (more: Partial<NewMark> = {}): NewMark => ({
  kind: 'moving hold',
  from: 18,
  to: 32,
  point: 'head',
  words: 'Nothing moves here.',
  payload: hold,
  key: randomUUID(),
  ...more,
});

describe('the numbers of a mark', () => {
  test('come back as they were sent, with weight, part, stage and pencil lines', async () => {
    const { revisions } = await shot('Priya Ramanathan', 'Two voices');
    const lines = [{ sticks: 'point' as const, points: [0, 1, 2, 3, 4, 5] }];
    const body = said({ weight: 'must', part: 'head', stage: 'polish', lines });
    const { body: made } = await instructor.post(`/api/revisions/${revisions.at(-1)!.id}/marks`, body).expect(201);
    expect(made).toMatchObject({ weight: 'must', part: 'head', stage: 'polish', payload: hold, lines, version: 1 });
    const again = (await shot('Priya Ramanathan', 'Two voices')).marks.find(({ id }) => id === body.key);
    expect(again).toEqual(made);
  });

  test('one way to do it goes along: kept, changed, taken off, and refused where it is no recipe', async () => {
    const { revisions } = await shot('Priya Ramanathan', 'Two voices');
    const cure = { core: '0.16.0', steps: [{ remedy: 'delay', parameters: { chain: 'arm.L', frames: 1 } }] };
    const at = `/api/revisions/${revisions.at(-1)!.id}/marks`;
    const { body: made } = await instructor.post(at, said({ cure })).expect(201);
    expect(made.cure).toEqual(cure);
    const off = { core: '0.16.0', steps: [{ ...cure.steps[0]!, off: true }] };
    const { body: changed } = await instructor.patch(`/api/marks/${made.id}`, { cure: off, version: 1 }).expect(200);
    expect(changed.cure).toEqual(off);
    const { body: without } = await instructor.patch(`/api/marks/${made.id}`, { cure: null, version: 2 }).expect(200);
    expect(without.cure).toBeNull();
    const step = cure.steps[0]!;
    for (const wrong of [
      { core: '0.16.0', steps: [] },
      { core: '0.16.0', steps: Array.from({ length: 51 }, () => step) },
      { steps: [step] },
      { core: '0.16.0', steps: [{ remedy: 'delay', parameters: { frames: { $gt: 0 } } }] },
    ])
      await instructor.post(at, { ...said(), cure: wrong }).expect(400);
  });

  test('left out, a mark is one of words: of its revision’s stage, and as heavy as most', async () => {
    const { revisions } = await shot('Farid Qasemi');
    const { body } = await instructor
      .post(`/api/revisions/${revisions[0]!.id}/marks`, {
        kind: 'note',
        from: 1,
        to: 1,
        point: null,
        words: 'Good.',
        key: randomUUID(),
      })
      .expect(201);
    expect(body).toMatchObject({ stage: revisions[0]!.stage, weight: 'should', payload: null, part: null, lines: [] });
  });

  test.each<[string, Partial<NewMark> & Record<string, unknown>, string]>([
    ['of another kind', { kind: 'arc' }, 'payload.kind'],
    [
      'that lack what is wanted',
      { payload: { kind: 'note', core: '1', measured: null } as never, kind: 'note' },
      'payload.wanted',
    ],
    [
      'of an arc with two points',
      {
        kind: 'arc',
        payload: {
          ...{ kind: 'arc', core: '1' },
          measured: { points: [0, 0, 0, 1, 1, 1], leg: 1 },
          wanted: { through: [0, 0, 0, 1, 1, 1] },
        },
      },
      'payload.wanted.through',
    ],
    [
      'that want something of nothing',
      {
        kind: 'arc',
        payload: { kind: 'arc', core: '1', measured: null, wanted: { through: [0, 0, 0, 1, 1, 1, 2, 2, 2] } } as never,
      },
      'payload.wanted',
    ],
    ['with a place in two dimensions', { lines: [{ sticks: 'place', points: [0, 1, 2, 3] }] }, 'lines.0.points'],
    ['that are endless', { payload: { ...hold, wanted: { from: 18, to: 32, drift: 1e300 } } }, 'payload.wanted.drift'],
  ])('%s are refused, field by field', async (_, more, field) => {
    const { revisions } = await shot('Farid Qasemi');
    const { body } = await instructor.post(`/api/revisions/${revisions[0]!.id}/marks`, said(more)).expect(400);
    expect(body.fields[0].field).toBe(field);
  });

  test('the database holds them too: kind, shape and weight', async () => {
    const change = (sql: string) => school.database.query(`UPDATE marks SET ${sql} WHERE payload IS NOT NULL`);
    await expect(change(`payload = '{"kind": "vibes"}'`)).rejects.toThrow(/marks_payload/);
    await expect(change(`payload = payload - 'wanted'`)).rejects.toThrow(/marks_payload/);
    await expect(change(`payload = jsonb_set(payload, '{measured}', '7')`)).rejects.toThrow(/marks_payload/);
    await expect(change(`weight = 'maybe'`)).rejects.toThrow(/weight/);
  });

  test('of the demo’s marks were measured by the core', async () => {
    const { marks } = await shot('Amara Oyelaran');
    const slides = marks.filter(({ payload }) => payload?.quote?.reading === 'gait.slide');
    expect(slides.map(({ point, payload }) => [point, payload!.quote!.part])).toEqual([
      ['foot.L', 'leg.L'],
      ['foot.R', 'leg.R'],
    ]);
    for (const { payload } of slides) expect(payload!.quote!.value).toBeGreaterThan(payload!.quote!.band![1]!);
  });
});

describe('two people and one mark', () => {
  test('who changes an older version is told what stands, and nothing is written over', async () => {
    const { revisions } = await shot('Farid Qasemi');
    const key = randomUUID();
    await instructor.post(`/api/revisions/${revisions[0]!.id}/marks`, said({ key })).expect(201);
    const { body: first } = await assistant
      .patch(`/api/marks/${key}`, { words: 'Baraka was here.', version: 1 })
      .expect(200);
    expect((first as Mark).version).toBe(2);
    const { body } = await instructor.patch(`/api/marks/${key}`, { words: 'No.', version: 1 }).expect(409);
    expect(body.detail + body.title).toMatch(/changed meanwhile/);
    expect(JSON.stringify(body)).toContain('Baraka was here.');
    await instructor.patch(`/api/marks/${key}`, { words: 'Both of us.', version: 2 }).expect(200);
  });

  test('a mark that becomes another kind loses the numbers of the old one', async () => {
    const { revisions } = await shot('Farid Qasemi');
    const key = randomUUID();
    await instructor.post(`/api/revisions/${revisions[0]!.id}/marks`, said({ key })).expect(201);
    const { body } = await instructor.patch(`/api/marks/${key}`, { kind: 'note' }).expect(200);
    expect(body).toMatchObject({ kind: 'note', payload: null });
    await instructor.patch(`/api/marks/${key}`, { payload: hold }).expect(400);
  });
});

describe('findings put aside', () => {
  test('stay aside for the shot with their reason until that is taken back; students hear nothing of it', async () => {
    const { id } = await shot('Farid Qasemi');
    const aside = { reading: 'gait.bob', part: null };
    const { body } = await instructor
      .post(`/api/shots/${id}/dismissals`, { ...aside, reason: 'The deck rolls.' })
      .expect(200);
    expect((body as Shot).dismissals).toEqual([{ ...aside, reason: 'The deck rolls.' }]);
    await assistant.post(`/api/shots/${id}/dismissals`, { ...aside, reason: 'Asked for.' }).expect(200);
    expect((await shot('Farid Qasemi')).dismissals).toEqual([{ ...aside, reason: 'Asked for.' }]);
    const student = await school.as('Farid Qasemi');
    expect(((await student.get(`/api/shots/${id}`)).body as Shot).dismissals).toEqual([]);
    await student.post(`/api/shots/${id}/dismissals`, { ...aside, reason: 'Mine.' }).expect(403);
    await instructor.post(`/api/shots/${id}/dismissals`, { ...aside, reason: '  ' }).expect(400);
    await instructor.post(`/api/shots/${id}/dismissals`, { ...aside, reason: null }).expect(200);
    expect((await shot('Farid Qasemi')).dismissals).toEqual([]);
  });

  test('ten at once leave one', async () => {
    const { id } = await shot('Farid Qasemi');
    const one = { reading: 'gait.knee', part: 'leg.L', reason: 'Seen.' };
    await Promise.all(
      Array.from({ length: 10 }, () => instructor.post(`/api/shots/${id}/dismissals`, one).expect(200)),
    );
    expect((await shot('Farid Qasemi')).dismissals).toEqual([one]);
  });
});

describe('phrases', () => {
  test('belong to who keeps them, are kept once, and can be dropped', async () => {
    const one = {
      key: randomUUID(),
      kind: 'spacing',
      reading: 'gait.slide',
      words: 'The foot slips by {now}; {wanted}.',
    };
    await instructor.post('/api/phrases', one).expect(201);
    await instructor.post('/api/phrases', one).expect(201);
    const own = (await instructor.get('/api/phrases').expect(200)).body as Phrase[];
    expect(own.map(({ words }) => words)).toEqual([one.words]);
    expect((await assistant.get('/api/phrases').expect(200)).body).toEqual([]);
    await assistant.post('/api/phrases', one).expect(409);
    await assistant.delete(`/api/phrases/${one.key}`).expect(404);
    await instructor.delete(`/api/phrases/${one.key}`).expect(200);
    expect((await instructor.get('/api/phrases').expect(200)).body).toEqual([]);
  });
});

test('key poses set by hand are kept in order, a frame once, and given back to the core', async () => {
  const { revisions } = await shot('Farid Qasemi');
  const path = `/api/revisions/${revisions[0]!.id}/poses`;
  const poses = [
    { label: 13, name: 'contact' },
    { label: 1, name: 'first' },
    { label: 13, name: 'contact R' },
  ];
  const { body } = await instructor.post(path, { poses }).expect(200);
  expect((body as Shot).revisions[0]!.poses).toEqual([
    { label: 1, name: 'first' },
    { label: 13, name: 'contact R' },
  ]);
  await instructor.post(path, { poses: null }).expect(200);
  expect((await shot('Farid Qasemi')).revisions[0]!.poses).toBeNull();
});

describe('the same finding on another student’s shot', () => {
  const alike = async (of: string, reading: string, part?: string): Promise<Alike[]> => {
    const query = new URLSearchParams({ reading, ...(part && { part }) });
    return (await instructor.get(`/api/shots/${of}/alike?${query}`).expect(200)).body as Alike[];
  };
  /** A shot that waits, with the findings the core has for it. */
  const waiting = async (): Promise<{ of: string; reading: string; part?: string; others: Alike[] }> => {
    const { rows } = await school.database.query(
      `SELECT DISTINCT s.id FROM shots s JOIN revisions r ON r.shot_id = s.id AND r.state IN ('handed in', 'on the desk')
        JOIN assignments a ON a.id = s.assignment_id JOIN briefs b ON b.id = a.brief_id WHERE b.title = 'Night round'`,
    );
    for (const { id } of rows as { id: string }[])
      for (const [reading, part] of [
        ['lag.together', 'arm.L'],
        ['gait.slide', 'leg.L'],
        ['gait.bob', undefined],
        ['gait.lowAfter', undefined],
      ] as const) {
        const others = await alike(id, reading, part);
        if (others.length > 0) return { of: id, reading, ...(part && { part }), others };
      }
    throw new Error('no two shots of the demo that wait have a finding in common');
  };
  beforeAll(async () => {
    for (let i = 0; i < 600; i++) {
      const { rows } = await school.database.query(
        `SELECT count(*)::int AS n FROM revisions WHERE reading_state IN ('queued', 'reading')`,
      );
      if (rows[0].n === 0) return;
      await new Promise((done) => setTimeout(done, 100));
    }
  });

  test('is found on shots of the same exercise that wait, in words of its own, and not where it was put aside', async () => {
    const { of, reading, part, others } = await waiting();
    const [first] = others;
    expect(others.every(({ shot: id, say }) => id !== of && say.length > 5)).toBe(true);
    const there = (await instructor.get(`/api/shots/${first!.shot}`)).body as Shot;
    expect(there.brief.title).toBe('Night round');
    expect(there.revisions.at(-1)).toMatchObject({ number: first!.revision, stage: first!.stage });
    await instructor.post(`/api/shots/${first!.shot}/dismissals`, {
      reading,
      part: first!.part,
      reason: 'It is meant.',
    });
    const now = await alike(of, reading, part);
    expect(now.some((own) => own.shot === first!.shot && own.part === first!.part)).toBe(false);
    expect(await alike(of, 'no.such', part)).toEqual([]);
  });
});
