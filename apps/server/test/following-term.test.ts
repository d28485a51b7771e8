import { randomUUID } from 'node:crypto';
import type { Docket, Ledger } from '@ypsigraph/contract/courses';
import type { Folio, Tally } from '@ypsigraph/contract/folios';
import type { Grades } from '@ypsigraph/contract/grades';
import type { Outbox } from '@ypsigraph/contract/outbox';
import { judgeShot } from '@ypsigraph/core/gauge/findings';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { Measured } from '@ypsigraph/core/measure/reading';
import { COURSES, TERM } from '../src/demo/term.ts';
import { nightRound, openSchool, reportOf, type School, shotOf, untilRead, type Visitor, walk } from './harness.ts';

let school: School;
let instructor: Visitor;
let monday: string;

beforeAll(async () => {
  // The one test with the term behind the demo.
  school = await openSchool({ DEMO_TERM: '1' }, 'waiting');
  instructor = await school.as('Ottoline Farrow');
  monday = (await school.database.query(`SELECT id FROM cohorts WHERE name = 'Monday loft'`)).rows[0].id as string;
});
afterAll(() => school.close());

const personId = async (name: string): Promise<string> =>
  (await school.database.query('SELECT id FROM people WHERE name = $1', [name])).rows[0].id as string;
const folioOf = async (visitor: Visitor, name: string): Promise<Folio> =>
  (await visitor.get(`/api/people/${await personId(name)}/folio`).expect(200)).body as Folio;

describe('a folio', () => {
  test('is the line of a student’s revisions, each with what its gauges said and what became of its marks', async () => {
    const folio = await folioOf(instructor, 'Emeka Brightwater');
    expect(folio.exercises.map(({ brief }) => brief.title)).toEqual([...TERM.map(({ title }) => title), 'Night round']);
    const [halyard] = folio.exercises;
    expect(halyard!.revisions.map(({ state }) => state)).toEqual(['sent back', 'sent back', 'signed off']);
    // Whoever reads the counts and whoever judges the report anew see the same.
    for (const { shot, revisions } of folio.exercises.slice(0, 2))
      for (const [k, revision] of revisions.entries()) {
        const { body: whole } = await instructor.get(`/api/shots/${shot}`).expect(200);
        const report = (await reportOf(instructor, whole, k)) as unknown as Measured;
        const { findings } = judgeShot(gaugesOf(whole.brief), report, revision.stage);
        expect(revision.faults.map(({ reading, say }) => [reading, say])).toEqual(
          findings.map(({ reading, say }) => [reading.id, say]),
        );
      }
    const raised = folio.exercises.flatMap(({ revisions }) => revisions).flatMap(({ marks }) => Object.values(marks));
    expect(raised.reduce((sum, n) => sum + n, 0)).toBeGreaterThan(3);
  });

  test('is its student’s own, without what has not come back yet; no other student’s', async () => {
    const hoku = await school.as('Hoku Kealoha');
    const own = await folioOf(hoku, 'Hoku Kealoha');
    const waiting = own.exercises.flatMap(({ revisions }) => revisions).filter(({ judged }) => judged === null);
    expect(waiting.length).toBeGreaterThan(0);
    expect(waiting.every(({ verdicts, faults }) => verdicts === null && faults.length === 0)).toBe(true);
    await hoku.get(`/api/people/${await personId('Emeka Brightwater')}/folio`).expect(403);
    await instructor.get(`/api/people/${await personId('Hoku Kealoha')}/folio?cohort=${randomUUID()}`).expect(403);
  });
});

describe('a tally', () => {
  const tally = async (): Promise<Tally> =>
    (await instructor.get(`/api/cohorts/${monday}/tally`).expect(200)).body as Tally;

  test('counts the faults of the newest revisions, with the shots behind each, and what was mended', async () => {
    const { students, assignments, entries } = await tally();
    expect(students).toBe(Object.keys(COURSES).length);
    const halyard = assignments.find(({ brief }) => brief.title === 'Signal halyard')!;
    expect(halyard).toMatchObject({ shots: 12, measured: 12, signedOff: 12 });
    // The same by hand: every newest revision's findings, one a shot.
    const { rows } = await school.database.query(
      `SELECT f.reading, count(DISTINCT s.id)::int AS shots FROM shots s JOIN revisions r ON r.shot_id = s.id JOIN findings f ON f.revision_id = r.id
        WHERE s.assignment_id = $1 AND r.number = (SELECT max(number) FROM revisions WHERE shot_id = s.id) GROUP BY 1 ORDER BY 1`,
      [halyard.id],
    );
    const own = entries
      .filter(({ assignment, shots }) => assignment === halyard.id && shots.length > 0)
      .map(({ reading, shots }) => ({ reading, shots: shots.length }))
      .sort((a, b) => a.reading.localeCompare(b.reading));
    expect(own).toEqual(rows);
    const dead = entries.find(({ assignment, reading }) => assignment === halyard.id && reading === 'lag.together');
    // Those who move everything at once in their first revision and not in their last.
    expect(dead!.mended).toBeGreaterThan(0);
    expect(dead!.marks).toBeGreaterThan(0);
  });

  test('what is put aside on a shot does not count there', async () => {
    const before = await tally();
    const entry = before.entries.find(({ shots }) => shots.some(({ judgement }) => judgement === 'outside'))!;
    const { shot } = entry.shots[0]!;
    const { rows } = await school.database.query(
      `SELECT DISTINCT f.part FROM findings f JOIN revisions r ON r.id = f.revision_id WHERE r.shot_id = $1 AND f.reading = $2`,
      [shot, entry.reading],
    );
    for (const { part } of rows)
      await instructor
        .post(`/api/shots/${shot}/dismissals`, { reading: entry.reading, part, reason: 'Meant so.' })
        .expect(200);
    const after = (await tally()).entries.find(
      ({ reading, assignment }) => reading === entry.reading && assignment === entry.assignment,
    );
    expect(after?.shots.some((own) => own.shot === shot) ?? false).toBe(false);
  });
});

describe('the outbox', () => {
  test('has what a student is told, to the word, and once: the same answer sent twice is one message', async () => {
    const student = await school.as('Jomo Wanyama');
    const { body } = await student.handIn(await nightRound(school, 'Monday loft'), walk({ slide: 5 }));
    await untilRead(student, body.shot);
    const answer = { words: 'The left foot slides.', asked: 'Feet that stay.', askedBy: '2027-03-29T17:00:00.000Z' };
    const send = () => instructor.post(`/api/revisions/${body.revision}/send-back`, answer);
    await Promise.all([send().expect(200), send().expect(200)]);
    const { messages } = (await instructor.get('/api/outbox').expect(200)).body as Outbox;
    const own = messages.filter(
      ({ to, about }) => to.name === 'Jomo Wanyama' && about === 'sent back' && messages.length > 0,
    );
    const newest = own.filter(({ text }) => text.includes('The left foot slides.'));
    expect(newest).toHaveLength(1);
    expect(newest[0]!.subject).toBe('Night round: sent back');
    expect(newest[0]!.text).toBe(
      'Dear Jomo Wanyama,\n\nNight round, revision 1, came back with no open marks.\n\nThe left foot slides.\n\n' +
        'Next: Feet that stay. (by Monday 29 March at 18:00)',
    );
  });

  test('comes in pages, and no student reads it', async () => {
    const seen = new Set<string>();
    const times: string[] = [];
    let next: string | null = '';
    while (next !== null) {
      const { body }: { body: Outbox } = await instructor.get(`/api/outbox${next && `?after=${next}`}`).expect(200);
      for (const { id, at } of body.messages) {
        expect(seen.has(id)).toBe(false);
        seen.add(id);
        times.push(at);
      }
      next = body.next;
    }
    expect(seen.size).toBeGreaterThan(60);
    expect(times).toEqual([...times].sort().reverse());
    await instructor.get('/api/outbox?after=yesterday').expect(400);
    await (await school.as('Hoku Kealoha')).get('/api/outbox').expect(403);
  });
});

describe('grades', () => {
  test('are proposed from verdicts and marks, decided by an instructor, and seen by the student when the shot is back', async () => {
    const id = await shotOf(school, 'Amara Oyelaran');
    const shot = await untilRead(instructor, id);
    const { body }: { body: Grades } = await instructor.get(`/api/shots/${id}/grades`).expect(200);
    const [timing, , finish] = body.lines;
    expect(timing!.proposed!.points).toBeGreaterThan(0);
    // It was handed in for smoothing: what is graded at polish is not proposed yet.
    expect([shot.revisions.at(-1)!.stage, finish!.line.stage, finish!.proposed]).toEqual(['smoothing', 'polish', null]);
    const decide = (points: number | null) =>
      instructor.post(`/api/shots/${id}/grades`, { line: timing!.line.id, points, words: 'Solid.' });
    await decide(timing!.line.points + 1).expect(400);
    await decide(7.5).expect(200);
    const student = await school.as('Amara Oyelaran');
    const theirs = async (): Promise<Grades> =>
      (await student.get(`/api/shots/${id}/grades`).expect(200)).body as Grades;
    // It is being reviewed: nothing reaches a student before it is sent.
    expect((await theirs()).lines.every(({ decided, proposed }) => decided === null && proposed === null)).toBe(true);
    await instructor
      .post(`/api/revisions/${shot.revisions.at(-1)!.id}/send-back`, { words: 'So far.', asked: '' })
      .expect(200);
    expect((await theirs()).lines[0]!.decided).toMatchObject({ points: 7.5, words: 'Solid.', by: 'Ottoline Farrow' });
    await student.post(`/api/shots/${id}/grades`, { line: 'timing', points: 10 }).expect(403);
    const { body: table } = await instructor.get(`/api/cohorts/${monday}/grades`).expect(200);
    expect(table.rows).toContainEqual(
      expect.objectContaining({ student: 'Amara Oyelaran', exercise: 'Night round', points: 7.5, of: 10 }),
    );
    await decide(null).expect(200);
    expect((await theirs()).lines[0]!.decided).toBeNull();
  });
});

describe('showing', () => {
  test('needs the student’s consent, shows the revisions and none of the words, and ends at once', async () => {
    const id = await shotOf(school, 'Greta Almqvist');
    const [greta, hoku, other] = await Promise.all(
      ['Greta Almqvist', 'Hoku Kealoha', 'Sunniva Dahlby'].map((name) => school.as(name)),
    );
    await hoku!.get(`/api/shots/${id}`).expect(403);
    expect((await instructor.post(`/api/shots/${id}/showing`, { shown: true }).expect(409)).body.title).toBe(
      'Its student has not agreed to that.',
    );
    await hoku!.post(`/api/shots/${id}/consent`, { consent: true }).expect(403);
    await greta!.post(`/api/shots/${id}/consent`, { consent: true }).expect(200);
    await hoku!.get(`/api/shots/${id}`).expect(403);
    await instructor.post(`/api/shots/${id}/showing`, { shown: true, words: 'Look at the weight.' }).expect(200);
    const { body: shown } = await hoku!.get(`/api/shots/${id}`).expect(200);
    expect(shown.marks).toEqual([]);
    expect(shown.revisions.every((own: { words: null; note: string }) => own.words === null && own.note === '')).toBe(
      true,
    );
    const revision = shown.revisions[0].id as string;
    await hoku!.get(`/api/revisions/${revision}/file`).expect(200);
    expect((await hoku!.get('/api/showings').expect(200)).body).toContainEqual(
      expect.objectContaining({ shot: id, words: 'Look at the weight.' }),
    );
    // To be looked at, and nothing else; and by its own cohort.
    await hoku!.post(`/api/revisions/${revision}/withdraw`).expect(403);
    await hoku!.patch(`/api/revisions/${revision}`, { firstFrame: 3 }).expect(403);
    await hoku!.get(`/api/shots/${id}/grades`).expect(403);
    await hoku!.get(`/api/revisions/${revision}/carried`).expect(403);
    await other!.get(`/api/shots/${id}`).expect(403);
    await greta!.post(`/api/shots/${id}/consent`, { consent: false }).expect(200);
    await hoku!.get(`/api/shots/${id}`).expect(403);
    await hoku!.get(`/api/revisions/${revision}/file`).expect(403);
    // The database itself shows nothing without consent.
    await expect(
      school.database.query('UPDATE showings SET shown_at = now(), shown_by = $2 WHERE shot_id = $1', [
        id,
        await personId('Ottoline Farrow'),
      ]),
    ).rejects.toThrow(/check constraint/);
  });
});

describe('an exemplar with a fault', () => {
  const fault = { exemplar: 'walk', fault: 'slide', size: 6, words: 'Look at the heel.' };

  test('is shown to a cohort by an instructor of it, once, seen by nobody else, and taken back', async () => {
    const [hoku, other] = await Promise.all(['Hoku Kealoha', 'Sunniva Dahlby'].map((name) => school.as(name)));
    const path = `/api/cohorts/${monday}/exemplars-shown`;
    await hoku!.post(path, fault).expect(403);
    const { body: shown } = await instructor.post(path, fault).expect(201);
    expect(shown).toMatchObject({ ...fault, cohort: { id: monday, name: 'Monday loft' }, by: 'Ottoline Farrow' });
    const seenBy = async (visitor: Visitor): Promise<number[]> =>
      ((await visitor.get('/api/exemplars-shown').expect(200)).body as { size: number }[]).map(({ size }) => size);
    expect([await seenBy(hoku!), await seenBy(other!)]).toEqual([[6], []]);
    // The same fault with another size stands in its place.
    const { body: again } = await instructor.post(path, { ...fault, size: 9 }).expect(201);
    expect(await seenBy(hoku!)).toEqual([9]);
    await hoku!.delete(`${path}/${again.id}`).expect(403);
    expect((await instructor.delete(`${path}/${again.id}`).expect(200)).body).toEqual([]);
    // Asked for twice, it is still gone.
    await instructor.delete(`${path}/${again.id}`).expect(200);
    expect(await seenBy(hoku!)).toEqual([]);
  });

  test('that there is not, or of no size, is refused in words', async () => {
    const path = `/api/cohorts/${monday}/exemplars-shown`;
    const refused = async (body: object): Promise<unknown> =>
      (await instructor.post(path, { ...fault, ...body }).expect(400)).body.detail;
    for (const exemplar of ['moonwalk', 'constructor'])
      expect(await refused({ exemplar })).toContain('there is no such exemplar');
    expect(await refused({ fault: 'gasping' })).toContain('the exemplar has no such fault');
    for (const size of [0, -3, 1e9]) await refused({ size });
  });
});

test('a student who leaves stays in ledger and folio with what they made, and takes no new exercise’s place', async () => {
  const name = 'Chiyo Tanabe';
  await school.database.query('UPDATE people SET archived_at = now() WHERE name = $1', [name]);
  const { body: brief } = await instructor.get('/api/briefs').expect(200);
  const free = (brief as { id: string; title: string }[]).find(({ title }) => title === 'Gangplank')!;
  await instructor
    .post('/api/assignments', { brief: free.id, cohort: monday, due: new Date(Date.now() + 86_400_000).toISOString() })
    .expect(201);
  const { body: ledger }: { body: Ledger } = await instructor.get(`/api/cohorts/${monday}/ledger`).expect(200);
  const row = ledger.rows.find(({ student }) => student.name === name)!;
  expect(row.cells.every(({ shot }) => shot !== null)).toBe(true);
  expect(ledger.rows.find(({ student }) => student.name === 'Hoku Kealoha')!.cells.length).toBe(row.cells.length + 1);
  expect((await folioOf(instructor, name)).exercises.length).toBeGreaterThan(4);
  const { messages } = (await instructor.get('/api/outbox').expect(200)).body as Outbox;
  const told = messages.filter(({ about, subject }) => about === 'set' && subject === 'Gangplank is set');
  expect(told.map(({ to }) => to.name)).not.toContain(name);
  expect(told).toHaveLength(11);
});

test('readings from before verdicts were kept are judged by whoever catches up', async () => {
  const id = await shotOf(school, 'Farid Qasemi');
  const shot = await untilRead(instructor, id);
  const revision = shot.revisions.at(-1)!.id;
  const kept = () =>
    school.database.query(
      `SELECT inside, near, outside, (SELECT count(*)::int FROM findings WHERE revision_id = $1) AS found FROM verdicts WHERE revision_id = $1`,
      [revision],
    );
  const { rows: before } = await kept();
  await school.database.query('DELETE FROM verdicts WHERE revision_id = $1', [revision]);
  for (let k = 0; k < 300 && (await kept()).rows.length === 0; k++)
    await new Promise((resolve) => setTimeout(resolve, 200));
  expect((await kept()).rows).toEqual(before);
});

test('two instructors answer one revision: one answer stands, and the other is told of it', async () => {
  const { body: docket }: { body: Docket } = await instructor.get('/api/docket').expect(200);
  const entry = docket.entries.find(({ exercise }) => exercise === 'Night round')!;
  const assistant = await school.as('Baraka Lundqvist');
  const [a, b] = await Promise.all([
    instructor.post(`/api/revisions/${entry.revision}/send-back`, { words: 'Once.', asked: '' }),
    assistant.post(`/api/revisions/${entry.revision}/send-back`, { words: 'Twice.', asked: '' }),
  ]);
  expect([a.status, b.status].sort()).toEqual([200, 409]);
});
