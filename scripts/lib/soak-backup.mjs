// Backups while files come and go, and restoring them: what the dump names is in the backup, whatever is dropped and swept meanwhile.
import { spawn } from 'node:child_process';
import { mkdirSync, readdirSync, rmSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import { dropDatabases, ensureDatabase } from './cluster.mjs';
import { ROOT } from './run.mjs';

const { EMPTY_BRIEF } = await import('../../packages/contract/dist/briefs.js');

const ADMIN = join(ROOT, 'apps/server/bin/ypsigraph-admin.js');
/** Older than a file that may still be on its way. */
const LONG_AGO = () => new Date(Date.now() - 3 * 60 * 60 * 1000);

/** Carries a command of whoever runs the server out. */
function admin(environment, ...args) {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [ADMIN, ...args], { env: { ...process.env, ...environment } });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += String(text)));
    child.once('exit', (code) => resolve({ code, said: said.trim() }));
  });
}

/**
 * Adds and drops files of a brief without end, each long ago as the disk has it, so that whoever sweeps takes it.
 * @param soak.ends whether it is to stop
 */
export async function filesComeAndGo({ insist, instructor, files, ends }) {
  // Of a try whose answer was lost a brief may be there already.
  const made = await insist(instructor, 'POST', '/api/briefs', () => ({
    ...EMPTY_BRIEF,
    title: `Tide table ${Math.random()}`,
    kind: 'any',
  }));
  if (made.status !== 201) throw new Error(`no brief: ${made.status} ${JSON.stringify(made.body)}`);
  const brief = made.body.versions[0].id;
  let count = 0;
  while (!ends()) {
    const form = () => {
      const data = new FormData();
      data.set('file', new Blob([`high water ${Math.random()}\n`.repeat(2_000)]), 'tide-table.txt');
      return data;
    };
    const added = await insist(instructor, 'POST', `/api/briefs/${brief}/files`, form);
    const own = added.body?.versions?.[0]?.files ?? [];
    for (const folder of readdirSync(files).filter((name) => /^[0-9a-f]{2}$/.test(name)))
      for (const name of readdirSync(join(files, folder)))
        try {
          utimesSync(join(files, folder, name), LONG_AGO(), LONG_AGO());
        } catch {
          // Swept at this moment.
        }
    for (const { id } of own.slice(0, -2)) {
      await insist(instructor, 'DELETE', `/api/briefs/${brief}/files/${id}`);
      count++;
    }
  }
  return count;
}

/** Makes one backup after the other until it is to stop, and restores each into an empty machine of its own. */
export async function backUpAndRestore({ cluster, folder, environment, ends }) {
  const counts = { made: 0, away: 0, restored: 0, wrong: [] };
  mkdirSync(join(folder, 'backups'), { recursive: true });
  for (let k = 0; !ends(); k++) {
    const to = join(folder, 'backups', String(k));
    const made = await admin(environment, 'backup', to);
    if (made.code !== 0) {
      // A database that was killed meanwhile: nothing stands there that calls itself a backup.
      const there = readdirSync(join(folder, 'backups')).includes(String(k));
      if (there || /missing|damaged/.test(made.said)) counts.wrong.push(made.said);
      else counts.away++;
      continue;
    }
    counts.made++;
    let answer;
    for (let round = 0; round < 20; round++) {
      try {
        const target = {
          ...environment,
          DATABASE_URL: await ensureDatabase(cluster(), `restored_${process.pid}_${k}_${round}`),
          FILES_DIR: join(folder, 'restored', String(k)),
        };
        // Tried again into a database of its own where that was killed in its midst: the files of the first try are there already.
        answer = await admin(target, 'restore', to);
        if (answer.code === 0) break;
      } catch (error) {
        answer = { code: 1, said: String(error) };
      }
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
    if (answer.code === 0) counts.restored++;
    else counts.wrong.push(answer.said);
    // What has been seen to come back is not kept: a day of backups is more than a disk has.
    for (const path of [to, join(folder, 'restored', String(k))]) rmSync(path, { recursive: true, force: true });
    await dropDatabases(cluster(), `restored_${process.pid}_${k}_`).catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 8_000));
  }
  return counts;
}
