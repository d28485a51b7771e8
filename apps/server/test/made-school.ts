import { mkdtemp, readdir, readFile, rm, mkdir, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import pg from 'pg';
import { createApplication } from '../src/application.ts';
import type { Configuration } from '../src/config.ts';
import { withAdvisoryLock } from '../src/database/advisory-lock.ts';
import { openDatabase } from '../src/database/database.module.ts';
import { migrate } from '../src/database/migrations.ts';
import { seedDemo } from '../src/demo/seed.ts';

/** What a night school is made of, and where. */
interface Made {
  /** The server's database, and the base that others are made from. */
  readonly base: string;
  readonly admin: pg.Client;
  readonly configuration: Configuration;
  /** Every motion of it has been measured; else that waits in the queue. */
  readonly read: boolean;
}

/**
 * A database of the night school's to copy: made by the first suite of a run that wants it, since seeding and measuring it anew is most of what a suite
 * takes. Its files lie in a table of it, so that nothing is left on the disk.
 *
 * @returns its name
 */
export async function madeSchool({ base, admin, configuration, read }: Made): Promise<string> {
  const { DEMO, DEMO_CLIPS, DEMO_TERM } = configuration;
  const flags = [DEMO, DEMO_CLIPS, DEMO_TERM, read].map(Number).join('');
  const name = `made_${process.env.SCHOOL_RUN}_${flags}`;
  await withAdvisoryLock(base, name, async () => {
    const { rowCount } = await admin.query('SELECT FROM pg_database WHERE datname = $1', [name]);
    if (rowCount === 0) await make(name, { base, admin, configuration, read });
  });
  return name;
}

async function make(name: string, { base, admin, configuration, read }: Made): Promise<void> {
  const making = `${name}_making`;
  await admin.query(`DROP DATABASE IF EXISTS ${making} WITH (FORCE)`);
  await admin.query(`CREATE DATABASE ${making}`);
  const url = new URL(base);
  url.pathname = `/${making}`;
  const files = await mkdtemp(join(tmpdir(), 'ypsigraph-made-'));
  const own = { ...configuration, DATABASE_URL: url.href, FILES_DIR: files };
  const sequelize = openDatabase(url.href);
  await migrate(sequelize);
  await sequelize.close();
  const app = await createApplication({ ...own, PROCESS: read ? 'both' : 'server' });
  await app.init();
  await seedDemo(app);
  const database = new pg.Client({ connectionString: url.href });
  await database.connect();
  if (read) await untilAllIsRead(database);
  await app.close();
  await database.query('CREATE TABLE made_files (path text PRIMARY KEY, bytes bytea NOT NULL)');
  for (const entry of await readdir(files, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue;
    const path = join(entry.parentPath, entry.name);
    await database.query('INSERT INTO made_files VALUES ($1, $2)', [
      path.slice(files.length + 1),
      await readFile(path),
    ]);
  }
  await database.end();
  await rm(files, { recursive: true, force: true });
  // Under its name only when it is whole.
  await admin.query(`SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = $1`, [making]);
  await admin.query(`ALTER DATABASE ${making} RENAME TO ${name}`);
}

async function untilAllIsRead(database: pg.Client): Promise<void> {
  for (let k = 0; k < 1200; k++) {
    const { rows } = await database.query(
      `SELECT count(*)::int AS n FROM revisions WHERE reading_state IN ('queued', 'reading')`,
    );
    if (rows[0].n === 0) return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error('the motions of the school were not all read');
}

/** Puts the files of a copy where its configuration has them. */
export async function putFiles(database: pg.Client, folder: string): Promise<void> {
  const { rows } = await database.query('SELECT path, bytes FROM made_files');
  for (const { path, bytes } of rows as { path: string; bytes: Buffer }[]) {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeFile(join(folder, path), bytes);
  }
  await database.query('DROP TABLE made_files');
}
