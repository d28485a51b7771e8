// Who did what is written down: once it is done, with the names of then, for instructors, and for as long as the school says.
import request from 'supertest';
import { Audit } from '@ypsigraph/contract/audit';
import { AuditService } from '../src/audit/audit.service.ts';
import { carryOut, type Machines, machines } from './machine.ts';
import { HEADER, openSchool, type School, shotOf } from './harness.ts';

let school: School;
let all: Machines;
beforeAll(async () => {
  [school, all] = [await openSchool({ PROCESS: 'server', AUDIT_DAYS: '30' }, 'read'), await machines()];
});
afterAll(async () => {
  await school.close();
  await all.end();
});

const told = async (query = ''): Promise<string[]> => {
  const ottoline = await school.as('Ottoline Farrow');
  const { body } = await ottoline.get(`/api/audit${query}`).expect(200);
  return Audit.parse(body).entries.map(({ who, did, about }) => [who, did, about].filter(Boolean).join(' '));
};
const monday = async (): Promise<string> =>
  (await school.database.query(`SELECT id FROM cohorts WHERE name = 'Monday loft'`)).rows[0].id as string;

test('sign-ins, those refused as well, and none of an address that nobody has', async () => {
  const agent = request.agent(school.app.getHttpServer());
  const wrong = (email: string) =>
    agent.post('/api/session').set(HEADER).send({ email, password: 'not this one' }).expect(401);
  await wrong('Farid.Qasemi@saltwick.example');
  await wrong('nobody@elsewhere.example');
  const jomo = await school.as('Jomo Wanyama');
  await jomo.delete('/api/session').expect(200);
  const said = await told('?kind=sign-in');
  expect(said.slice(0, 4)).toEqual([
    'Ottoline Farrow signed in with one click',
    'Jomo Wanyama signed out',
    'Jomo Wanyama signed in with one click',
    'Farid Qasemi was refused at signing in',
  ]);
  expect(JSON.stringify(said)).not.toMatch(/elsewhere|not this one/);
});

test('of one who was signed in, and types another’s address wrongly, it is said whose address it was', async () => {
  const baraka = await school.as('Baraka Lundqvist');
  await baraka.post('/api/session', { email: 'jomo.wanyama@saltwick.example', password: 'not this one' }).expect(401);
  expect((await told('?kind=sign-in'))[1]).toBe('Jomo Wanyama was refused at signing in');
});

test('roles, exports and deletions, with what they were about', async () => {
  const ottoline = await school.as('Ottoline Farrow');
  const cohort = await monday();
  await ottoline
    .post(`/api/cohorts/${cohort}/roster`, {
      text: 'Wren Halloran, wren.halloran@saltwick.example',
      role: 'student',
      sure: true,
    })
    .expect((answer) => expect([200, 400, 422]).toContain(answer.status));
  await ottoline.get(`/api/cohorts/${cohort}/grades`).expect(200);
  await ottoline.post(`/api/cohorts/${cohort}/ledger/exported`).expect(200);
  const shot = await shotOf(school, 'Emeka Brightwater');
  const { rows } = await school.database.query(
    `SELECT m.id, r.number FROM marks m JOIN revisions r ON r.id = m.revision_id WHERE r.shot_id = $1 AND m.archived_at IS NULL AND m.sent_at IS NULL LIMIT 1`,
    [shot],
  );
  const mark =
    rows[0] ??
    (
      await school.database.query(
        `INSERT INTO marks (id, revision_id, author_id, kind, from_frame, to_frame, words, stage)
           SELECT gen_random_uuid(), r.id, p.id, 'note', 1, 2, 'Lower.', r.stage FROM revisions r, people p
            WHERE r.shot_id = $1 AND p.name = 'Ottoline Farrow' ORDER BY r.number DESC LIMIT 1 RETURNING id`,
        [shot],
      )
    ).rows[0];
  await ottoline.delete(`/api/marks/${mark.id}`).expect(200);
  const exports = await told('?kind=export');
  expect(exports.slice(0, 2)).toEqual([
    'Ottoline Farrow took away the ledger of Monday loft',
    'Ottoline Farrow took away the grades of Monday loft',
  ]);
  const [deleted] = await told('?kind=deletion');
  expect(deleted).toMatch(/^Ottoline Farrow deleted a mark on Emeka Brightwater, Night round, R\d$/);
});

test('nothing of what was refused, and no ledger of another’s cohort', async () => {
  const before = await told('?kind=export');
  const jomo = await school.as('Jomo Wanyama');
  await jomo.post(`/api/cohorts/${await monday()}/ledger/exported`).expect(403);
  expect(await told('?kind=export')).toEqual(before);
});

test('it is for instructors alone, comes in pages, and goes when it is older than it is kept', async () => {
  for (const name of ['Baraka Lundqvist', 'Jomo Wanyama']) await (await school.as(name)).get('/api/audit').expect(403);
  await school.database.query(
    `INSERT INTO audit (kind, who, did, at) SELECT 'roles', 'Ottoline Farrow', 'counted ' || k, now() - interval '1 hour' * (200 - k) FROM generate_series(1, 130) k`,
  );
  const ottoline = await school.as('Ottoline Farrow');
  const seen: string[] = [];
  for (let after = ''; ;) {
    const { body } = await ottoline.get(`/api/audit?kind=roles${after}`).expect(200);
    const { entries, next, days } = Audit.parse(body);
    expect(days).toBe(30);
    seen.push(...entries.map(({ did }) => did));
    if (next === null) break;
    after = `&after=${next}`;
  }
  const counted = seen.filter((did) => did.startsWith('counted '));
  expect(counted).toEqual(Array.from({ length: 130 }, (_, k) => `counted ${130 - k}`));
  await ottoline.get('/api/audit?after=x').expect(400);
  await school.database.query(`UPDATE audit SET at = now() - interval '31 days' WHERE did = 'counted 1'`);
  await school.app.get(AuditService).forget();
  const { rows } = await school.database.query(`SELECT did FROM audit WHERE did IN ('counted 1', 'counted 2')`);
  expect(rows).toEqual([{ did: 'counted 2' }]);
});

test('the command line is written down as well', async () => {
  const machine = await all.empty('audited');
  await carryOut(machine, 'add-cohort', 'Saltwick evening');
  await carryOut(machine, 'add-person', 'Farid Qasemi', 'farid@saltwick.example', '--role', 'student');
  await carryOut(machine, 'archive', 'farid@saltwick.example');
  const pg = await import('pg');
  const client = new pg.default.Client({ connectionString: machine.DATABASE_URL });
  await client.connect();
  const { rows } = await client.query('SELECT who, did, about FROM audit ORDER BY id');
  await client.end();
  expect(rows).toEqual([
    { who: 'The command line', did: 'added', about: 'Farid Qasemi, farid@saltwick.example' },
    { who: 'The command line', did: 'took out', about: 'farid@saltwick.example' },
  ]);
});
