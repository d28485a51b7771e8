// What a school runs on that has outgrown one machine: a read replica that may be behind or away, and a pooler that takes connections back.
import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { type Pooler, type Replica, startPooler, startReplica } from '../../../scripts/lib/services.mjs';
import { Database } from '../src/database/database.module.ts';
import { isBehind } from '../src/database/read-replica.ts';
import { ChangeFeed } from '../src/news/change-feed.ts';
import { type Cable, layCable } from './cable.ts';
import { nightRound, openSchool, type School, shotOf, untilRead, type Visitor, walk } from './harness.ts';

const ROOT = join(__dirname, '../../..');
const on = (server: string, database: string): string => {
  const url = new URL(server);
  url.pathname = `/${database}`;
  return url.href;
};

const until = async (holds: () => boolean | Promise<boolean>): Promise<void> => {
  for (let k = 0; k < 100 && !(await holds()); k++) await new Promise((resolve) => setTimeout(resolve, 100));
};

test('positions in the log are told apart by their numbers, not by their letters', () => {
  expect(isBehind('0/9FFFFFF', '0/A000000')).toBe(true);
  expect(isBehind('9/0', '10/0')).toBe(true);
  expect(isBehind('1/0', '0/FFFFFFFF')).toBe(false);
  expect(isBehind('1/A', '1/A')).toBe(false);
});

describe('a read replica', () => {
  let replica: Replica;
  let school: School;
  beforeAll(async () => {
    replica = await startReplica(ROOT, process.env.TEST_DATABASE_URL!, `test-replica-${process.pid}`);
    school = await openSchool((database) => ({ DATABASE_READ_URL: on(replica.url, database) }));
  });
  afterAll(async () => {
    // Its connections go before it does.
    await school.close();
    await replica.end();
  });
  const counts = () => ({ ...school.app.get(Database).replica!.counts });
  const ledger = async (who: Visitor, cohort: string): Promise<string> =>
    JSON.stringify((await who.get(`/api/cohorts/${cohort}/ledger`).expect(200)).body);
  const monday = async (): Promise<string> =>
    (await school.database.query(`SELECT id FROM cohorts WHERE name = 'Monday loft'`)).rows[0].id as string;
  /** Until it has caught up: lists are read there again. */
  const caughtUp = async (who: Visitor): Promise<void> => {
    const { read } = counts();
    await until(async () => (await ledger(who, await monday())) !== '' && counts().read > read);
  };

  test('gives lists, of which whoever has just written sees their own part', async () => {
    const ottoline = await school.as('Ottoline Farrow');
    await caughtUp(ottoline);
    const { rows } = await school.database.query(
      `SELECT r.id FROM revisions r JOIN shots s ON s.id = r.shot_id JOIN assignments a ON a.id = s.assignment_id
        WHERE a.cohort_id = $1 AND r.state = 'handed in' AND r.reading_state = 'read' LIMIT 3`,
      [await monday()],
    );
    for (const { id } of rows as { id: string }[]) {
      await ottoline.post(`/api/revisions/${id}/desk`).expect(200);
      const [row] = JSON.parse(await ledger(ottoline, await monday())).rows.flatMap(
        (own: { cells: { revision: { id: string; state: string } | null }[] }) =>
          own.cells.filter(({ revision }) => revision?.id === id),
      );
      expect(row.revision.state).toBe('on the desk');
    }
    expect(rows.length).toBeGreaterThan(0);
  });

  test('that is paused is behind: whoever has written, at this server or another, and whoever was told of it, is answered by the primary', async () => {
    const ottoline = await school.as('Ottoline Farrow');
    await caughtUp(ottoline);
    await replica.pause();
    try {
      const before = await ledger(ottoline, await monday());
      const jomo = await school.as('Jomo Wanyama');
      const handed = await jomo.handIn(await nightRound(school, 'Monday loft'), walk({ slide: 2 }));
      expect(handed.status).toBe(201);
      // She was told of it by an event, and looks.
      await until(async () => (await ledger(ottoline, await monday())) !== before);
      expect(await ledger(ottoline, await monday())).not.toBe(before);
      expect(counts().behind).toBeGreaterThan(0);
    } finally {
      await replica.resume();
    }
    await caughtUp(ottoline);
  });

  test('that drops a connection while it is asked takes no server with it: the primary answers', async () => {
    const database = school.app.get(Database);
    await caughtUp(await school.as('Ottoline Farrow'));
    const asked = database.list<{ slept: string }>('SELECT pg_sleep(3)::text AS slept', []);
    const there = new pg.Client({ connectionString: replica.url });
    await there.connect();
    try {
      await until(async () => {
        const { rowCount } = await there.query(
          `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE query LIKE 'SELECT pg_sleep%' AND pid <> pg_backend_pid()`,
        );
        return rowCount === 1;
      });
    } finally {
      await there.end();
    }
    const { away } = counts();
    expect(await asked).toHaveLength(1);
    expect(away).toBeGreaterThan(0);
  });

  test('that is gone is not waited for: lists come from the primary', async () => {
    const ottoline = await school.as('Ottoline Farrow');
    await caughtUp(ottoline);
    await replica.end();
    for (let k = 0; k < 3; k++) expect(await ledger(ottoline, await monday())).toContain('Night round');
    expect(counts().away).toBeGreaterThan(1);
  });
});

describe('a primary that is away', () => {
  let replica: Replica;
  let school: School;
  let cable: Cable;
  beforeAll(async () => {
    cable = await layCable(process.env.TEST_DATABASE_URL!);
    replica = await startReplica(ROOT, process.env.TEST_DATABASE_URL!, `test-replica-${process.pid}`);
    school = await openSchool((database) => ({
      DATABASE_URL: on(cable.url, database),
      DATABASE_READ_URL: on(replica.url, database),
    }));
  });
  afterAll(async () => {
    cable.mend();
    await school.close();
    await replica.end();
    cable.end();
  });
  afterEach(async () => {
    cable.mend();
    await until(() => !school.app.get(Database).primaryIsAway.value);
  });
  const newPhrase = () => ({ key: randomUUID(), kind: 'note', words: `written just now ${randomUUID()}` });
  const PAGES = (shot: string) => ['/api/docket', `/api/shots/${shot}`, '/api/briefs', '/api/phrases', '/api/session'];

  test.each([
    ['that died', () => cable.refuse()],
    ['whose cable was cut', () => cable.hang()],
  ])('%s: every page can be looked at, with the session as it was', async (_, leave) => {
    const ottoline = await school.as('Ottoline Farrow');
    const shot = await shotOf(school, 'Chiyo Tanabe');
    const before: object[] = [];
    for (const page of PAGES(shot)) before.push((await ottoline.get(page).expect(200)).body);
    leave();
    for (const [k, page] of PAGES(shot).entries())
      expect((await ottoline.get(page).expect(200)).body).toEqual(before[k]);
    expect((await ottoline.get('/api/ready').expect(200)).body).toMatchObject({
      database: false,
      status: 'the database does not answer, pages are read from its replica',
    });
  });

  test('refuses what would change something for now; it goes through when the primary is back', async () => {
    const ottoline = await school.as('Ottoline Farrow');
    cable.refuse();
    const phrase = newPhrase();
    await ottoline.post('/api/phrases', phrase).expect(503);
    cable.mend();
    await until(() => !school.app.get(Database).primaryIsAway.value);
    await ottoline.post('/api/phrases', phrase).expect(201);
    expect((await ottoline.get('/api/ready').expect(200)).body).toMatchObject({ database: true, status: 'well' });
    expect(JSON.stringify((await ottoline.get('/api/phrases').expect(200)).body)).toContain(phrase.words);
  });

  test('with a replica that lacks what somebody has written: they wait for it, and are not shown less', async () => {
    const ottoline = await school.as('Ottoline Farrow');
    await ottoline.get('/api/phrases').expect(200);
    await replica.pause();
    const phrase = newPhrase();
    try {
      await ottoline.post('/api/phrases', phrase).expect(201);
      cable.refuse();
      await ottoline.get('/api/phrases').expect(503);
    } finally {
      cable.mend();
      await replica.resume();
    }
    await until(() => !school.app.get(Database).primaryIsAway.value);
    expect(JSON.stringify((await ottoline.get('/api/phrases').expect(200)).body)).toContain(phrase.words);
  });
});

describe('behind a pooler in transaction mode', () => {
  let pooler: Pooler;
  let school: School;
  let folder: string;
  beforeAll(async () => {
    // PostgreSQL's own account must get there.
    folder = join(tmpdir(), `ypsigraph-pooler-${process.pid}`);
    const base = process.env.TEST_DATABASE_URL!;
    pooler = await startPooler(ROOT, base, folder);
    school = await openSchool((database) => ({
      DATABASE_URL: on(pooler.url, database),
      DATABASE_DIRECT_URL: on(base, database),
    }));
  });
  afterAll(async () => {
    await school.close();
    await pooler.end();
    await rm(folder, { recursive: true, force: true });
  });

  test('a shot is handed in, read, told of, sent back: sessions, locks, queue and notifications work', async () => {
    const rosalind = await school.as('Rosalind Okafor').catch(() => school.as('Jomo Wanyama'));
    const assignment = await nightRound(school, 'Monday loft');
    const told: string[] = [];
    const handed = await rosalind.handIn(assignment, walk({ slide: 2 }));
    expect(handed.status).toBe(201);
    const { shot, revision } = handed.body as { shot: string; revision: string };
    const listening = school.app
      .get(ChangeFeed)
      .of(revision)
      .subscribe(({ reading }) => told.push(reading));
    const read = await untilRead(rosalind, shot);
    expect(read.revisions.at(-1)!.reading.state).toBe('read');
    for (let k = 0; k < 50 && !told.includes('read'); k++) await new Promise((resolve) => setTimeout(resolve, 100));
    listening.unsubscribe();
    expect(told).toContain('read');
    const ottoline = await school.as('Ottoline Farrow');
    await ottoline
      .post(`/api/revisions/${revision}/send-back`, { words: 'Once more.', asked: 'The feet.' })
      .expect((answer) => expect([200, 400]).toContain(answer.status));
  });

  test('many at once share few connections', async () => {
    const ottoline = await school.as('Ottoline Farrow');
    const shot = await shotOf(school, 'Chiyo Tanabe');
    const answers = await Promise.all(Array.from({ length: 40 }, () => ottoline.get(`/api/shots/${shot}`)));
    expect(new Set(answers.map(({ status }) => status))).toEqual(new Set([200]));
  });
});
