import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { postgresBinaries } from './cluster.mjs';
import { runAsync } from './run.mjs';

/** What the server's tests call the night school they have made: with its people, without clips and a whole term, everything read. */
const nameOf = (run) => `made_${run}_1001`;

/**
 * Fills an empty database, and a folder of files, with the night school that the server's tests of a run have made; leaves both empty where they have made
 * none.
 *
 * @param url of a database of the cluster that they made it in, by its name
 */
export async function copyMadeSchool(url, run, { database, files }) {
  const { default: pg } = await import('pg');
  const there = new pg.Client({ connectionString: url('postgres') });
  await there.connect();
  const { rowCount } = await there.query('SELECT 1 FROM pg_database WHERE datname = $1', [nameOf(run)]);
  await there.end();
  if (rowCount === 0) return;
  const dump = join(files, 'school.dump');
  mkdirSync(files, { recursive: true });
  const program = async (name, args) => {
    if ((await runAsync(join(postgresBinaries(), name), args)) !== 0) throw new Error(`${name} failed`);
  };
  await program('pg_dump', ['--format=custom', '--compress=0', `--file=${dump}`, url(nameOf(run))]);
  await program('pg_restore', ['--no-owner', '--exit-on-error', `--dbname=${database}`, dump]);
  rmSync(dump);
  const own = new pg.Client({ connectionString: database });
  await own.connect();
  const { rows } = await own.query('SELECT path, bytes FROM made_files');
  for (const { path, bytes } of rows) {
    mkdirSync(dirname(join(files, path)), { recursive: true });
    writeFileSync(join(files, path), bytes);
  }
  await own.query('DROP TABLE made_files');
  await own.end();
}
