// A real school from nothing: the first people come in by invitations, and what they made is restored into an empty machine.
import { randomUUID } from 'node:crypto';
import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import request from 'supertest';
import type { Shot } from '@ypsigraph/contract/shots';
import { runAdmin } from '../src/admin/admin.ts';
import { createApplication } from '../src/application.ts';
import { readConfiguration } from '../src/config.ts';
import { HEADER, untilRead, type Visitor, walk } from './harness.ts';

const base = process.env.TEST_DATABASE_URL!;
let admin: pg.Client;
let folder: string;
const made: string[] = [];
beforeAll(async () => {
  admin = new pg.Client({ connectionString: base });
  await admin.connect();
  folder = await mkdtemp(join(tmpdir(), 'ypsigraph-admin-'));
});
afterAll(async () => {
  for (const name of made) await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
  await admin.end();
  await rm(folder, { recursive: true, force: true });
});

/** A machine with nothing on it. */
async function emptyMachine(name: string): Promise<Record<string, string>> {
  const database = `machine_${randomUUID().replaceAll('-', '')}`;
  await admin.query(`CREATE DATABASE ${database}`);
  made.push(database);
  const url = new URL(base);
  url.pathname = `/${database}`;
  const secret = 'only for tests, on the loopback, thrown away';
  return { DATABASE_URL: url.href, FILES_DIR: join(folder, name), SESSION_SECRET: secret, LOG_LEVEL: 'silent' };
}

async function run(environment: Record<string, string>, ...args: string[]): Promise<{ code: number; said: string }> {
  const lines: string[] = [];
  const spies = (['log', 'error'] as const).map((name) =>
    jest.spyOn(console, name).mockImplementation((...args: unknown[]) => void lines.push(String(args[0]))),
  );
  try {
    return { code: await runAdmin(args, environment), said: lines.join('\n') };
  } finally {
    for (const spy of spies) spy.mockRestore();
  }
}

/** Somebody who takes their invitation, in a browser of their own. */
async function takes(server: unknown, invitation: string): Promise<Visitor> {
  const agent = request.agent(server as never);
  const token = invitation.trim().split('/').at(-1)!;
  await agent.post(`/api/invitations/${token}`).set(HEADER).send({ password: 'harbour lights 47' }).expect(200);
  return {
    get: (path) => agent.get(path),
    post: (path, body) => agent.post(path).set(HEADER).send(body),
    patch: (path, body) => agent.patch(path).set(HEADER).send(body),
    delete: (path) => agent.delete(path).set(HEADER),
    handIn: async (assignment, file) =>
      agent
        .post(`/api/assignments/${assignment}/revisions`)
        .set(HEADER)
        .field('stage', 'smoothing')
        .attach('file', Buffer.from(file), 'walk.bvh'),
  };
}

test('from an empty machine to a shot that is sent back; backed up, and restored on another', async () => {
  const machine = await emptyMachine('first');
  expect(await run(machine, 'add-cohort', 'Saltwick evening')).toMatchObject({ code: 0 });
  const teaches = await run(
    machine,
    'add-person',
    'Ottoline Farrow',
    'ottoline@saltwick.example',
    '--role',
    'instructor',
    '--cohort',
    'Saltwick evening',
    '--address',
    'https://desk.saltwick.example/',
  );
  expect(teaches.said).toMatch(/https:\/\/desk\.saltwick\.example\/invitation\/[\w-]{32}$/);
  const learns = await run(
    machine,
    'add-person',
    'Farid Qasemi',
    'farid@saltwick.example',
    '--role',
    'student',
    '--cohort',
    'Saltwick evening',
  );
  await run(machine, 'add-brief', 'Night round', '--kind', 'walk', '--loop', 'repeat', '--frames', '24');

  const app = await createApplication(readConfiguration(machine));
  await app.listen(0, '127.0.0.1');
  let words: string;
  try {
    const instructor = await takes(app.getHttpServer(), teaches.said);
    const [cohort] = (await instructor.get('/api/cohorts').expect(200)).body;
    const [brief] = (await instructor.get('/api/briefs').expect(200)).body;
    const due = new Date(Date.now() + 1e8).toISOString();
    const set = await instructor.post('/api/assignments', { brief: brief.id, cohort: cohort.id, due }).expect(201);
    const student = await takes(app.getHttpServer(), learns.said);
    const handed = await student.handIn(set.body.id, walk({ pop: 26 }));
    expect(handed.status).toBe(201);
    const shot = await untilRead(instructor, handed.body.shot);
    expect(shot.revisions[0]!.reading.state).toBe('read');
    words = 'Mind the hand at 9.';
    await instructor.post(`/api/revisions/${handed.body.revision}/send-back`, { words, asked: '' }).expect(200);
    expect(await run(machine, 'backup', join(folder, 'backup'))).toMatchObject({ code: 0 });
  } finally {
    await app.close();
  }

  const second = await emptyMachine('second');
  expect(await run(second, 'restore', join(folder, 'backup'))).toMatchObject({ code: 0 });
  const again = await createApplication(readConfiguration(second));
  await again.listen(0, '127.0.0.1');
  try {
    const agent = request.agent(again.getHttpServer());
    const known = { email: 'farid@saltwick.example', password: 'harbour lights 47' };
    await agent.post('/api/session').set(HEADER).send(known).expect(200);
    const [entry] = (await agent.get('/api/worksheet').expect(200)).body;
    const shot = (await agent.get(`/api/shots/${entry.shot}`).expect(200)).body as Shot;
    expect(shot.revisions[0]).toMatchObject({ state: 'sent back', words });
    const file = await agent.get(`/api/revisions/${shot.revisions[0]!.id}/file`).buffer(true).expect(200);
    expect(String(file.body)).toBe(walk({ pop: 26 }));
  } finally {
    await again.close();
  }
  // Not over what is there.
  const over = await run(second, 'restore', join(folder, 'backup'));
  expect(over).toEqual({ code: 1, said: expect.stringContaining('not empty') });
});

test('a backup that would not be whole is not made', async () => {
  const machine = await emptyMachine('broken');
  await run(machine, 'add-cohort', 'Saltwick evening');
  const client = new pg.Client({ connectionString: machine.DATABASE_URL });
  await client.connect();
  await client.query(`
    WITH p AS (INSERT INTO people (name, email, role, password_hash) VALUES ('Farid', 'f@saltwick.example', 'student', '-') RETURNING id),
         b AS (INSERT INTO briefs (title, kind) VALUES ('Night round', 'walk') RETURNING id),
         a AS (INSERT INTO assignments (brief_id, cohort_id, due_at, created_by) SELECT b.id, c.id, now(), p.id FROM b, p, cohorts c RETURNING id),
         s AS (INSERT INTO shots (assignment_id, student_id) SELECT a.id, p.id FROM a, p RETURNING id),
         f AS (INSERT INTO files (sha256, bytes) VALUES (repeat('a', 64), 3) RETURNING sha256)
    INSERT INTO revisions (shot_id, number, stage, file_sha256, file_name) SELECT s.id, 1, 'polish', f.sha256, 'x' FROM s, f`);
  await client.end();
  const missing = await run(machine, 'backup', join(folder, 'half'));
  expect(missing).toEqual({ code: 1, said: expect.stringContaining('missing') });
  expect(await readdir(folder)).not.toContain('half');
  const none = await run(machine, 'restore', join(folder, 'half'));
  expect(none).toEqual({ code: 1, said: expect.stringContaining('no whole backup') });
});

test.each([
  [[], 2, /Usage/],
  [['frobnicate'], 2, /no command “frobnicate”/],
  [['add-person', 'Farid'], 2, /needs an e-mail address/],
  [['add-person', 'Farid', 'nonsense', '--role', 'student'], 2, /email: an e-mail address is needed/],
  [['add-person', 'Farid', 'f@saltwick.example', '--role', 'pirate'], 2, /role/],
  [['invite', 'nobody@saltwick.example'], 1, /nobody has the address/],
  [['enrol', 'nobody@saltwick.example', 'x'], 1, /nobody has the address/],
  [['add-person', 'Farid', 'f@saltwick.example', '--role', 'student', '--cohort', 'Nowhere'], 1, /no cohort “Nowhere”/],
] as const)('%j is answered in words', async (args, code, said) => {
  const machine = await emptyMachine('words');
  await writeFile(join(folder, 'x'), '');
  const answer = await run(machine, ...args);
  expect([answer.code, answer.said]).toEqual([code, expect.stringMatching(said)]);
});
