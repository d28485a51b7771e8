// The files and words of a student who has left are deleted after the time that the school sets; what is counted stays.
import { ForgettingService } from '../src/people/forgetting.service.ts';
import { FileSweeper } from '../src/files/file-sweeper.ts';
import { openSchool, type School } from './harness.ts';

let school: School;
beforeAll(async () => {
  school = await openSchool({ FORGET_DAYS: '90' }, 'read');
});
afterAll(() => school.close());

const rows = async <T extends object>(sql: string, bind: unknown[] = []): Promise<T[]> =>
  (await school.database.query(sql, bind)).rows as T[];

/** Everything that the database holds, a line a row. */
async function everything(): Promise<string> {
  const tables = await rows<{ name: string }>(
    `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'public' AND table_type = 'BASE TABLE' AND table_name <> 'made_files'`,
  );
  const lines: string[] = [];
  for (const { name } of tables)
    lines.push(
      ...(await rows<{ line: string }>(`SELECT to_jsonb(t)::text AS line FROM "${name}" t`)).map(({ line }) => line),
    );
  return lines.join('\n');
}

const SAID = {
  note: 'The left heel is my worry of the week.',
  reply: 'I thought the heel was flat by then.',
  asked: 'Heel first, and tell me where it lies flat.',
};

test('nothing that a student wrote, was told or handed in is left; ledger and tally count as before, and others’ shots stay', async () => {
  const [own] = await rows<{ id: string; email: string; shot: string; revision: string; cohort: string; sha: string }>(
    `SELECT p.id, p.email, s.id AS shot, r.id AS revision, a.cohort_id AS cohort, r.file_sha256 AS sha FROM people p JOIN shots s ON s.student_id = p.id
       JOIN assignments a ON a.id = s.assignment_id JOIN revisions r ON r.shot_id = s.id JOIN marks m ON m.revision_id = r.id AND m.sent_at IS NOT NULL
      WHERE p.name = 'Amara Oyelaran' ORDER BY r.number LIMIT 1`,
  );
  await rows('UPDATE revisions SET note = $2, asked = $3 WHERE id = $1', [own!.revision, SAID.note, SAID.asked]);
  const amara = await school.as('Amara Oyelaran');
  const [mark] = await rows<{ id: string; words: string }>(
    'SELECT id, words FROM marks WHERE revision_id = $1 AND sent_at IS NOT NULL LIMIT 1',
    [own!.revision],
  );
  await rows('INSERT INTO replies (id, mark_id, author_id, words) VALUES (gen_random_uuid(), $1, $2, $3)', [
    mark!.id,
    own!.id,
    SAID.reply,
  ]);
  const written = [...Object.values(SAID), mark!.words, 'Amara Oyelaran', own!.email];
  const before = await everything();
  for (const words of written) expect(before).toContain(words);

  const ottoline = await school.as('Ottoline Farrow');
  const counted = async (): Promise<unknown> => {
    const { body: tally } = await ottoline.get(`/api/cohorts/${own!.cohort}/tally`).expect(200);
    const { body: ledger } = await ottoline.get(`/api/cohorts/${own!.cohort}/ledger`).expect(200);
    const marks = await rows('SELECT kind, state, stage, count(*) FROM marks GROUP BY 1, 2, 3 ORDER BY 1, 2, 3');
    const verdicts = await rows('SELECT count(*) FROM verdicts');
    const pages = JSON.stringify({ tally, ledger }).replaceAll('Amara Oyelaran', 'A former student');
    return { pages, marks, verdicts };
  };
  await rows("UPDATE people SET archived_at = now() - interval '89 days' WHERE id = $1", [own!.id]);
  const then = await counted();
  const forgetting = school.app.get(ForgettingService);
  expect(await forgetting.forgetThoseWhoLeft()).toBe(0);
  await rows("UPDATE people SET archived_at = now() - interval '91 days' WHERE id = $1", [own!.id]);
  expect(await forgetting.forgetThoseWhoLeft()).toBe(1);
  expect(await forgetting.forgetThoseWhoLeft()).toBe(0);

  const after = await everything();
  for (const words of written) expect(after).not.toContain(words);
  expect(after).toContain('deleted the files and words of');
  expect(await counted()).toEqual(then);

  // Their file goes with the next sweep, everybody else's stays.
  const sweeper = school.app.get(FileSweeper);
  await sweeper.sweep(Date.now() + 7_200_000);
  expect(await rows('SELECT 1 FROM files WHERE sha256 = $1', [own!.sha])).toEqual([]);
  const missing = await rows('SELECT 1 FROM revisions r JOIN files f ON f.sha256 = r.file_sha256');
  const [still] = await rows<{ kept: string }>('SELECT count(*) AS kept FROM revisions WHERE file_sha256 IS NOT NULL');
  expect(missing).toHaveLength(Number(still!.kept));

  // Whoever still looks is told so.
  const { body: shot } = await ottoline.get(`/api/shots/${own!.shot}`).expect(200);
  expect(shot).toMatchObject({ student: { name: 'A former student' } });
  const { revisions } = shot as { revisions: { reading: object; fileName: string }[] };
  expect(revisions[0]).toMatchObject({
    fileName: 'deleted',
    deleted: true,
    reading: { state: 'failed', reason: 'what was handed in has been deleted' },
  });
  await ottoline.get(`/api/revisions/${own!.revision}/file`).expect(404, /has been deleted/);
  const { body: docket } = await ottoline.get('/api/docket').expect(200);
  expect(JSON.stringify(docket)).not.toContain(own!.shot);
  await amara.get('/api/account/everything').expect(401);
});

test('whoever is still here, or teaches, is not forgotten', async () => {
  const forgetting = school.app.get(ForgettingService);
  const people = await rows<{ id: string; role: string }>(
    `SELECT id, role FROM people WHERE name IN ('Jomo Wanyama', 'Baraka Lundqvist')`,
  );
  await rows(`UPDATE people SET archived_at = now() - interval '1 year' WHERE role = 'assistant'`);
  expect(people.map(({ role }) => role).sort()).toEqual(['assistant', 'student']);
  for (const { id } of people) expect(await forgetting.forget(id)).toBe(false);
  await rows(`UPDATE people SET archived_at = NULL WHERE role = 'assistant'`);
});
