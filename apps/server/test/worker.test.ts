import { randomUUID } from 'node:crypto';
import { type ChildProcess, fork } from 'node:child_process';
import { get } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Shot } from '@ypsigraph/contract/shots';
import { CONFIGURATION, type Configuration } from '../src/config.ts';
import { layCable } from './cable.ts';
import { HEADER, nightRound, openSchool, reportOf, type School, untilRead, walk } from './harness.ts';

let school: School;
beforeAll(async () => void (school = await openSchool({ PROCESS: 'server' }, 'read')));
afterAll(() => school.close());

/** A worker process of its own, as it is run in production: the built server, reading shots only. */
function startWorker(databaseUrl?: string): { process: ChildProcess; end: () => Promise<void> } {
  const configuration = school.app.get<Configuration>(CONFIGURATION);
  const { DATABASE_URL, FILES_DIR } = configuration;
  const environment = { ...process.env, DATABASE_URL: databaseUrl ?? DATABASE_URL, FILES_DIR };
  const worker = fork(join(__dirname, '../dist/main.js'), [], {
    env: { ...environment, SESSION_SECRET: configuration.SESSION_SECRET, PROCESS: 'worker', LOG_LEVEL: 'silent' },
    stdio: 'inherit',
  });
  const ended = new Promise<void>((resolve) => worker.once('exit', () => resolve()));
  return {
    process: worker,
    end: () => {
      worker.kill('SIGTERM');
      return ended;
    },
  };
}

/** The data of the stream's events, as they come, until the server ends it or the test does. */
async function listen(path: string, personId: string): Promise<{ events: { reading: string }[]; close: () => void }> {
  const { port } = school.app.getHttpServer().address() as AddressInfo;
  const signedIn = await fetch(`http://127.0.0.1:${port}/api/demo/session`, {
    method: 'POST',
    headers: { ...HEADER, 'content-type': 'application/json' },
    body: JSON.stringify({ person: personId }),
  });
  const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!;
  const events: { reading: string }[] = [];
  const request = get({ port, host: '127.0.0.1', path, headers: { cookie } }, (response) => {
    response.setEncoding('utf8').on('data', (text: string) => {
      for (const line of text.split('\n')) if (line.startsWith('data: {')) events.push(JSON.parse(line.slice(6)));
    });
  });
  request.on('error', () => undefined);
  return { events, close: () => request.destroy() };
}

test('a server process queues, a worker process reads, and the page that waits at the server hears of it', async () => {
  const jomo = await school.as('Jomo Wanyama');
  const { body } = await jomo.handIn(await nightRound(school, 'Monday loft'), walk());
  const waiting = (await jomo.get(`/api/shots/${body.shot}`).expect(200)).body as Shot;
  expect(waiting.revisions[0]!.reading.state).toBe('queued');

  const { rows } = await school.database.query(`SELECT id FROM people WHERE name = 'Jomo Wanyama'`);
  const stream = await listen(`/api/revisions/${body.revision}/events`, rows[0].id as string);
  const worker = startWorker();
  try {
    await untilRead(jomo, body.shot);
    for (let i = 0; i < 400 && stream.events.at(-1)?.reading !== 'read'; i++)
      await new Promise((done) => setTimeout(done, 100));
    expect(stream.events.map(({ reading }) => reading)).toEqual(expect.arrayContaining(['queued', 'read']));
  } finally {
    stream.close();
    await worker.end();
  }
});

test('whoever has a shot open hears within a second of what another does with it: marks, answers, findings put aside', async () => {
  const { rows } = await school.database.query(
    `SELECT s.id AS shot, r.id AS revision, a.id AS assistant FROM shots s JOIN revisions r ON r.shot_id = s.id, people a
      WHERE r.state = 'handed in' AND a.role = 'assistant' LIMIT 1`,
  );
  const { shot, revision, assistant } = rows[0] as Record<string, string>;
  const stream = await listen(`/api/shots/${shot}/events`, assistant!);
  const heard = async (count: number): Promise<number> => {
    for (let i = 0; i < 10 && stream.events.length < count; i++) await new Promise((done) => setTimeout(done, 100));
    return stream.events.length;
  };
  const instructor = await school.as('Ottoline Farrow');
  try {
    const key = randomUUID();
    const note = { kind: 'note', from: 1, to: 2, point: null, words: 'Look here.', key };
    await new Promise((done) => setTimeout(done, 300));
    await instructor.post(`/api/revisions/${revision}/marks`, note).expect(201);
    expect(await heard(1)).toBe(1);
    await instructor.patch(`/api/marks/${key}`, { words: 'Look there.' }).expect(200);
    expect(await heard(2)).toBe(2);
    await instructor.post(`/api/marks/${key}/replies`, { key: randomUUID(), words: 'And here.' }).expect(201);
    expect(await heard(3)).toBe(3);
    await instructor
      .post(`/api/shots/${shot}/dismissals`, { reading: 'gait.bob', part: null, reason: 'Meant.' })
      .expect((response) => expect(response.status).toBeLessThan(300));
    expect(await heard(4)).toBe(4);
    expect(new Set(stream.events.map((event) => (event as unknown as { shot: string }).shot))).toEqual(new Set([shot]));
  } finally {
    stream.close();
  }
});

test('a worker that starts with another version of the core makes the readings again', async () => {
  const sunniva = await school.as('Sunniva Dahlby');
  const { rows } = await school.database.query(
    `SELECT s.id FROM shots s JOIN people p ON p.id = s.student_id WHERE p.name = 'Sunniva Dahlby'`,
  );
  const shot = rows[0].id as string;
  expect((await sunniva.get(`/api/shots/${shot}`)).body.revisions[0].reading.report).not.toBeNull();
  await school.database.query(
    `UPDATE readings SET core_version = '0.0.1' WHERE revision_id IN (SELECT id FROM revisions WHERE shot_id = $1)`,
    [shot],
  );
  expect((await sunniva.get(`/api/shots/${shot}`)).body.revisions[0].reading.report).toBeNull();
  const worker = startWorker();
  const now = async () => (await sunniva.get(`/api/shots/${shot}`)).body as Shot;
  for (let i = 0; i < 400 && (await now()).revisions[0]!.reading.report === null; i++)
    await new Promise((done) => setTimeout(done, 100));
  await worker.end();
  expect((await reportOf(sunniva, await now(), 0)).readings.length).toBeGreaterThan(10);
});

test('a stream ends with the session it was opened in, and one person has so many and no more', async () => {
  const { rows } = await school.database.query(
    `SELECT r.id, s.student_id AS student FROM revisions r JOIN shots s ON s.id = r.shot_id LIMIT 1`,
  );
  const { port } = school.app.getHttpServer().address() as AddressInfo;
  const base = `http://127.0.0.1:${port}`;
  const json = { ...HEADER, 'content-type': 'application/json' };
  const body = JSON.stringify({ person: rows[0].student });
  const signedIn = await fetch(`${base}/api/demo/session`, { method: 'POST', headers: json, body });
  const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!;
  const opened = await Promise.all(
    Array.from({ length: 14 }, () => fetch(`${base}/api/revisions/${rows[0].id}/events`, { headers: { cookie } })),
  );
  const statuses = opened.map(({ status }) => status);
  expect(statuses.filter((status) => status === 200)).toHaveLength(12);
  expect(statuses.filter((status) => status === 429)).toHaveLength(2);
  await fetch(`${base}/api/session`, { method: 'DELETE', headers: { ...HEADER, cookie } });
  // Each comes to its end: nothing is cut off from here.
  const texts = await Promise.all(opened.filter(({ status }) => status === 200).map((response) => response.text()));
  expect(texts.every((text) => text.includes('event: revision'))).toBe(true);
});

test('a process that is told to end ends, also while its database hangs', async () => {
  const cable = await layCable(school.app.get<Configuration>(CONFIGURATION).DATABASE_URL);
  const worker = startWorker(cable.url);
  try {
    // It is under way once it has taken what waits.
    const { rows } = await school.database.query(
      `UPDATE revisions SET reading_state = 'queued' WHERE id = (SELECT id FROM revisions LIMIT 1) RETURNING id`,
    );
    for (let k = 0, state = 'queued'; k < 1_000 && state === 'queued'; k++) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      const now = await school.database.query('SELECT reading_state AS state FROM revisions WHERE id = $1', [
        rows[0].id,
      ]);
      state = now.rows[0].state as string;
    }
    cable.hang();
    const ended = new Promise((resolve) => worker.process.once('exit', (code) => resolve(`ended with ${code}`)));
    const late = new Promise((resolve) => setTimeout(() => resolve('still there'), 40_000).unref());
    void worker.end();
    // Not by itself: the database lets it say no goodbye.
    expect(await Promise.race([ended, late])).toBe('ended with 1');
  } finally {
    worker.process.kill('SIGKILL');
    cable.end();
  }
});
