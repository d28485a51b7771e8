// What the school keeps of a person goes to that person as one archive, and to nobody else.
import { createHash } from 'node:crypto';
import { strFromU8 } from 'fflate';
import request from 'supertest';
import { entriesOf, openSchool, type School, type Visitor } from './harness.ts';

let school: School;
beforeAll(async () => {
  school = await openSchool({ PROCESS: 'server' }, 'read');
});
afterAll(() => school.close());

const everythingOf = (visitor: Visitor): Promise<Record<string, Uint8Array>> =>
  entriesOf(visitor.get('/api/account/everything').expect('cache-control', 'private, no-store'));
const table = (entries: Record<string, Uint8Array>, name: string): Record<string, unknown>[] =>
  JSON.parse(strFromU8(entries[`${name}.json`]!)) as Record<string, unknown>[];

test('a student has every file as it was handed in, and every word that was sent', async () => {
  const entries = await everythingOf(await school.as('Emeka Brightwater'));
  const kept = await school.database.query<{ sha: string; name: string }>(
    `SELECT r.file_sha256 AS sha, r.file_name AS name FROM revisions r JOIN shots s ON s.id = r.shot_id JOIN people p ON p.id = s.student_id
      WHERE p.name = 'Emeka Brightwater'`,
  );
  const files = Object.entries(entries).filter(([name]) => name.startsWith('files/'));
  expect(files.map(([, bytes]) => createHash('sha256').update(bytes).digest('hex')).sort()).toEqual(
    kept.rows.map(({ sha }) => sha).sort(),
  );
  expect(files[0]![0]).toMatch(/^files\/Night round\/R1 .+\.bvh$/);
  expect(table(entries, 'person')).toMatchObject([{ name: 'Emeka Brightwater', role: 'student' }]);
  const sent = await school.database.query(
    `SELECT m.words FROM marks m JOIN revisions r ON r.id = m.revision_id JOIN shots s ON s.id = r.shot_id JOIN people p ON p.id = s.student_id
      WHERE p.name = 'Emeka Brightwater' AND m.sent_at IS NOT NULL AND m.archived_at IS NULL`,
  );
  expect(sent.rows.length).toBeGreaterThan(0);
  expect(
    table(entries, 'marks')
      .map(({ words }) => words)
      .sort(),
  ).toEqual(sent.rows.map((row) => (row as { words: string }).words).sort());
});

test('what is only drafted about a student, others’ secrets, and other people’s shots are not in it', async () => {
  const drafts = await school.database.query<{ name: string; words: string; id: string }>(
    `SELECT p.name, m.words, m.id FROM marks m JOIN revisions r ON r.id = m.revision_id JOIN shots s ON s.id = r.shot_id
       JOIN people p ON p.id = s.student_id WHERE m.sent_at IS NULL LIMIT 1`,
  );
  const [draft] = drafts.rows;
  const student = draft?.name ?? 'Liesl Achterberg';
  const entries = await everythingOf(await school.as(student));
  const all = Object.entries(entries)
    .filter(([name]) => name.endsWith('.json') && !name.startsWith('files/'))
    .map(([, bytes]) => strFromU8(bytes))
    .join('\n');
  expect(draft).toBeDefined();
  expect(all).not.toContain(draft!.id);
  expect(all).not.toMatch(/password_hash|token_sha256|key_sha256|argon2/);
  const shots = await school.database.query<{ id: string }>(
    `SELECT s.id FROM shots s JOIN people p ON p.id = s.student_id WHERE p.name <> $1`,
    [student],
  );
  for (const { id } of shots.rows) expect(all).not.toContain(id);
});

test('who teaches has what they wrote', async () => {
  const entries = await everythingOf(await school.as('Ottoline Farrow'));
  expect(table(entries, 'marks').every(({ by }) => by === 'Ottoline Farrow')).toBe(true);
  expect(table(entries, 'marks').length).toBeGreaterThan(5);
});

test('a file that was lost leaves the rest to be taken away', async () => {
  const { rows } = await school.database.query<{ id: string; sha: string }>(
    `SELECT r.id, r.file_sha256 AS sha FROM revisions r JOIN shots s ON s.id = r.shot_id JOIN people p ON p.id = s.student_id
      WHERE p.name = 'Chiyo Tanabe' LIMIT 1`,
  );
  const nowhere = 'f'.repeat(64);
  await school.database.query('INSERT INTO files (sha256, bytes) VALUES ($1, 9)', [nowhere]);
  await school.database.query('UPDATE revisions SET file_sha256 = $1 WHERE id = $2', [nowhere, rows[0]!.id]);
  const entries = await everythingOf(await school.as('Chiyo Tanabe'));
  await school.database.query('UPDATE revisions SET file_sha256 = $1 WHERE id = $2', [rows[0]!.sha, rows[0]!.id]);
  expect(Object.values(entries).filter((bytes) => bytes.length === 0).length).toBe(1);
  expect(table(entries, 'revisions').length).toBeGreaterThan(0);
});

test('nobody has it who is not signed in', async () => {
  await request(school.app.getHttpServer()).get('/api/account/everything').expect(401);
});
