// A real school from nothing: the first people come in by invitations, and what they made is restored into an empty machine.
import { readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import pg from 'pg';
import request from 'supertest';
import type { Shot } from '@ypsigraph/contract/shots';
import { createApplication } from '../src/application.ts';
import { readConfiguration } from '../src/config.ts';
import { carryOut, type Machines, machines } from './machine.ts';
import { HEADER, untilRead, type Visitor, walk } from './harness.ts';

let all: Machines;
beforeAll(async () => void (all = await machines()));
afterAll(() => all.end());

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
  const machine = await all.empty('first');
  expect(await carryOut(machine, 'add-cohort', 'Saltwick evening')).toMatchObject({ code: 0 });
  const teaches = await carryOut(
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
  const learns = await carryOut(
    machine,
    'add-person',
    'Farid Qasemi',
    'farid@saltwick.example',
    '--role',
    'student',
    '--cohort',
    'Saltwick evening',
  );
  await carryOut(machine, 'add-brief', 'Night round', '--kind', 'walk', '--loop', 'repeat', '--frames', '24');

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
    expect(await carryOut(machine, 'backup', join(all.folder, 'backup'))).toMatchObject({ code: 0 });
  } finally {
    await app.close();
  }

  const second = await all.empty('second');
  expect(await carryOut(second, 'restore', join(all.folder, 'backup'))).toMatchObject({ code: 0 });
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
  const over = await carryOut(second, 'restore', join(all.folder, 'backup'));
  expect(over).toEqual({ code: 1, said: expect.stringContaining('not empty') });
});

test('a backup that would not be whole is not made', async () => {
  const machine = await all.empty('broken');
  await carryOut(machine, 'add-cohort', 'Saltwick evening');
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
  const missing = await carryOut(machine, 'backup', join(all.folder, 'half'));
  expect(missing).toEqual({ code: 1, said: expect.stringContaining('missing') });
  expect(await readdir(all.folder)).not.toContain('half');
  const none = await carryOut(machine, 'restore', join(all.folder, 'half'));
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
  const machine = await all.empty('words');
  await writeFile(join(all.folder, 'x'), '');
  const answer = await carryOut(machine, ...args);
  expect([answer.code, answer.said]).toEqual([code, expect.stringMatching(said)]);
});
