// A school with nobody in it but its first instructor: the courses, briefs and the practice that it begins with.
import { SHELF } from '@ypsigraph/contract/shelf';
import type { Docket, Practice } from '@ypsigraph/contract/courses';
import { openSchool, reportOf, type School, untilRead, type Visitor } from './harness.ts';

let school: School;
let instructor: Visitor;
beforeAll(async () => {
  school = await openSchool();
  instructor = await school.as('Ottoline Farrow');
});
afterAll(() => school.close());

test('a course is begun by an instructor, who teaches it, in the zone its dates are meant in', async () => {
  const { body } = await instructor.post('/api/cohorts', { name: 'Sunday quay', timeZone: 'Europe/Oslo' }).expect(201);
  expect(body).toMatchObject({ name: 'Sunday quay', timeZone: 'Europe/Oslo', students: 0 });
  const { body: people } = await instructor.get(`/api/cohorts/${body.id}/people`).expect(200);
  expect(people.people).toEqual([expect.objectContaining({ name: 'Ottoline Farrow', role: 'instructor' })]);
  const again = await instructor.post('/api/cohorts', { name: 'Sunday quay', timeZone: 'Europe/Oslo' }).expect(409);
  expect(again.body.title).toContain('“Sunday quay”');
  const wrong = await instructor.post('/api/cohorts', { name: 'Nowhere', timeZone: 'Atlantis/Deep' }).expect(400);
  expect(wrong.body.fields[0].field).toBe('timeZone');
  await (await school.as('Baraka Lundqvist')).post('/api/cohorts', { name: 'x', timeZone: 'UTC' }).expect(403);
});

test('every brief of the shelf is taken over as it stands, and is the school’s own then', async () => {
  for (const brief of SHELF) {
    const { body } = await instructor.post('/api/briefs', brief).expect(201);
    expect(body.versions[0]).toMatchObject(brief);
  }
  const { body } = await instructor.get('/api/briefs').expect(200);
  expect((body as { title: string }[]).map(({ title }) => title)).toEqual(
    expect.arrayContaining(SHELF.map(({ title }) => title)),
  );
});

describe('the practice shot', () => {
  /** How many rows each table has that is not kept for its own sake: turns of readers, and files, which are swept. */
  // That it was deleted stays written down, and by whom.
  const counts = async (): Promise<Record<string, number>> => {
    const { rows } = await school.database.query(
      `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'public' AND table_type = 'BASE TABLE'
          AND table_name NOT IN ('files', 'sessions', 'audit') ORDER BY 1`,
    );
    const counted: Record<string, number> = {};
    for (const { name } of rows as { name: string }[])
      counted[name] = (await school.database.query(`SELECT count(*)::int AS n FROM ${name}`)).rows[0].n as number;
    return counted;
  };

  test('is read, has its two faults found, is reviewed to the end, and deleted leaves nothing', async () => {
    const before = await counts();
    expect((await instructor.get('/api/practice').expect(200)).body).toEqual({ shot: null });
    const answers = await Promise.all([0, 1, 2].map(() => instructor.post('/api/practice').expect(201)));
    const [shot] = new Set(answers.map(({ body }) => (body as Practice).shot!));
    expect(new Set(answers.map(({ body }) => JSON.stringify(body))).size).toBe(1);
    const read = await untilRead(instructor, shot!);
    const report = await reportOf(instructor, read);
    expect(report.readings.find(({ id, value }) => id === 'gait.slide' && Number(value) > 4)).toBeDefined();
    expect(report.readings.find(({ id }) => id === 'arc.pop')).toBeDefined();

    // It waits in the docket of whoever practises, and in nobody else's; it is in no list of courses.
    const docketOf = async (visitor: Visitor): Promise<string[]> =>
      ((await visitor.get('/api/docket?order=student').expect(200)).body as Docket).entries.map((entry) => entry.shot);
    expect(await docketOf(instructor)).toContain(shot);
    const baraka = await school.as('Baraka Lundqvist');
    expect(await docketOf(baraka)).not.toContain(shot);
    await baraka.get(`/api/shots/${shot}`).expect(403);
    const cohorts = (await instructor.get('/api/cohorts').expect(200)).body as { name: string }[];
    expect(cohorts.map(({ name }) => name).join()).not.toContain('Practice');
    const briefs = (await instructor.get('/api/briefs').expect(200)).body as { title: string }[];
    expect(briefs.map(({ title }) => title)).not.toContain('A practice walk');

    const revision = read.revisions[0]!.id;
    const mark = {
      kind: 'note',
      from: 7,
      to: 9,
      point: null,
      words: 'The foot slides here.',
      key: crypto.randomUUID(),
    };
    await instructor.post(`/api/revisions/${revision}/marks`, mark).expect(201);
    await instructor.post(`/api/revisions/${revision}/send-back`, { words: 'Two things.', asked: 'Both.' }).expect(200);
    expect((await instructor.delete('/api/practice').expect(200)).body).toEqual({ shot: null });
    expect(await counts()).toEqual(before);
    await instructor.get(`/api/shots/${shot}`).expect(404);
    // And it can be tried again.
    await instructor.post('/api/practice').expect(201);
    await instructor.delete('/api/practice').expect(200);
  });
});
