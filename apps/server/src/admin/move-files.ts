import { createWriteStream } from 'node:fs';
import { mkdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { type Configuration, directUrl } from '../config.ts';
import { lockKey } from '../database/advisory-lock.ts';
import { NO_LIMITS } from '../database/limits.ts';
import { FILES_ARE_KEPT } from '../files/file-sweeper.ts';
import type { FileHome } from '../files/file-home.ts';
import { homesOf } from '../files/homes.ts';
import { hashOfKept } from './backup.ts';
import { AdminError } from './school.ts';

/** What came of moving files. */
interface Moved {
  readonly moved: number;
  readonly bytes: number;
  readonly there: number;
  readonly removed: number;
  readonly missing: readonly string[];
}

/** Said of every so many files. */
const SAY_EVERY = 500;

/**
 * Copies every file that the database names from the home it was kept in to the one that is configured now, while servers and workers run: these look
 * in both. What is there already is looked at again, by its hash. It can be ended at any time and begun again.
 *
 * @param remove whether a file is removed from where it was, once the new home has given it back with its own hash
 * @param say told how far it is
 * @throws AdminError where there is no second home, or files are in neither
 */
export async function moveFiles(
  configuration: Configuration,
  remove: boolean,
  say: (line: string) => void = () => undefined,
): Promise<string> {
  const { home, other } = homesOf(configuration);
  if (!other)
    throw new AdminError(
      'files have one home only: name the object store as well (S3_BUCKET), and where they are to be (FILES_HOME)',
    );
  const client = new pg.Client({ connectionString: directUrl(configuration), ...NO_LIMITS });
  await client.connect();
  try {
    // Nobody sweeps a file away while it is on its way.
    await client.query('SELECT pg_advisory_lock_shared($1)', [lockKey(FILES_ARE_KEPT)]);
    const result = await moveAll(
      client,
      { home, other },
      { folder: join(configuration.FILES_DIR, 'incoming'), remove, say },
    );
    const told = `${result.moved} files moved to ${home.name} (${(result.bytes / 1_048_576).toFixed(1)} MB), ${result.there} were there${remove ? `, ${result.removed} removed from ${other.name}` : ''}`;
    if (result.missing.length > 0)
      throw new AdminError(
        `${told}; in neither home:\n${result.missing.slice(0, 20).join('\n')}${result.missing.length > 20 ? `\nand ${result.missing.length - 20} more` : ''}`,
      );
    return told;
  } finally {
    await client.end();
  }
}

interface BothHomes {
  readonly home: FileHome;
  readonly other: FileHome;
}

interface How {
  /** A folder on this machine for what is on its way. */
  readonly folder: string;
  readonly remove: boolean;
  readonly say: (line: string) => void;
}

/** Every file the database names, those too that are handed in meanwhile: asked for again until none is new. */
async function moveAll(client: pg.Client, { home, other }: BothHomes, { folder, remove, say }: How): Promise<Moved> {
  await mkdir(folder, { recursive: true });
  const done = new Set<string>();
  const missing: string[] = [];
  let [moved, bytes, there, removed] = [0, 0, 0, 0];
  for (;;) {
    const { rows } = await client.query<{ sha256: string; bytes: string }>(
      `SELECT f.sha256, f.bytes FROM files f JOIN named_files n USING (sha256)
        UNION SELECT s, NULL FROM pictures p, unnest(ARRAY[p.pack_sha256, p.small_sha256, p.sound_sha256]) s WHERE s IS NOT NULL ORDER BY 1`,
    );
    const fresh = rows.filter(({ sha256 }) => !done.has(sha256));
    if (fresh.length === 0) return { moved, bytes, there, removed, missing };
    for (const { sha256 } of fresh) {
      done.add(sha256);
      if (done.size % SAY_EVERY === 0) say(`${done.size} files …`);
      const isThere = (await home.has(sha256)) && (await hashOfKept(home, sha256)) === sha256;
      if (!isThere) {
        if (!(await other.has(sha256))) {
          missing.push(sha256);
          continue;
        }
        const path = join(folder, `${sha256}.moving`);
        await pipeline(await other.open(sha256), createWriteStream(path));
        const { size } = await stat(path);
        await home.keep(path, sha256, size);
        await rm(path, { force: true });
        if ((await hashOfKept(home, sha256)) !== sha256)
          throw new AdminError(
            `${home.name} gives the file ${sha256} back otherwise than it was: nothing of it was removed from ${other.name}`,
          );
        moved++;
        bytes += size;
      } else there++;
      if (remove && (await other.has(sha256))) {
        await other.remove(sha256);
        removed++;
      }
    }
  }
}
