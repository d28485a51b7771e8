// A backup holds what one moment held, says at once when it is not whole, and comes back whole.
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import pg from 'pg';
import { backUp } from '../src/admin/backup.ts';
import { readConfiguration } from '../src/config.ts';
import { FileStore } from '../src/files/file-store.ts';
import { FileSweeper } from '../src/files/file-sweeper.ts';
import { carryOut, type Environment, type Machines, machines } from './machine.ts';
import { openSchool, type School } from './harness.ts';

let all: Machines;
let school: School;
let environment: Environment;
beforeAll(async () => {
  [all, school] = [await machines(), await openSchool({ PROCESS: 'server' }, 'read')];
  const { host, port, user, password, database } = school.database as unknown as Record<string, string>;
  const url = `postgres://${user}:${password}@${host}:${port}/${database}`;
  environment = { ...(await all.empty('unused')), DATABASE_URL: url, FILES_DIR: school.files };
});
afterAll(async () => {
  await school.close();
  await all.end();
});

const IN_A_DAY = (): number => Date.now() + 24 * 60 * 60 * 1000;
const placeOf = (root: string, sha256: string): string => join(root, sha256.slice(0, 2), sha256);

/** A file to start from, of a brief of its own. */
async function fileToStartFrom(text: string): Promise<{ sha256: string; drop: () => Promise<void> }> {
  const { rows } = await school.database.query(`INSERT INTO briefs (title, kind) VALUES ($1, 'walk') RETURNING id`, [
    `Tide table ${randomUUID()}`,
  ]);
  const { sha256, bytes } = await school.app.get(FileStore).put(new TextEncoder().encode(text));
  await school.database.query('INSERT INTO files (sha256, bytes) VALUES ($1, $2)', [sha256, bytes]);
  await school.database.query('INSERT INTO brief_files (brief_id, file_sha256, file_name) VALUES ($1, $2, $3)', [
    rows[0].id,
    sha256,
    'tide-table.txt',
  ]);
  return {
    sha256,
    drop: async () => {
      await school.database.query('DELETE FROM brief_files WHERE file_sha256 = $1', [sha256]);
      await school.app.get(FileSweeper).sweep(IN_A_DAY());
    },
  };
}

test('what is dropped while a backup is made is in it, and goes once it is done', async () => {
  const { sha256, drop } = await fileToStartFrom('high water at four');
  const folder = join(all.folder, 'while-dropped');
  await backUp(readConfiguration(environment), folder, drop);
  expect(await readFile(placeOf(join(folder, 'files'), sha256), 'utf8')).toBe('high water at four');
  // Nobody keeps it any longer.
  await school.app.get(FileSweeper).sweep(IN_A_DAY());
  await expect(readFile(placeOf(school.files, sha256))).rejects.toThrow('ENOENT');
  const second = await all.empty('restored');
  expect(await carryOut(second, 'restore', folder)).toEqual({
    code: 0,
    said: expect.stringMatching(/restored|is whole|MB/),
  });
  expect(await readFile(placeOf(second.FILES_DIR, sha256), 'utf8')).toBe('high water at four');
});

test('a backup that is not whole is refused before anything is restored, and restored once it is put right', async () => {
  const { sha256 } = await fileToStartFrom('low water at ten');
  const folder = join(all.folder, 'damaged');
  expect(await carryOut(environment, 'backup', folder)).toEqual({
    code: 0,
    said: expect.stringMatching(/restored|is whole|MB/),
  });
  expect(await carryOut(environment, 'restore', folder, '--verify')).toEqual({
    code: 0,
    said: expect.stringContaining('is whole'),
  });
  const target = await all.empty('second-try');
  const tables = async (): Promise<number> => {
    const client = new pg.Client({ connectionString: target.DATABASE_URL });
    await client.connect();
    const { rows } = await client.query(
      `SELECT count(*)::int AS n FROM information_schema.tables WHERE table_schema = 'public'`,
    );
    await client.end();
    return rows[0].n as number;
  };
  const broken = async (path: string, how: (path: string) => Promise<void>, said: RegExp): Promise<void> => {
    const before = await readFile(path);
    await how(path);
    for (const args of [['--verify'], []])
      expect(await carryOut(target, 'restore', folder, ...args)).toEqual({
        code: 1,
        said: expect.stringMatching(said),
      });
    expect(await tables()).toBe(0);
    await writeFile(path, before);
  };
  const file = placeOf(join(folder, 'files'), sha256);
  await broken(file, (path) => writeFile(path, 'low water at nine'), new RegExp(`${sha256} is damaged`));
  await broken(file, (path) => rm(path), new RegExp(`${sha256} is missing`));
  await broken(join(folder, 'database'), (path) => writeFile(path, 'no dump'), /dump of the database .* is damaged/);
  await broken(join(folder, 'manifest.json'), (path) => writeFile(path, '{}'), /manifest .* can't be read/);
  await broken(join(folder, 'manifest.json'), (path) => rm(path), /holds no whole backup/);

  // A first try that was cut off has left some of the files, one of them cut as well: a second one goes on.
  await mkdir(dirname(placeOf(target.FILES_DIR, sha256)), { recursive: true });
  await writeFile(placeOf(target.FILES_DIR, sha256), 'low wa');
  expect(await carryOut(target, 'restore', folder)).toEqual({
    code: 0,
    said: expect.stringMatching(/restored|is whole|MB/),
  });
  expect(await tables()).toBeGreaterThan(20);
  expect((await carryOut(target, 'restore', folder)).said).toMatch(/database is not empty/);
  expect(await readFile(placeOf(target.FILES_DIR, sha256), 'utf8')).toBe('low water at ten');
  const strange = await all.empty('strange');
  await mkdir(strange.FILES_DIR);
  await writeFile(join(strange.FILES_DIR, 'letters.txt'), 'somebody else’s');
  expect((await carryOut(strange, 'restore', folder)).said).toMatch(/letters\.txt is none of this backup's/);
});

test('what was made of clips is made again after a restore, also of a clip beside a motion', async () => {
  const { rows } = await school.database.query(
    `INSERT INTO clips_beside (revision_id, file_sha256, file_name, first_label, done_at, refused)
     SELECT id, file_sha256, 'walk.webm', 1, now(), NULL FROM revisions ORDER BY id LIMIT 1 RETURNING revision_id AS id`,
  );
  const folder = join(all.folder, 'beside');
  await backUp(readConfiguration(environment), folder);
  const target = await all.empty('restored-beside');
  expect(await carryOut(target, 'restore', folder)).toEqual({
    code: 0,
    said: expect.stringMatching(/restored|is whole|MB/),
  });
  const client = new pg.Client({ connectionString: target.DATABASE_URL });
  await client.connect();
  const queued = await client.query('SELECT revision_id AS id, lane FROM reading_queue WHERE beside');
  const read = await client.query(`SELECT count(*)::int AS n FROM revisions WHERE reading_state = 'read'`);
  await client.end();
  expect(queued.rows).toEqual([{ id: rows[0].id, lane: 'decoding' }]);
  // Motions keep what was measured of them.
  expect(read.rows[0].n).toBeGreaterThan(10);
});
