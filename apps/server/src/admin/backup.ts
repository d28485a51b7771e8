import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync, readdirSync } from 'node:fs';
import { copyFile, mkdir, mkdtemp, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import pg from 'pg';
import { z } from 'zod';
import { type Configuration, directUrl } from '../config.ts';
import { lockKey } from '../database/advisory-lock.ts';
import { NO_LIMITS } from '../database/limits.ts';
import type { FileHome } from '../files/file-home.ts';
import { FILES_ARE_KEPT } from '../files/file-sweeper.ts';
import { type Homes, homesOf } from '../files/homes.ts';
import { synced } from '../files/synced.ts';
import { AdminError } from './school.ts';

const run = promisify(execFile);

const Manifest = z.object({
  made: z.string(),
  /** Hash of the dump. */
  database: z.string(),
  /** What the database names, each with its bytes. */
  files: z.array(z.object({ sha256: z.string(), bytes: z.number() })),
});
type Manifest = z.infer<typeof Manifest>;

/** Where Debian keeps PostgreSQL's programs, where they are not on the path. */
const BINARIES = '/usr/lib/postgresql';
const DUMP = 'database';

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

async function connected<T>(url: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url, ...NO_LIMITS });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

const placeOf = (root: string, sha256: string): string => join(root, sha256.slice(0, 2), sha256);

/**
 * Writes database and files into a folder while the server runs. What the dump names is asked for in the dump's own snapshot, and until the last of
 * those files has been copied nobody sweeps any. The folder gets its name once it is whole.
 *
 * @param onDumped told when the database has been dumped, and its files are about to be copied
 * @throws AdminError where a file is missing or damaged
 */
export async function backUp(
  configuration: Configuration,
  folder: string,
  onDumped: () => Promise<void> | void = () => undefined,
): Promise<string> {
  if (existsSync(folder)) throw new AdminError(`${folder} is there already`);
  const making = `${folder}.making`;
  await rm(making, { recursive: true, force: true });
  await mkdir(join(making, 'files'), { recursive: true });
  const url = directUrl(configuration);
  const homes = homesOf(configuration);
  const manifest = await connected(url, async (client) => {
    await client.query('SELECT pg_advisory_lock_shared($1)', [lockKey(FILES_ARE_KEPT)]);
    await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
    const exported = await client.query<{ id: string }>('SELECT pg_export_snapshot() AS id');
    const snapshot = exported.rows[0]!.id;
    const { rows } = await client.query<{ sha256: string; bytes: string }>(
      'SELECT DISTINCT f.sha256, f.bytes FROM files f JOIN named_files n ON n.sha256 = f.sha256 ORDER BY f.sha256',
    );
    await postgres('pg_dump', url, [
      ...['--format=custom', '--no-owner', `--snapshot=${snapshot}`, `--file=${join(making, DUMP)}`],
      // Sessions are left out: nobody is signed in by a backup. What was made of clips is made again of them.
      ...['--exclude-table-data=sessions', '--exclude-table-data=pictures'],
    ]);
    await onDumped();
    for (const { sha256 } of rows) {
      const to = placeOf(join(making, 'files'), sha256);
      await mkdir(dirname(to), { recursive: true });
      await fetchTo(to, sha256, homes).catch(() => {
        throw new AdminError(`the file ${sha256} is missing in ${homes.home.name}: this backup would not be whole`);
      });
      if ((await hashOf(to)) !== sha256)
        throw new AdminError(`the file ${sha256} is damaged: this backup would not be whole`);
      await synced(to);
    }
    await synced(join(making, DUMP));
    return {
      made: new Date().toISOString(),
      database: await hashOf(join(making, DUMP)),
      files: rows.map(({ sha256, bytes }) => ({ sha256, bytes: Number(bytes) })),
    } satisfies Manifest;
  });
  await writeFile(join(making, 'manifest.json'), JSON.stringify(manifest, null, 1));
  await synced(join(making, 'manifest.json'));
  await rename(making, folder);
  await synced(dirname(folder));
  return `${folder}: ${told(manifest)}`;
}

/**
 * Looks whether a backup is whole: its dump can be read and is the one that was written, and every file that it names is there and undamaged.
 * @throws AdminError that says what is wrong with it
 */
export async function verify(folder: string): Promise<string> {
  return `${folder} is whole: ${told(await checked(folder))}`;
}

/**
 * Puts a backup into an empty database and an empty folder. Everything is looked at before anything is changed; the files come first, each under
 * its hash, and the database in one transaction: interrupted anywhere, it can be done again.
 *
 * @throws AdminError where something else is there already, or the backup is not whole
 */
export async function restore(configuration: Configuration, folder: string): Promise<string> {
  const manifest = await checked(folder);
  const { FILES_DIR: files } = configuration;
  const url = directUrl(configuration);
  await refuseUsed(url);
  const { home } = homesOf(configuration);
  const known = new Set(manifest.files.map(({ sha256 }) => sha256));
  const foreign = existsSync(files) ? await foreignIn(files, known) : undefined;
  if (foreign !== undefined)
    throw new AdminError(`${files} is not empty: ${foreign} is none of this backup's; restore into an empty folder`);
  for (const { sha256, bytes } of manifest.files) await restoreFile(folder, home, { sha256, bytes, by: files });
  const scripts = await mkdtemp(join(tmpdir(), 'ypsigraph-restore-'));
  const [script, rest] = [join(scripts, 'database.sql'), join(scripts, 'rest.sql')];
  try {
    await postgres('pg_restore', url, ['--no-owner', `--file=${script}`, join(folder, DUMP)]);
    // What was made of clips is made again of them, those beside a motion as well.
    await writeFile(
      rest,
      // The dump looks into no schema by itself; what is told of a change does.
      `SET search_path = public;
       DELETE FROM pictures;
       UPDATE revisions SET reading_state = 'queued', reading_reason = NULL, reading_tries = 0, reading_from = now()
        WHERE media = 'pictures';
       UPDATE clips_beside SET refused = NULL, claimed_at = NULL, done_at = NULL, tries = 0, not_before = now();`,
    );
    const all = ['--no-psqlrc', '--quiet', '--set=ON_ERROR_STOP=1', '--single-transaction', '--output=/dev/null'];
    await postgres('psql', url, [...all, `--file=${script}`, `--file=${rest}`]);
  } finally {
    await rm(scripts, { recursive: true, force: true });
  }
  return `restored: ${told(manifest)}`;
}

/** @throws AdminError where a backup is not whole */
async function checked(folder: string): Promise<Manifest> {
  const text = await readFile(join(folder, 'manifest.json'), 'utf8').catch(() => {
    throw new AdminError(`${folder} holds no whole backup`);
  });
  const manifest = manifestOf(text);
  if (!manifest)
    throw new AdminError(`the manifest of ${folder} can't be read: it is damaged, or of another version than this`);
  const dump = join(folder, DUMP);
  const hash = await hashOf(dump).catch(() => {
    throw new AdminError(`${folder} lacks its dump of the database`);
  });
  if (hash !== manifest.database) throw new AdminError(`the dump of the database in ${folder} is damaged`);
  const wrong: string[] = [];
  for (const { sha256 } of manifest.files) {
    const found = await hashOf(placeOf(join(folder, 'files'), sha256)).catch(() => undefined);
    if (found !== sha256) wrong.push(`the file ${sha256} ${found === undefined ? 'is missing' : 'is damaged'}`);
  }
  if (wrong.length > 0)
    throw new AdminError(
      `${folder} is not whole; nothing was restored:\n${wrong.slice(0, 20).join('\n')}${wrong.length > 20 ? `\nand ${wrong.length - 20} more` : ''}`,
    );
  return manifest;
}

function manifestOf(text: string): Manifest | undefined {
  try {
    return Manifest.parse(JSON.parse(text));
  } catch {
    return undefined;
  }
}

/** @throws AdminError where the database holds anything */
async function refuseUsed(url: string): Promise<void> {
  const tables = await connected(url, (client) =>
    client.query(`SELECT 1 FROM information_schema.tables WHERE table_schema = 'public' LIMIT 1`),
  );
  if (tables.rows.length > 0)
    throw new AdminError(
      'the database is not empty: restore into one that was just made, before any process of the application is started on it',
    );
}

/** Something in a folder of files that is not from the backup that is put there; undefined where there is nothing. */
async function foreignIn(folder: string, known: ReadonlySet<string>): Promise<string | undefined> {
  for (const entry of await readdir(folder, { recursive: true, withFileTypes: true }))
    if (entry.isFile() && !known.has(entry.name.replace(/\.restoring$/, ''))) return join(entry.parentPath, entry.name);
  return undefined;
}

/** Copies a kept file out of its home, or out of the other where it is on its way. */
async function fetchTo(to: string, sha256: string, { home, other }: Homes): Promise<void> {
  const from = other && !(await home.has(sha256)) ? other : home;
  await pipeline(await from.open(sha256), createWriteStream(to));
}

interface Restored {
  readonly sha256: string;
  readonly bytes: number;
  /** A folder on the disk of the files. */
  readonly by: string;
}

/** Puts a file into its home, unless an earlier try has done that. */
async function restoreFile(folder: string, home: FileHome, { sha256, bytes, by }: Restored): Promise<void> {
  if ((await home.has(sha256)) && (await hashOfKept(home, sha256)) === sha256) return;
  const from = placeOf(join(folder, 'files'), sha256);
  // A home may move away what it is given.
  const copy = join(by, `${sha256}.restoring`);
  await mkdir(by, { recursive: true });
  await copyFile(from, copy);
  if ((await hashOf(copy)) !== sha256 || (await stat(copy)).size !== bytes)
    throw new AdminError(`the file ${sha256} could not be copied whole: look at the disk`);
  await home.keep(copy, sha256, bytes);
  await rm(copy, { force: true });
}

/** Hash of what a home gives for a file. */
export async function hashOfKept(home: FileHome, sha256: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(await home.open(sha256), hash);
  return hash.digest('hex');
}

const told = ({ files }: Manifest): string => {
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  return `the database and ${files.length} files, ${(bytes / 1_048_576).toFixed(1)} MB`;
};

async function hashOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}
