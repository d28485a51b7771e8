// What must not be lost, said twice, or stop the service: files that are too much for anybody, requests that meet, jobs whose process dies.
import { randomUUID } from 'node:crypto';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import pg from 'pg';
import request from 'supertest';
import type { Shot } from '@ypsigraph/contract/shots';
import { createApplication } from '../src/application.ts';
import { CONFIGURATION, type Configuration, readConfiguration } from '../src/config.ts';
import { migrate } from '../src/database/migrations.ts';
import { Database, openDatabase } from '../src/database/database.module.ts';
import { PEOPLE } from '../src/demo/people.ts';
import { seedDemo } from '../src/demo/seed.ts';
import { MAX_FILE_BYTES } from '@ypsigraph/contract/vocabulary';
import { FileStore } from '../src/files/file-store.ts';
import { FileSweeper } from '../src/files/file-sweeper.ts';
import { ShotReader } from '../src/readings/shot-reader.ts';
import { ReadingProcesses } from '../src/readings/process/reading-processes.ts';
import {
  HEADER,
  nightRound,
  openSchool,
  reportOf,
  type School,
  shotOf,
  untilRead,
  type Visitor,
  walk,
} from './harness.ts';
import { docketPages, manyShotsWait } from './many-shots.ts';

let school: School;
let instructor: Visitor;
let monday: string;
beforeAll(async () => {
  school = await openSchool({ READING_MEMORY_MB: '512', READING_SECONDS: '60' });
  instructor = await school.as('Ottoline Farrow');
  monday = await nightRound(school, 'Monday loft');
});
afterAll(() => school.close());

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const one = async <T>(sql: string, values: unknown[] = []): Promise<T> =>
  (await school.database.query(sql, values)).rows[0] as T;

/** A small file that declares a motion of so many joints and frames. */
function bomb(joints: number, frames: number, padding = 0): string {
  const rest = Array.from({ length: joints - 1 }, (_, k) => `JOINT j${k} { OFFSET 0 1 0 CHANNELS 0 }\n`).join('');
  const blank = ' '.repeat(200);
  return `HIERARCHY\nROOT r { OFFSET 0 0 0 CHANNELS 1 Xrotation\n${rest}}\nMOTION\nFrames: ${frames}\nFrame Time: 0.04\n${'0\n'.repeat(frames)}${`${blank}\n`.repeat(Math.ceil(padding / 201))}`;
}

describe('files that would be too much', () => {
  test('a small file with a huge motion is refused at once, with its line', async () => {
    const jomo = await school.as('Jomo Wanyama');
    const { status, body } = await jomo.handIn(monday, bomb(2000, 99_999));
    expect([status, body.type]).toEqual([422, 'file-refused']);
    expect(body.detail).toMatch(/line \d+: more than 10,000 frames of so many joints/);
  });

  test('one that keeps the rules and needs more memory than a process has is refused in words', async () => {
    const processes = school.app.get(ReadingProcesses);
    const path = join(school.files, 'incoming', 'large');
    await writeFile(path, bomb(200, 99_999));
    expect(await processes.read('check', { does: 'check', path }, 60)).toEqual({
      refused: expect.stringContaining('more memory'),
    });
    // The next file finds a process that can read it.
    await writeFile(path, walk());
    expect(await processes.read('check', { does: 'check', path }, 60)).toEqual({ gives: {} });
    await rm(path);
  });

  test('one that takes too long is given up in words', async () => {
    const path = join(school.files, 'incoming', 'slow');
    await writeFile(path, bomb(20, 99_999));
    const answer = await school.app.get(ReadingProcesses).read('check', { does: 'check', path }, 0.02);
    expect(answer).toEqual({ refused: expect.stringContaining('takes longer than') });
    await rm(path);
  });

  test('padded past what is read at once, it fails as a job, and the worker lives', async () => {
    const jomo = await school.as('Jomo Wanyama');
    const { status, body } = await jomo.handIn(monday, bomb(2000, 99_999, 9 * 1024 * 1024));
    expect(status).toBe(201);
    const shot = await untilRead(jomo, body.shot);
    expect(shot.revisions.at(-1)!.reading).toMatchObject({
      state: 'failed',
      reason: expect.stringContaining('more than 10,000'),
    });
    await jomo.post(`/api/revisions/${body.revision}/withdraw`).expect(200);
  });
});

describe('requests that meet', () => {
  const marked = async (student: string): Promise<{ revision: string; mark: string }> => {
    const shot = (await instructor.get(`/api/shots/${await shotOf(school, student)}`)).body as Shot;
    const revision = shot.revisions.at(-1)!.id;
    const key = randomUUID();
    await instructor
      .post(`/api/revisions/${revision}/marks`, { kind: 'arc', from: 9, to: 9, point: null, words: 'It pops.', key })
      .expect(201);
    return { revision, mark: key };
  };

  test('the same mark ten times at once is one mark, and ten equal answers', async () => {
    const { revision } = await marked('Farid Qasemi');
    const mark = { kind: 'arc', from: 3, to: 4, point: null, words: 'Here too.', key: randomUUID() };
    const answers = await Promise.all(
      Array.from({ length: 10 }, () => instructor.post(`/api/revisions/${revision}/marks`, mark)),
    );
    expect(answers.map(({ status }) => status)).toEqual(Array(10).fill(201));
    expect(new Set(answers.map(({ body }) => JSON.stringify(body))).size).toBe(1);
    const { n } = await one<{ n: number }>('SELECT count(*)::int AS n FROM mark_events WHERE mark_id = $1', [mark.key]);
    expect(n).toBe(1);
  });

  test('marks made while the revision is sent back all reach the student', async () => {
    const { revision } = await marked('Hoku Kealoha');
    const make = (k: number) =>
      instructor.post(`/api/revisions/${revision}/marks`, {
        kind: 'note',
        from: k,
        to: k,
        point: null,
        words: `Mark ${k}.`,
        key: randomUUID(),
      });
    const first = Array.from({ length: 12 }, (_, k) => make(k + 1));
    const back = instructor.post(`/api/revisions/${revision}/send-back`, { words: 'Again.', asked: '' });
    const then = Array.from({ length: 12 }, (_, k) => make(k + 20));
    for (const { status } of await Promise.all([...first, ...then])) expect(status).toBe(201);
    expect((await back).status).toBe(200);
    const { unsent, n } = await one<{ unsent: number; n: number }>(
      'SELECT count(*) FILTER (WHERE sent_at IS NULL)::int AS unsent, count(*)::int AS n FROM marks WHERE revision_id = $1',
      [revision],
    );
    expect([unsent, n >= 25]).toEqual([0, true]);
  });

  test('a second send-back with the same words is the first one; with other words it is told what stands', async () => {
    const shot = await shotOf(school, 'Hoku Kealoha');
    const { id } = ((await instructor.get(`/api/shots/${shot}`)).body as Shot).revisions.at(-1)!;
    await instructor.post(`/api/revisions/${id}/send-back`, { words: 'Again.', asked: '' }).expect(200);
    const { body } = await instructor
      .post(`/api/revisions/${id}/send-back`, { words: 'No, wait.', asked: '' })
      .expect(409);
    expect(body.detail).toContain('Again.');
  });

  test('a clear that meets an answer stands, and ten equal clicks are one event', async () => {
    const { mark } = await marked('Hoku Kealoha');
    const hoku = await school.as('Hoku Kealoha');
    await Promise.all([
      ...Array.from({ length: 10 }, () => instructor.post(`/api/marks/${mark}/verdict`, { state: 'cleared' })),
      ...Array.from({ length: 3 }, (_, k) =>
        hoku.post(`/api/marks/${mark}/replies`, { words: `Done ${k}.`, key: randomUUID() }).expect(201),
      ),
    ]);
    const { state } = await one<{ state: string }>('SELECT state FROM marks WHERE id = $1', [mark]);
    expect(state).toBe('cleared');
    const { n } = await one<{ n: number }>(
      `SELECT count(*)::int AS n FROM mark_events WHERE mark_id = $1 AND what = 'cleared'`,
      [mark],
    );
    expect(n).toBe(1);
  });

  test('what a page sends that belongs to somebody else is refused, and not as a loss', async () => {
    const { id } = await one<{ id: string }>(`SELECT id FROM people WHERE name = 'Baraka Lundqvist'`);
    const agent = request.agent(school.app.getHttpServer());
    const own = await one<{ id: string }>(`SELECT id FROM people WHERE name = 'Ottoline Farrow'`);
    await agent.post('/api/demo/session').set(HEADER).send({ person: own.id }).expect(200);
    const { revision } = await marked('Farid Qasemi');
    const mark = { kind: 'arc', from: 3, to: 4, point: null, words: 'Baraka wrote this.', key: randomUUID() };
    const path = `/api/revisions/${revision}/marks`;
    const refused = await agent.post(path).set('x-ypsigraph', id).send(mark).expect(409);
    expect(refused.body.type).toBe('another-person');
    await agent.post(path).set('x-ypsigraph', own.id).send(mark).expect(201);
  });
});

describe('readings that get lost', () => {
  const revisionOf = async (student: string) => {
    const shot = await untilRead(instructor, await shotOf(school, student));
    return { shot: shot.id, id: shot.revisions.at(-1)!.id };
  };

  test('one whose reader died is read again; one that killed its readers is given up with a reason', async () => {
    const { shot, id } = await revisionOf('Ulugbek Saidov');
    const died = `UPDATE revisions SET reading_state = 'reading', reading_tries = $2, reading_beat = now() - interval '1 minute' WHERE id = $1`;
    await school.database.query(died, [id, 1]);
    await sleep(1_000);
    expect((await untilRead(instructor, shot)).revisions.at(-1)!.reading.state).toBe('read');
    await school.database.query(died, [id, 3]);
    const failed = (await untilRead(instructor, shot)).revisions.at(-1)!.reading;
    expect(failed).toMatchObject({ state: 'failed', reason: expect.stringContaining('three times') });
    await instructor.post(`/api/revisions/${id}/read-again`).expect(200);
    expect((await untilRead(instructor, shot)).revisions.at(-1)!.reading.state).toBe('read');
  });

  test('one that waits is read, whoever put it there: waiting is its own state', async () => {
    const { shot, id } = await revisionOf('Sunniva Dahlby');
    await school.database.query(`UPDATE revisions SET reading_state = 'queued' WHERE id = $1`, [id]);
    expect((await untilRead(instructor, shot)).revisions.at(-1)!.reading.state).toBe('read');
  });

  test('a reading made with older corrections overwrites nothing', async () => {
    const { shot, id } = await revisionOf('Oisín Brannagh');
    await instructor.patch(`/api/revisions/${id}`, { firstFrame: 101 }).expect(200);
    await untilRead(instructor, shot);
    // Its reader was slow: it was corrected meanwhile.
    await school.app.get(ShotReader).read({ request: null, beside: false, revision: id, settings: 1 });
    const { report, version } = await one<{ report: { firstFrame: number }; version: number }>(
      `SELECT d.report, r.settings_version AS version FROM readings d JOIN revisions r ON r.id = d.revision_id WHERE r.id = $1`,
      [id],
    );
    expect([report.firstFrame, version]).toEqual([101, 2]);
  });

  test('one for which there is no room on the disk says so, and not that something went wrong', async () => {
    const { shot, id } = await revisionOf('Rosalind Achebe-Moor');
    const read = jest.spyOn(school.app.get(ReadingProcesses), 'read').mockResolvedValue({ noRoom: true });
    try {
      await school.database.query(`UPDATE revisions SET reading_state = 'reading', reading_tries = 3 WHERE id = $1`, [
        id,
      ]);
      await school.app.get(ShotReader).read({ request: null, beside: false, revision: id, settings: 1 });
    } finally {
      read.mockRestore();
    }
    const failed = (await untilRead(instructor, shot)).revisions.at(-1)!.reading;
    expect(failed).toMatchObject({ state: 'failed', reason: expect.stringContaining('no room on this server') });
  });

  test('asked for without end, a file is read again so often and no oftener; asked for at once, once', async () => {
    const { shot, id } = await revisionOf('Chiyo Tanabe');
    const statuses: number[] = [];
    for (let round = 0; round < 7; round++) {
      const both = await Promise.all([0, 1].map(() => instructor.post(`/api/revisions/${id}/read-again`)));
      statuses.push(...both.map(({ status }) => status));
      await untilRead(instructor, shot);
    }
    expect(statuses).toContain(429);
    const { n } = await one<{ n: number }>(
      `SELECT count(*)::int AS n FROM revision_events WHERE revision_id = $1 AND what = 'read again'`,
      [id],
    );
    expect(n).toBe(5);
  });
});

describe('files', () => {
  test('a stored file that is missing is a problem, and not kept by anybody', async () => {
    const shot = (await instructor.get(`/api/shots/${await shotOf(school, 'Amara Oyelaran')}`)).body as Shot;
    const { id } = shot.revisions[0]!;
    const { sha } = await one<{ sha: string }>('SELECT file_sha256 AS sha FROM revisions WHERE id = $1', [id]);
    const path = join(school.files, sha.slice(0, 2), sha);
    const bytes = await readFile(path);
    await rm(path);
    const { body, headers } = await instructor.get(`/api/revisions/${id}/file`).expect(404);
    expect([body.type, headers['cache-control']]).toEqual(['file-missing', 'no-store']);
    await writeFile(path, bytes);
  });

  test('a file that no revision names is swept; one that is named stays', async () => {
    const store = school.app.get(FileStore);
    const { sha256 } = await store.put(Buffer.from('left over'));
    const inAnHour = Date.now() + 2 * 60 * 60 * 1000;
    expect(await school.app.get(FileSweeper).sweep(inAnHour)).toBe(1);
    await expect(store.read(sha256)).rejects.toThrow(/not where it was kept/);
    const shot = (await instructor.get(`/api/shots/${await shotOf(school, 'Amara Oyelaran')}`)).body as Shot;
    await instructor.get(`/api/revisions/${shot.revisions[0]!.id}/file`).expect(200);
  });

  test('a student whose room is used up is told so, and how much it is', async () => {
    const small = await openSchool({ QUOTA_MB: '1', PROCESS: 'server' });
    try {
      const jomo = await small.as('Jomo Wanyama');
      const assignment = await nightRound(small, 'Monday loft');
      const { body } = await jomo.handIn(assignment, `${walk()}${' '.repeat(1024 * 1024)}`);
      expect(body).toMatchObject({ status: 413, type: 'quota' });
      expect((await jomo.get('/api/room').expect(200)).body).toEqual({ used: 0, most: 1024 * 1024 });
      expect((await jomo.handIn(assignment, walk())).status).toBe(201);
    } finally {
      await small.close();
    }
  });
});

describe('bodies nobody can use', () => {
  const mark = { kind: 'arc', from: 9, to: 9, point: null, words: 'It pops.' };
  test.each<[string, string, object | string, Record<string, string>, number, string]>([
    ['200 kB of words', 'marks', { ...mark, words: 'x'.repeat(200_000) }, {}, 413, 'body'],
    ['an encoding nobody knows', 'marks', JSON.stringify(mark), { 'content-encoding': 'rot13' }, 415, 'body'],
    ['half a body', 'marks', '{"kind": "arc", ', {}, 400, 'body'],
    ['NUL in words', 'marks', { ...mark, words: 'It\0pops.' }, {}, 400, 'words'],
    ['half a character in words', 'marks', { ...mark, words: 'It \ud83d pops.' }, {}, 400, 'words'],
    ['a joint with half a character', 'marks', { ...mark, point: '\udc00' }, {}, 400, 'point'],
  ])('%s: refused, and what it is about', async (_, what, body, headers, status, field) => {
    const shot = (await instructor.get(`/api/shots/${await shotOf(school, 'Farid Qasemi')}`)).body as Shot;
    const path = `/api/revisions/${shot.revisions[0]!.id}/${what}`;
    const sending = instructor.post(path).set('content-type', 'application/json');
    for (const [name, value] of Object.entries(headers)) void sending.set(name, value);
    const content = typeof body === 'string' ? body : JSON.stringify({ key: randomUUID(), ...body });
    const answer = await sending.send(content);
    expect([answer.status, answer.body.fields?.[0]?.field]).toEqual([status, field]);
    expect(answer.headers['content-type']).toContain('application/problem+json');
  });

  test('the year 0 is no day to hand in on', async () => {
    const answer = await instructor.patch(`/api/assignments/${monday}`, { due: '0000-01-01T00:00:00Z' }).expect(400);
    expect(answer.body.fields[0].field).toBe('due');
  });

  test('a place in the docket that is none', async () => {
    const answer = await instructor.get('/api/docket?after=nonsense').expect(400);
    expect(answer.body.fields[0].field).toBe('after');
  });
});

test('changes of an exercise are events with their author', async () => {
  await instructor.patch(`/api/assignments/${monday}`, { closed: true }).expect(200);
  await instructor.patch(`/api/assignments/${monday}`, { closed: false }).expect(200);
  const { rows } = await school.database.query(
    'SELECT what, data FROM assignment_events WHERE assignment_id = $1 ORDER BY id',
    [monday],
  );
  expect(rows).toEqual([
    { what: 'changed', data: { closed: true } },
    { what: 'changed', data: { closed: false } },
  ]);
});

test('a change of a mark is eight statements: session, person, begin, the mark held, changed, its event, read, commit', async () => {
  const quiet = await openSchool({ PROCESS: 'server' });
  try {
    const teacher = await quiet.as('Ottoline Farrow');
    const shot = (await teacher.get(`/api/shots/${await shotOf(quiet, 'Farid Qasemi')}`)).body as Shot;
    const mark = { kind: 'arc', from: 9, to: 9, point: null, words: 'It pops.', key: randomUUID() };
    await teacher.post(`/api/revisions/${shot.revisions[0]!.id}/marks`, mark).expect(201);
    const query = jest.spyOn(pg.Client.prototype, 'query');
    await teacher.patch(`/api/marks/${mark.key}`, { words: 'It pops there.' }).expect(200);
    const texts = query.mock.calls.map(([text]) => String((text as { text?: string }).text ?? text));
    query.mockRestore();
    // What a server sweeps by itself when it has started, and what its workers look for, is nobody's request.
    const byItself = /failed_sign_ins|DELETE FROM "?sessions|FROM reading_queue|UPDATE alignments SET claimed_at/;
    expect(texts.filter((text) => !byItself.test(text))).toHaveLength(8);
  } finally {
    await quiet.close();
  }
});

test('how a shot is measured comes from its brief: rate, ground, what must be still', async () => {
  const shot = await untilRead(instructor, await shotOf(school, 'Mateo Villarreal'));
  // Nobody may do this to a brief with shots on it: here somebody has.
  await school.database.query('ALTER TABLE briefs DISABLE TRIGGER briefs_in_use');
  await school.database.query(
    `UPDATE briefs SET fps = 12, ground = 'flat', still = '["spine"]' WHERE title = 'Night round'`,
  );
  await instructor.post(`/api/revisions/${shot.revisions.at(-1)!.id}/read-again`).expect(200);
  const report = await reportOf(instructor, await untilRead(instructor, shot.id));
  expect(report.fps).toBe(12);
  expect(report.warnings).toContainEqual(expect.stringContaining('runs at 24 frames a second; it is taken at 12'));
  expect(report.readings.filter(({ id, part }) => id === 'stray.motion' && part === 'spine').length).toBeGreaterThan(0);
});

test('the docket comes in pages: all that waits, once, in one order', async () => {
  await manyShotsWait(school, { prefix: 'page', students: 150, names: 150, times: 6000 });
  const pages = await docketPages(instructor);
  for (const { waiting } of pages) expect(waiting).toBeGreaterThanOrEqual(150);
  const entries = pages.flatMap((page) => page.entries);
  const seen = entries.map(({ revision }) => revision);
  const order = entries.map(({ late, handedIn }) => `${late ? 0 : 1} ${handedIn}`);
  const { n } = await one<{ n: number }>(
    `SELECT count(*)::int AS n FROM revisions WHERE state IN ('handed in', 'on the desk')`,
  );
  expect([new Set(seen).size, seen.length, pages.length]).toEqual([n, n, Math.ceil(n / 60)]);
  expect(order).toEqual([...order].sort());
});

test('two that start at once on an empty database both come up, and it is filled once', async () => {
  const { database } = school.database as unknown as { database: string };
  const name = `both_${randomUUID().replaceAll('-', '')}`;
  await school.database.query(`CREATE DATABASE ${name}`);
  const url = new URL(school.app.get<Configuration>(CONFIGURATION).DATABASE_URL.replace(database, name));
  const start = async () => {
    const configuration = readConfiguration({
      DATABASE_URL: url.href,
      FILES_DIR: join(school.files, 'both'),
      SESSION_SECRET: 'only for tests, on the loopback, thrown away',
      PROCESS: 'server',
      DEMO: '1',
      DEMO_CLIPS: '0',
      DEMO_TERM: '0',
      LOG_LEVEL: 'silent',
    });
    const connection = openDatabase(configuration.DATABASE_URL);
    await migrate(connection);
    await connection.close();
    const app = await createApplication(configuration);
    await app.listen(0, '127.0.0.1');
    await seedDemo(app);
    return app;
  };
  const apps = await Promise.all([start(), start()]);
  try {
    const [people] = await apps[0].get(Database).select<{ n: number }>('SELECT count(*)::int AS n FROM people', []);
    expect(people!.n).toBe(PEOPLE.length);
    for (const app of apps) await request(app.getHttpServer()).get('/api/ready').expect(200);
  } finally {
    for (const app of apps) await app.close();
    await school.database.query(`DROP DATABASE ${name} WITH (FORCE)`);
  }
});

// 64 MB at half a megabit a second: 64 × 2^20 × 8 / 500,000 = 1,074 s.
test('a slow line has time enough for the largest file, and a silent one has not', () => {
  const server = school.app.getHttpServer();
  expect(server.requestTimeout / 1_000).toBeGreaterThan((MAX_FILE_BYTES * 8) / 500_000);
  expect(server.timeout).toBeLessThanOrEqual(120_000);
});
