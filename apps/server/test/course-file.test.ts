// A whole course goes out as one archive and comes in at another school: briefs with every version, files to start from, phrases.
import { Ajv2020 } from 'ajv/dist/2020.js';
import { strFromU8, strToU8, zipSync } from 'fflate';
import request from 'supertest';
import type { BriefVersions, ListedBrief } from '@ypsigraph/contract/briefs';
import type { CourseFileFormat, CourseTaken } from '@ypsigraph/contract/course-file';
import { entriesOf, HEADER, openSchool, type School, type Visitor } from './harness.ts';

let here: School;
let elsewhere: School;
let instructor: Visitor;
beforeAll(async () => {
  [here, elsewhere] = [await openSchool(), await openSchool()];
  instructor = await here.as('Ottoline Farrow');
});
afterAll(async () => {
  await here.close();
  await elsewhere.close();
});

/** Somebody's browser, for what is no JSON. */
async function agentOf(school: School, name = 'Ottoline Farrow') {
  const agent = request.agent(school.app.getHttpServer());
  const { rows } = await school.database.query('SELECT id FROM people WHERE name = $1', [name]);
  await agent.post('/api/demo/session').set(HEADER).send({ person: rows[0].id });
  return agent;
}

const taken = async (path: string): Promise<Record<string, Uint8Array>> => entriesOf((await agentOf(here)).get(path));

const bring = async (school: School, entries: Record<string, Uint8Array> | Uint8Array, name?: string) =>
  (await agentOf(school, name))
    .post('/api/course')
    .set(HEADER)
    .attach('file', Buffer.from(entries instanceof Uint8Array ? entries : zipSync(entries)), 'course.zip');

const courseIn = (entries: Record<string, Uint8Array>): CourseFileFormat =>
  JSON.parse(strFromU8(entries['course.json']!)) as CourseFileFormat;

test('what goes out is what its schema says, and comes in elsewhere with its versions, files and what is to be done before', async () => {
  const list = (await instructor.get('/api/briefs').expect(200)).body as ListedBrief[];
  const walk = list.find(({ title }) => title === 'Night round')!;
  const { body: before } = await instructor.get(`/api/briefs/${walk.id}`).expect(200);
  const {
    id: _i,
    family: _f,
    version: _v,
    files: _fi,
    at: _a,
    author: _au,
    shots: _s,
    archived: _ar,
    ...content
  } = (before as BriefVersions).versions[0]!;
  // One that is set anywhere gets another version.
  await instructor
    .post(`/api/briefs/${walk.id}/versions`, {
      of: walk.id,
      content: { ...content, text: 'Once round the harbour, lamp in hand.' },
    })
    .expect(200);
  const { body: made } = await instructor
    .post('/api/briefs', { ...content, title: 'Harbour master', before: [walk.family] })
    .expect(201);
  await (
    await agentOf(here)
  )
    .post(`/api/briefs/${(made as BriefVersions).versions[0]!.id}/files`)
    .set(HEADER)
    .attach('file', Buffer.from('a letter carrier to start from'), 'carrier.bvh')
    .expect(200);
  await instructor
    .post('/api/phrases', {
      key: '6f9f6c86-6a43-4d7e-9d68-0d4c8f4d2d11',
      kind: 'timing',
      words: 'Let it land at {wanted}.',
    })
    .expect(201);

  const entries = await taken('/api/course');
  const course = courseIn(entries);
  const schema = JSON.parse(strFromU8(entries['course-1.schema.json']!)) as object;
  // JSON Schema, draft 2020-12, as the package ajv reads it.
  const validate = new Ajv2020({ strict: false, formats: { uuid: true } }).compile(schema);
  expect(validate(course)).toBe(true);
  expect(validate({ ...course, briefs: [] })).toBe(false);
  const { body: published } = await request(here.app.getHttpServer()).get('/api/schemas/course-1.json').expect(200);
  expect(published).toEqual(schema);
  const file = Object.keys(entries).find((name) => name.endsWith('/carrier.bvh'))!;
  expect(strFromU8(entries[file]!)).toBe('a letter carrier to start from');

  const there = await elsewhere.as('Ottoline Farrow');
  expect((await bring(elsewhere, entries)).status).toBe(201);
  const all = (await there.get('/api/briefs').expect(200)).body as ListedBrief[];
  const copy = all.find(({ title }) => title === 'Harbour master')!;
  const round = all.find(({ title }) => title === 'Night round (2)')!;
  expect(round.version).toBe(2);
  const { versions } = (await there.get(`/api/briefs/${copy.id}`).expect(200)).body as BriefVersions;
  // What is named as to be done before is the one that came along, not the one that was there.
  expect(versions[0]!.before).toEqual([round.family]);
  expect(versions[0]!.files.map(({ name }) => name)).toEqual(['carrier.bvh']);
  const { rows: kept } = await elsewhere.database.query(
    'SELECT f.bytes FROM brief_files b JOIN files f ON f.sha256 = b.file_sha256 WHERE b.id = $1',
    [versions[0]!.files[0]!.id],
  );
  expect(Number(kept[0].bytes)).toBe(30);
  await there.get(`/api/briefs/${copy.id}/files/${versions[0]!.files[0]!.id}`).expect(200);
  const { versions: two } = (await there.get(`/api/briefs/${round.id}`).expect(200)).body as BriefVersions;
  expect(two.map(({ text }) => text)).toEqual(['Once round the harbour, lamp in hand.', content.text]);
  const phrases = (await there.get('/api/phrases').expect(200)).body as { words: string }[];
  expect(phrases.map(({ words }) => words)).toContain('Let it land at {wanted}.');
  // Brought in again there are briefs once more, under other titles, and phrases once.
  const again = (await bring(elsewhere, entries)).body as CourseTaken;
  expect(again.briefs.map(({ title }) => title)).toContain('Harbour master (2)');
  expect(again.phrases).toBe(0);
  // A title that is put away is taken as well.
  await there.patch(`/api/briefs/${copy.id}`, { archived: true }).expect(200);
  expect((await bring(elsewhere, entries)).status).toBe(201);
});

test('one brief goes out by itself', async () => {
  const list = (await instructor.get('/api/briefs').expect(200)).body as ListedBrief[];
  const course = courseIn(await taken(`/api/course?brief=${list.find(({ title }) => title === 'Foghorn')!.id}`));
  expect(course.briefs.map(({ versions }) => versions.at(-1)!.brief.title)).toEqual(['Foghorn']);
});

test('what is no course is refused in words, and nothing of it is left', async () => {
  const entries = await taken('/api/course');
  const course = courseIn(entries);
  const withCourse = (change: (own: CourseFileFormat) => unknown): Record<string, Uint8Array> => ({
    ...entries,
    'course.json': strToU8(JSON.stringify(change(structuredClone(course)))),
  });
  const file = Object.keys(entries).find((name) => name.startsWith('files/'))!;
  const { [file]: _, ...cut } = entries;
  const count = async (): Promise<unknown> => (await elsewhere.database.query('SELECT count(*) FROM briefs')).rows;
  const before = await count();
  const refusals: readonly [string, Record<string, Uint8Array> | Uint8Array, RegExp][] = [
    ['no archive', strToU8('Once round the harbour.'), /no archive that can be read/],
    ['another archive', { 'poem.txt': strToU8('Once round the harbour.') }, /no course/],
    ['no JSON', { 'course.json': strToU8('{"format": ') }, /no JSON/],
    ['another version', withCourse((own) => ({ ...own, version: 2 })), /version/],
    ['a file that is not there', cut, /is not in it/],
    [
      'a place outside',
      withCourse((own) => {
        own.briefs.find(({ versions }) => versions.at(-1)!.files.length > 0)!.versions.at(-1)!.files[0]!.place =
          '../../etc/passwd';
        return own;
      }),
      /a place in the archive/,
    ],
    [
      'a brief that can’t be',
      withCourse((own) => {
        Object.assign(own.briefs.at(-1)!.versions[0]!.brief, { fps: -3 });
        return own;
      }),
      /fps/,
    ],
  ];
  for (const [what, archive, said] of refusals) {
    const answer = await bring(elsewhere, archive);
    expect([what, [400, 422].includes(answer.status)]).toEqual([what, true]);
    expect(JSON.stringify(answer.body)).toMatch(said);
  }
  expect(await count()).toEqual(before);
  expect((await bring(elsewhere, entries, 'Amara Oyelaran')).status).toBe(403);
});

test('an archive that unpacks to more than can be held is refused before it is unpacked', async () => {
  // Its directory says that an entry has 600 MB.
  const zip = zipSync({ 'course.json': strToU8('{}') });
  const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
  for (let k = 0; k + 4 < zip.length; k++)
    if (view.getUint32(k, true) === 0x02014b50) view.setUint32(k + 24, 600 * 1024 * 1024, true);
  const answer = await bring(elsewhere, zip);
  expect(answer.status).toBe(413);
  expect(JSON.stringify(answer.body)).toContain('more than can be taken in');
});
