import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, readdirSync } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import pg from 'pg';
import { z } from 'zod';
import type { Configuration } from '../config.ts';
import { AdminError } from './school.ts';

const run = promisify(execFile);
const Manifest = z.object({ made: z.string(), files: z.number().int(), bytes: z.number() });

/** Where Debian keeps PostgreSQL's programs, where they are not on the path. */
const BINARIES = '/usr/lib/postgresql';

function tool(name: string): string {
  const versions = existsSync(BINARIES) ? readdirSync(BINARIES).sort((a, b) => Number(b) - Number(a)) : [];
  return versions.map((version) => join(BINARIES, version, 'bin', name)).find((path) => existsSync(path)) ?? name;
}

/** Runs one of PostgreSQL's programs. The password goes by the environment, where no list of processes shows it. */
async function postgres(name: string, url: string, args: readonly string[]): Promise<void> {
  const { password, hostname, port, username, pathname } = new URL(url);
  const decode = decodeURIComponent;
  const env = {
    ...process.env,
    PGHOST: hostname,
    PGPORT: port || '5432',
    PGUSER: decode(username),
    PGPASSWORD: decode(password),
    PGDATABASE: decode(pathname.slice(1)),
  };
  await run(tool(name), [...args], { env, maxBuffer: 64 * 1024 * 1024 }).catch((error: unknown) => {
    const { stderr = '', message } = error as { stderr?: string; message: string };
    throw new AdminError(`${name} failed: ${stderr.trim() || message}`);
  });
}

async function rows<T>(url: string, sql: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return (await client.query(sql)).rows as T[];
  } finally {
    await client.end();
  }
}

const placeOf = (root: string, sha256: string): string => join(root, sha256.slice(0, 2), sha256);

/**
 * Writes database and files into a folder while the server runs. The database is dumped first, in one snapshot; a file it names was on the disk
 * before, and is not taken away while it is named: what is copied afterwards is all that the dump needs. The folder gets its name once it is whole.
 *
 * @throws AdminError where a file is missing or damaged
 */
export async function backUp(configuration: Configuration, folder: string): Promise<string> {
  if (existsSync(folder)) throw new AdminError(`${folder} is there already`);
  const making = `${folder}.making`;
  await rm(making, { recursive: true, force: true });
  await mkdir(join(making, 'files'), { recursive: true });
  const { DATABASE_URL: url, FILES_DIR: files } = configuration;
  // Sessions are left out: nobody is signed in by a backup.
  await postgres('pg_dump', url, [
    '--format=custom',
    '--no-owner',
    '--exclude-table-data=sessions',
    `--file=${join(making, 'database')}`,
  ]);
  const named = await rows<{ sha256: string; bytes: string }>(
    url,
    'SELECT DISTINCT f.sha256, f.bytes FROM files f JOIN named_files n ON n.sha256 = f.sha256',
  );
  let bytes = 0;
  for (const { sha256, bytes: size } of named) {
    const to = placeOf(join(making, 'files'), sha256);
    await mkdir(dirname(to), { recursive: true });
    await copyFile(placeOf(files, sha256), to).catch(() => {
      throw new AdminError(`the file ${sha256} is missing in ${files}: this backup would not be whole`);
    });
    if ((await hashOf(to)) !== sha256)
      throw new AdminError(`the file ${sha256} is damaged: this backup would not be whole`);
    bytes += Number(size);
  }
  await writeFile(
    join(making, 'manifest.json'),
    JSON.stringify({ made: new Date().toISOString(), files: named.length, bytes }),
  );
  await rename(making, folder);
  return `${folder}: the database and ${named.length} files, ${(bytes / 1_048_576).toFixed(1)} MB`;
}

/**
 * Puts a backup into an empty database and an empty folder, and looks whether every file that the database names is there and undamaged.
 * @throws AdminError where something is there already, or the backup is not whole
 */
export async function restore(configuration: Configuration, folder: string): Promise<string> {
  const text = await readFile(join(folder, 'manifest.json'), 'utf8').catch(() => {
    throw new AdminError(`${folder} holds no whole backup`);
  });
  const { files: count } = Manifest.parse(JSON.parse(text));
  const { DATABASE_URL: url, FILES_DIR: files } = configuration;
  const tables = await rows(url, `SELECT 1 FROM information_schema.tables WHERE table_schema = 'public' LIMIT 1`);
  if (tables.length > 0) throw new AdminError('the database is not empty: restore into an empty one');
  if (existsSync(files) && (await readdir(files)).some((name) => name !== 'incoming'))
    throw new AdminError(`${files} is not empty: restore into an empty folder`);
  await postgres('pg_restore', url, [
    '--no-owner',
    '--exit-on-error',
    '--single-transaction',
    `--dbname=${new URL(url).pathname.slice(1)}`,
    join(folder, 'database'),
  ]);
  const named = await rows<{ sha256: string }>(url, 'SELECT DISTINCT sha256 FROM named_files');
  for (const { sha256 } of named) {
    const to = placeOf(files, sha256);
    await mkdir(dirname(to), { recursive: true });
    await copyFile(placeOf(join(folder, 'files'), sha256), to).catch(() => {
      throw new AdminError(`the backup lacks the file ${sha256}`);
    });
    if ((await hashOf(to)) !== sha256) throw new AdminError(`the file ${sha256} in the backup is damaged`);
  }
  // What was made of clips is made again of them.
  await rows(url, 'DELETE FROM pictures');
  await rows(
    url,
    `UPDATE revisions SET reading_state = 'queued', reading_reason = NULL, reading_tries = 0, reading_beat = now()
      WHERE media = 'pictures'`,
  );
  return `restored: the database and ${named.length} of ${count} files`;
}

async function hashOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}
