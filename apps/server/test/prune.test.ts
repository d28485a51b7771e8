// What nobody looks at once a term is over goes; what counts stays, and what went comes back when it is wanted.
import { Shot } from '@ypsigraph/contract/shots';
import { prune } from '../src/admin/prune.ts';
import { type Configuration, readConfiguration } from '../src/config.ts';
import { openSchool, type School, untilRead } from './harness.ts';

let school: School;
let configuration: Configuration;
beforeAll(async () => {
  school = await openSchool();
  const { host, port, user, password, database } = school.database as unknown as Record<string, string>;
  configuration = readConfiguration({
    DATABASE_URL: `postgres://${user}:${password}@${host}:${port}/${database}`,
    FILES_DIR: school.files,
    SESSION_SECRET: 'only for tests, on the loopback, thrown away',
  });
});
afterAll(() => school.close());

const rows = async <T extends object>(sql: string, bind: unknown[] = []): Promise<T[]> =>
  (await school.database.query(sql, bind)).rows as T[];
const DAY = '2020-06-01';

test('a day that is none, or lies ahead, is refused in words', async () => {
  await expect(prune(configuration, 'June')).rejects.toThrow(/first day that is kept/);
  await expect(prune(configuration, '2999-01-01')).rejects.toThrow(/lies ahead/);
});

test('of a term that is over the newest readings, verdicts, marks and words stay, and ledger, folio and tally are as they were', async () => {
  // Amara’s shot has several revisions, and waits for nobody.
  const [shot] = await rows<{ id: string; assignment: string; cohort: string; student: string }>(
    `SELECT s.id, a.id AS assignment, a.cohort_id AS cohort, s.student_id AS student FROM shots s JOIN people p ON p.id = s.student_id
       JOIN assignments a ON a.id = s.assignment_id JOIN revisions r ON r.shot_id = s.id
      WHERE p.name = 'Amara Oyelaran' GROUP BY s.id, a.id HAVING count(*) > 1 ORDER BY count(*) DESC LIMIT 1`,
  );
  await rows(`UPDATE assignments SET due_at = '2020-01-01' WHERE id = $1`, [shot!.assignment]);
  await rows(
    `UPDATE revisions SET state = 'sent back', words = 'Again.', judged_at = now() WHERE shot_id = $1 AND state IN ('handed in', 'on the desk')`,
    [shot!.id],
  );
  await rows(
    `INSERT INTO readings (revision_id, core_version, report, made_at) SELECT revision_id, '0.0.1', report, made_at - interval '1 year' FROM readings`,
  );
  const count = async (sql: string): Promise<number> =>
    (await rows<{ n: number }>(`SELECT count(*)::int AS n FROM ${sql}`))[0]!.n;
  const ottoline = await school.as('Ottoline Farrow');
  const pages = async (): Promise<string> =>
    JSON.stringify(
      await Promise.all(
        [
          `/api/cohorts/${shot!.cohort}/ledger`,
          `/api/cohorts/${shot!.cohort}/tally`,
          `/api/people/${shot!.student}/folio?cohort=${shot!.cohort}`,
        ].map(async (path) => (await ottoline.get(path).expect(200)).body as unknown),
      ),
    );
  const before = await pages();
  const [marks, verdicts, waiting] = [
    await count('marks'),
    await count('verdicts'),
    await count(
      `readings d JOIN revisions r ON r.id = d.revision_id WHERE r.state IN ('handed in', 'on the desk') AND d.core_version <> '0.0.1'`,
    ),
  ];
  const told = await prune(configuration, DAY);
  expect(told).toMatch(
    /[1-9]\d* readings by earlier versions of the core\n[1-9]\d* readings of revisions that another followed/,
  );
  expect(await count(`readings WHERE core_version = '0.0.1'`)).toBe(0);
  expect(await pages()).toBe(before);
  expect([await count('marks'), await count('verdicts')]).toEqual([marks, verdicts]);
  // Of exercises that were due since, nothing went.
  expect(
    await count(`readings d JOIN revisions r ON r.id = d.revision_id WHERE r.state IN ('handed in', 'on the desk')`),
  ).toBe(waiting);
  const { revisions } = Shot.parse((await ottoline.get(`/api/shots/${shot!.id}`).expect(200)).body);
  expect(revisions.at(-1)!.reading.state).toBe('read');
  const [first] = revisions;
  expect(first!.reading).toMatchObject({ state: 'failed', reason: expect.stringContaining('its term was over') });
  // Done again it finds nothing.
  expect(await prune(configuration, DAY)).toMatch(/^0 readings.*\n0 readings/);
  // Whoever wants them has them back.
  await ottoline.post(`/api/revisions/${first!.id}/read-again`).expect(200);
  for (let k = 0; k < 100; k++) {
    const read = Shot.parse((await ottoline.get(`/api/shots/${shot!.id}`)).body).revisions[0]!.reading.state;
    if (read === 'read') break;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  await untilRead(ottoline, shot!.id);
  await ottoline.get(`/api/revisions/${first!.id}/report`).expect(200);
});
