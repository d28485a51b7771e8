import { randomUUID } from 'node:crypto';
import { Ajv2020 } from 'ajv/dist/2020.js';
import {
  BriefContent,
  type BriefVersions,
  EMPTY_BRIEF,
  type ListedBrief,
  type ReadingValues,
} from '@ypsigraph/contract/briefs';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { HEADER, nightRound, openSchool, type School, shotOf, untilRead, type Visitor, walk } from './harness.ts';
import request from 'supertest';

let school: School;
let instructor: Visitor;

beforeAll(async () => {
  school = await openSchool();
  instructor = await school.as('Ottoline Farrow');
});
afterAll(() => school.close());

const FOG_WATCH: BriefContent = {
  ...EMPTY_BRIEF,
  title: 'Fog watch',
  kind: 'walk',
  text: 'The keeper walks the gallery in the fog.',
  frames: 32,
  loop: 'repeat',
  gauges: [{ reading: 'gait.bob', from: 'blocking', band: [1, 9], near: 1, weight: 7, why: 'A tired man drops less.' }],
  rubric: [{ id: 'weight', stage: 'smoothing', title: 'Weight', points: 10, readings: ['gait'] }],
  stages: [{ stage: 'blocking', shows: 'The contacts.' }],
  exemplar: { name: 'walk', set: { length: 32 } },
};

const make = async (content: Partial<BriefContent>): Promise<BriefVersions['versions'][number]> =>
  ((await instructor.post('/api/briefs', { ...FOG_WATCH, ...content }).expect(201)).body as BriefVersions).versions[0]!;
const weekOn = (): string => new Date(Date.now() + 7 * 86_400_000).toISOString();
const cohort = async (name: string): Promise<string> =>
  (await school.database.query('SELECT id FROM cohorts WHERE name = $1', [name])).rows[0].id as string;

test('a brief that is set nowhere is changed in place; one that is set gets a version of its own', async () => {
  const made = await make({ title: 'Lamp oil' });
  const change = (of: string, content: object) =>
    instructor.post(`/api/briefs/${made.id}/versions`, {
      of,
      content: { ...FOG_WATCH, title: 'Lamp oil', ...content },
    });
  const { body: same } = await change(made.id, { frames: 30 }).expect(200);
  expect((same as BriefVersions).versions).toHaveLength(1);
  await instructor
    .post('/api/assignments', { brief: made.id, cohort: await cohort('Monday loft'), due: weekOn() })
    .expect(201);
  const { body: next } = await change(made.id, { frames: 28 }).expect(200);
  expect((next as BriefVersions).versions.map(({ version, frames }) => [version, frames])).toEqual([
    [2, 28],
    [1, 30],
  ]);
  // Who has the older one open is told, and nothing is lost.
  const { body: told } = await change(made.id, { frames: 26 }).expect(409);
  expect(told.title).toBe('Somebody has changed this brief meanwhile.');
});

test('a version nobody has begun with is changed where it stands, by who has seen what it says', async () => {
  const made = await make({ title: 'Spare oars', frames: 24 });
  const { id: _, family: _family, version: _version, ...content } = made;
  const was = BriefContent.parse(content);
  const change = (changes: object) =>
    instructor.post(`/api/briefs/${made.id}/versions`, { of: made.id, was, content: { ...was, ...changes } });
  await change({ frames: 30 }).expect(200);
  // The other has it open as it was.
  const { body: told } = await change({ fps: 12 }).expect(409);
  expect(told.title).toBe('Somebody has changed this brief meanwhile.');
  const { body } = await instructor.get(`/api/briefs/${made.id}`).expect(200);
  expect((body as BriefVersions).versions[0]).toMatchObject({ frames: 30, fps: 24, version: 1 });
  const now = BriefContent.parse((body as BriefVersions).versions[0]);
  await instructor
    .post(`/api/briefs/${made.id}/versions`, { of: made.id, was: now, content: { ...now, fps: 12 } })
    .expect(200);
});

test('a shot keeps the version it was begun with, and is judged by it; who begins later gets the new one', async () => {
  const made = await make({ title: 'Coal quay' });
  const { body: assignment } = await instructor
    .post('/api/assignments', { brief: made.id, cohort: await cohort('Monday loft'), due: weekOn() })
    .expect(201);
  const farid = await school.as('Farid Qasemi');
  const handed = await farid.handIn(assignment.id, walk({ slide: 4 }));
  const changed = {
    ...FOG_WATCH,
    title: 'Coal quay',
    gauges: [{ ...FOG_WATCH.gauges![0]!, band: [40, 50] as [number, number] }],
  };
  const { body } = await instructor
    .post(`/api/briefs/${made.id}/versions`, { of: made.id, content: changed })
    .expect(200);
  const second = (body as BriefVersions).versions[0]!;
  await instructor.patch(`/api/assignments/${assignment.id}`, { brief: second.id }).expect(200);
  const shot = await untilRead(farid, handed.body.shot);
  expect([shot.brief.version, shot.briefNow]).toEqual([1, 2]);
  const hoku = await school.as('Hoku Kealoha');
  const { body: theirs } = await hoku.get(`/api/assignments/${assignment.id}`).expect(200);
  expect([theirs.brief.version, theirs.earlier.version]).toEqual([2, 1]);
  const { body: his } = await farid.get(`/api/assignments/${assignment.id}`).expect(200);
  expect(his.brief.version).toBe(1);
  // The bob of a plain walk lies within the first version's band, and far outside the second's.
  const of = async (id: string) =>
    (await school.database.query('SELECT outside, inside FROM verdicts WHERE revision_id = $1', [id])).rows[0];
  expect(await of(shot.revisions[0]!.id)).toEqual({ outside: 0, inside: 1 });
  const other = await untilRead(hoku, (await hoku.handIn(assignment.id, walk({ slide: 5 }))).body.shot);
  expect(await of(other.revisions[0]!.id)).toEqual({ outside: 1, inside: 0 });
  // The database itself sees to it.
  await expect(school.database.query('UPDATE briefs SET frames = 1 WHERE id = $1', [made.id])).rejects.toThrow(
    /gets a new version/,
  );
  await expect(
    school.database.query('UPDATE shots SET brief_id = $2 WHERE id = $1', [shot.id, second.id]),
  ).rejects.toThrow(/begun with/);
});

test('a version that has shots is not changed when it is set no longer', async () => {
  const first = await make({ title: 'Ice house' });
  const change = async (of: string, frames: number): Promise<BriefVersions['versions']> => {
    const content = { ...FOG_WATCH, title: 'Ice house', frames };
    return (await instructor.post(`/api/briefs/${first.id}/versions`, { of, content }).expect(200)).body.versions;
  };
  const { body: assignment } = await instructor
    .post('/api/assignments', { brief: first.id, cohort: await cohort('Monday loft'), due: weekOn() })
    .expect(201);
  const [second] = await change(first.id, 30);
  await instructor.patch(`/api/assignments/${assignment.id}`, { brief: second!.id }).expect(200);
  const emeka = await school.as('Emeka Brightwater');
  expect((await emeka.handIn(assignment.id, walk({ slide: 6 }))).status).toBe(201);
  await instructor.patch(`/api/assignments/${assignment.id}`, { brief: first.id }).expect(200);
  expect((await change(second!.id, 28)).map(({ version, frames, shots }) => [version, frames, shots])).toEqual([
    [3, 28, 0],
    [2, 30, 1],
    [1, 32, 0],
  ]);
});

test('another exercise can’t take the place of one that is set', async () => {
  const [a, b] = [await make({ title: 'Rope walk' }), await make({ title: 'Net loft' })];
  const { body } = await instructor
    .post('/api/assignments', { brief: a.id, cohort: await cohort('Thursday loft'), due: weekOn() })
    .expect(201);
  await instructor.patch(`/api/assignments/${body.id}`, { brief: b.id }).expect(409);
});

test('what can’t be carried out is refused with its field, and nothing is stored', async () => {
  const before = (await school.database.query('SELECT count(*)::int AS n FROM briefs')).rows[0].n;
  const fields = async (content: object): Promise<string[]> => {
    const { body } = await instructor.post('/api/briefs', { ...FOG_WATCH, title: 'Wrong', ...content }).expect(400);
    return (body.fields as { field: string }[]).map(({ field }) => field);
  };
  const gauge = FOG_WATCH.gauges![0]!;
  expect(await fields({ gauges: [{ ...gauge, reading: 'gait.wobble' }] })).toEqual(['gauges.0.reading']);
  expect(await fields({ gauges: [{ ...gauge, band: [9, 1] }] })).toEqual(['gauges.0.band']);
  expect(await fields({ gauges: [{ ...gauge, band: undefined }] })).toEqual(['gauges.0.band']);
  expect(await fields({ exemplar: { name: 'walk', set: { wings: 2 } } })).toEqual(['exemplar.set']);
  expect(await fields({ exemplar: { name: '__proto__', set: {} } })).toEqual(['exemplar.name']);
  expect(await fields({ exemplar: { name: 'walk', set: { length: 90_000 } } })).toEqual(['exemplar.set']);
  expect(await fields({ fps: 0 })).toEqual(['fps']);
  expect(await fields({ rubric: [FOG_WATCH.rubric[0], FOG_WATCH.rubric[0]] })).toEqual(['rubric']);
  expect((await school.database.query('SELECT count(*)::int AS n FROM briefs')).rows[0].n).toBe(before);
  await make({ title: 'Once only' });
  await instructor.post('/api/briefs', { ...FOG_WATCH, title: 'once ONLY' }).expect(409);
});

test('the usual gauges judge as long as a brief has none of its own', async () => {
  const { gauges } = await make({ title: 'Bell buoy', gauges: null });
  expect(gauges).toBeNull();
  expect(defaultGauges('walk', 24).length).toBeGreaterThan(10);
});

describe('a brief as a file', () => {
  test('goes out by a published schema, which another package reads, and comes in as the same brief', async () => {
    const before = (await instructor.get('/api/briefs').expect(200)).body as ListedBrief[];
    const family = before.find(({ title }) => title === 'Night round')!.family;
    const made = await make({ title: 'Harbour master', before: [family] });
    const { body: file } = await instructor.get(`/api/briefs/${made.id}/file`).expect(200);
    const { body: schema } = await request(school.app.getHttpServer()).get('/api/schemas/brief-1.json').expect(200);
    // JSON Schema, draft 2020-12, as the package ajv reads it.
    const validate = new Ajv2020({ strict: false, formats: { uuid: true } }).compile(schema);
    expect(validate(file)).toBe(true);
    expect(validate({ ...file, brief: { ...file.brief, fps: 'fast' } })).toBe(false);
    expect(file.brief.before).toEqual(['Night round']);
    const { body: taken } = await instructor.post('/api/briefs/import', file).expect(201);
    const [copy] = (taken as BriefVersions).versions;
    expect(copy!.title).toBe('Harbour master (2)');
    const content = ({ id: _i, family: _f, title: _t, at: _a, ...rest }: typeof copy & object) => rest;
    expect(content(copy!)).toEqual(content(made));
  });

  test.each([
    ['another format', (file: object) => ({ ...file, format: 'something' })],
    ['a version that is not there yet', (file: object) => ({ ...file, version: 2 })],
    ['nothing of a brief', () => ({ brief: null })],
  ])('%s is refused', async (_, spoil) => {
    const [any] = (await instructor.get('/api/briefs').expect(200)).body as ListedBrief[];
    const { body: file } = await instructor.get(`/api/briefs/${any!.id}/file`).expect(200);
    await instructor.post('/api/briefs/import', spoil(file as object)).expect(400);
  });
});

describe('files to start from', () => {
  const add = async (brief: string, name: string, bytes: string) => {
    const agent = request.agent(school.app.getHttpServer());
    const { rows } = await school.database.query(`SELECT id FROM people WHERE name = 'Ottoline Farrow'`);
    await agent.post('/api/demo/session').set(HEADER).send({ person: rows[0].id });
    return agent.post(`/api/briefs/${brief}/files`).set(HEADER).attach('file', Buffer.from(bytes), name);
  };

  test('are saved and never shown, by those they are for', async () => {
    const made = await make({ title: 'Sail plan' });
    const { body } = await add(made.id, 'rig.html', '<script>alert(1)</script>');
    const [file] = (body as BriefVersions).versions[0]!.files;
    const path = `/api/briefs/${made.id}/files/${file!.id}`;
    const { headers } = await instructor.get(path).expect(200);
    expect(headers['content-type']).toBe('application/octet-stream');
    expect(headers['x-content-type-options']).toBe('nosniff');
    expect(headers['content-disposition']).toMatch(/^attachment; filename\*=UTF-8''rig\.html$/);
    const hoku = await school.as('Hoku Kealoha');
    await hoku.get(path).expect(404);
    await instructor
      .post('/api/assignments', { brief: made.id, cohort: await cohort('Monday loft'), due: weekOn() })
      .expect(201);
    await hoku.get(path).expect(200);
    // Of another cohort it is none of theirs.
    await (await school.as('Sunniva Dahlby')).get(path).expect(404);
    // The version that is set keeps its files: what is taken away is so in the next.
    const { body: dropped } = await instructor.delete(path).expect(200);
    expect((dropped as BriefVersions).versions.map(({ version, files }) => [version, files.length])).toEqual([
      [2, 0],
      [1, 1],
    ]);
    await hoku.get(path).expect(200);
  });

  test('an empty one is refused, and so is a student', async () => {
    const made = await make({ title: 'Tide table' });
    expect((await add(made.id, 'tides.txt', '')).status).toBe(422);
    await (await school.as('Hoku Kealoha')).post(`/api/briefs/${made.id}/files`).expect(403);
  });
});

test('a brief that is put away can’t be set any more, and shots on it stay', async () => {
  const made = await make({ title: 'Old pier' });
  await instructor.patch(`/api/briefs/${made.id}`, { archived: true }).expect(200);
  const body = { brief: made.id, cohort: await cohort('Monday loft'), due: weekOn() };
  expect((await instructor.post('/api/assignments', body).expect(409)).body.title).toBe('This brief is put away.');
  await instructor.patch(`/api/briefs/${made.id}`, { archived: false }).expect(200);
  await instructor.post('/api/assignments', body).expect(201);
  const { rows } = await school.database.query(`SELECT id FROM briefs WHERE title = 'Night round'`);
  await instructor.patch(`/api/briefs/${rows[0].id}`, { archived: true }).expect(200);
  await instructor.get(`/api/shots/${await shotOf(school, 'Farid Qasemi')}`).expect(200);
  await instructor.patch(`/api/briefs/${rows[0].id}`, { archived: false }).expect(200);
});

test('gauges are seen against what shots have: values of the newest measured revisions of the kind', async () => {
  const shot = await untilRead(instructor, await shotOf(school, 'Amara Oyelaran'));
  const { body } = await instructor.get(`/api/briefs/${shot.brief.id}/values`).expect(200);
  const { readings } = (body as ReadingValues).shots.find((own) => own.shot === shot.id)!;
  const own = readings.find(({ id }) => id === 'gait.bob');
  expect(readings.some(({ detail }) => Object.keys(detail).length > 0)).toBe(true);
  const { rows } = await school.database.query(
    `SELECT x -> 'value' AS value FROM readings d, jsonb_array_elements(d.report -> 'readings') x
      WHERE d.revision_id = $1 AND d.core_version = $2 AND x ->> 'id' = 'gait.bob'`,
    [shot.revisions.at(-1)!.id, CORE_VERSION],
  );
  expect(own!.value).toBe(rows[0].value);
});

describe('what a brief insists on', () => {
  test('a motion of another length is not taken in, and nothing of it is kept', async () => {
    const made = await make({
      title: 'Short pier',
      frames: 24,
      rules: { length: 'refuse', rate: 'warn', loop: 'warn' },
    });
    const { body } = await instructor
      .post('/api/assignments', { brief: made.id, cohort: await cohort('Monday loft'), due: weekOn() })
      .expect(201);
    const student = await school.as('Chiyo Tanabe');
    const files = (await school.database.query('SELECT count(*)::int AS n FROM files')).rows[0].n;
    const short = walk().split('\n').slice(0, -5).join('\n').replace('Frames: 25', 'Frames: 21');
    const refused = await student.handIn(body.id, short);
    expect([refused.status, refused.body.detail]).toEqual([422, 'The exercise takes 24 frames; this takes 21.']);
    expect((await school.database.query('SELECT count(*)::int AS n FROM files')).rows[0].n).toBe(files);
    expect((await student.handIn(body.id, walk({ slide: 3 }))).status).toBe(201);
  });

  test('parts worked on and roles put right come along with the file', async () => {
    const student = await school.as('Jomo Wanyama');
    const curesSeen = ['gait.slide leg.L', 'posture.head head'];
    const fields = {
      workedOn: JSON.stringify(['body', 'legs']),
      roles: JSON.stringify({ head: null }),
      curesSeen: JSON.stringify(curesSeen),
    };
    const { body } = await student.handIn(await nightRound(school, 'Monday loft'), walk({ slide: 2 }), fields);
    const shot = await untilRead(student, body.shot);
    expect(shot.revisions[0]).toMatchObject({ workedOn: ['body', 'legs'], roles: { head: null }, curesSeen });
    const { rows } = await school.database.query('SELECT report -> $2 AS roles FROM readings WHERE revision_id = $1', [
      body.revision,
      'roles',
    ]);
    expect(rows[0].roles).not.toHaveProperty('head');
    const wrong = await (
      await school.as('Tomasz Wieczor')
    ).handIn(await nightRound(school, 'Thursday loft'), walk(), {
      workedOn: '["the moon"]',
    });
    expect(wrong.status).toBe(400);
  });
});

test('a brief that is not there is not there', async () => {
  await instructor.get(`/api/briefs/${randomUUID()}`).expect(404);
  await instructor.post(`/api/briefs/${randomUUID()}/versions`, { of: randomUUID(), content: FOG_WATCH }).expect(404);
});
