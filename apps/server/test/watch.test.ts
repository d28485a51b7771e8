// What is told to whoever watches over the server: that it lives, that it is ready, what it measures of itself, and which request is which.
import { readFileSync } from 'node:fs';
import request from 'supertest';
import type { Shot } from '@ypsigraph/contract/shots';
import { Metrics } from '../src/watch/metrics.ts';
import { nightRound, openSchool, type School, untilRead, walk } from './harness.ts';

let school: School;
beforeAll(async () => void (school = await openSchool({ METRICS_PORT: '0' })));
afterAll(() => school.close());

/** Samples by their name with its labels. Format: Prometheus, *Exposition formats*, text format 0.0.4. */
async function metrics(of = school): Promise<Map<string, number>> {
  const answer = await fetch(`http://127.0.0.1:${of.app.get(Metrics).port}/api/metrics`);
  expect(answer.headers.get('content-type')).toMatch(/^text\/plain; version=0\.0\.4/);
  const samples = new Map<string, number>();
  const known = new Set<string>();
  for (const line of (await answer.text()).trimEnd().split('\n')) {
    const told = /^# (HELP|TYPE) (\w+) /.exec(line);
    if (told) {
      known.add(told[2]!);
      continue;
    }
    const sample = /^(\w+)(\{(?:\w+="(?:[^"\\\n]|\\.)*",?)*\})? (\S+)$/.exec(line);
    if (!sample) {
      expect(line).toBe('');
      continue;
    }
    // Every sample belongs to something that is described.
    expect(known).toContain(sample[1]!.replace(/_(bucket|sum|count)$/, (part) => (known.has(sample[1]!) ? part : '')));
    samples.set(`${sample[1]}${sample[2] ?? ''}`, Number(sample[3]));
  }
  return samples;
}

test('it lives whatever the database does, and is ready while that answers', async () => {
  const server = school.app.getHttpServer();
  expect((await request(server).get('/api/health').expect(200)).body).toMatchObject({ alive: true });
  expect((await request(server).get('/api/ready').expect(200)).body).toMatchObject({ status: 'well', database: true });
});

test('what is answered is counted by route, and nobody’s address is in it', async () => {
  const teacher = await school.as('Ottoline Farrow');
  await teacher.get('/api/docket').expect(200);
  const key = 'ypsigraph_http_request_duration_seconds_count{method="GET",route="/api/docket",status="200"}';
  const before = (await metrics()).get(key)!;
  for (let k = 0; k < 3; k++) await teacher.get('/api/docket').expect(200);
  const after = await metrics();
  expect(after.get(key)! - before).toBe(3);
  await teacher.get('/api/shots/00000000-0000-4000-8000-000000000000').expect(404);
  const names = [...(await metrics()).keys()].join('\n');
  expect(names).toContain('route="/api/shots/:id",status="404"');
  expect(names).not.toMatch(/[0-9a-f]{8}-[0-9a-f]{4}-/);
  expect(after.get('ypsigraph_pool_connections{state="open"}')).toBeGreaterThan(0);
  expect([...after.keys()].find((name) => name.startsWith('ypsigraph_build_info'))).toContain('process="both"');
  expect(after.has('process_resident_memory_bytes')).toBe(true);
});

test('what waits to be read is told with how long it has waited, and how long reading took', async () => {
  // A server that reads nothing itself: what waits there goes on waiting.
  const waits = await openSchool({ METRICS_PORT: '0', PROCESS: 'server' });
  try {
    const { rows } = await waits.database.query(
      `UPDATE revisions SET reading_from = now() - interval '90 seconds' WHERE reading_state = 'queued' RETURNING id`,
    );
    expect(rows.length).toBeGreaterThan(5);
    const told = await metrics(waits);
    expect(told.get('ypsigraph_queue_waiting{kind="measuring"}')).toBe(rows.length);
    expect(Math.abs(told.get('ypsigraph_queue_oldest_seconds{kind="measuring"}')! - 90)).toBeLessThan(30);
    expect(told.get('ypsigraph_queue_waiting{kind="decoding"}')).toBe(0);
  } finally {
    await waits.close();
  }
  const student = await school.as('Quirin Abendroth');
  const { body } = await student.handIn(await nightRound(school, 'Thursday loft'), walk());
  await untilRead(student, body.shot as string);
  expect((await metrics()).get('ypsigraph_reading_duration_seconds_count{kind="motion"}')).toBeGreaterThan(0);
  expect((await metrics()).get('ypsigraph_queue_waiting{kind="mail"}')).toBe(0);
});

test('nothing else is told there, and nothing of it where people are', async () => {
  const { port } = school.app.get(Metrics);
  for (const path of ['/', '/api/docket', '/api/metrics/x'])
    expect((await fetch(`http://127.0.0.1:${port}${path}`)).status).toBe(404);
  expect((await fetch(`http://127.0.0.1:${port}/api/metrics`, { method: 'POST' })).status).toBe(404);
  await request(school.app.getHttpServer()).get('/api/metrics').expect(404);
});

test('a request has a name, its own or the one a proxy gave it, and the reading it asks for has the same', async () => {
  const student = await school.as('Tomasz Wieczor');
  const named = (id: string) => request(school.app.getHttpServer()).get('/api/session').set('x-request-id', id);
  expect((await named('edge:42.a-b')).headers['x-request-id']).toBe('edge:42.a-b');
  for (const wrong of ['x'.repeat(81), 'a b', '"quoted"'])
    expect((await named(wrong)).headers['x-request-id']).toMatch(/^[0-9a-f-]{36}$/);
  const answer = await student.handIn(await nightRound(school, 'Thursday loft'), walk({ slide: 2 }));
  const id = answer.headers['x-request-id'] as string;
  expect(id).toMatch(/^[0-9a-f-]{36}$/);
  const shot: Shot = await untilRead(student, answer.body.shot as string);
  const asked = async (): Promise<string> =>
    (await school.database.query('SELECT reading_request FROM revisions WHERE id = $1', [shot.revisions.at(-1)!.id]))
      .rows[0].reading_request as string;
  expect(await asked()).toBe(id);
  // Corrected, it is read anew, as another request has asked.
  const corrected = await student
    .patch(`/api/revisions/${shot.revisions.at(-1)!.id}`, { firstFrame: 101, loop: 'repeat', roles: {} })
    .expect(200);
  expect(await asked()).toBe(corrected.headers['x-request-id']);
});

test('the rules to begin with ask for what is told', async () => {
  const rules = readFileSync(`${__dirname}/../../../deploy/alerts.yml`, 'utf8');
  const told = [...(await metrics()).keys()].join('\n');
  for (const [name] of rules.matchAll(/ypsigraph_\w+/g)) expect([name, told.includes(name)]).toEqual([name, true]);
  expect([...rules.matchAll(/ypsigraph_\w+/g)].length).toBeGreaterThan(5);
});
