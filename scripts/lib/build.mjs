import { execFile } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { ROOT, runAsync } from './run.mjs';

/** Time of the newest file below a folder, build results left out. */
function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (['node_modules', 'dist', 'dist-types'].includes(entry.name)) continue;
    const path = join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

/** Builds the programs whose sources have changed: every package, and the server. */
export async function buildPrograms() {
  if ((await runAsync('npx', ['tsc', '-b', 'apps/server', 'packages/cli'])) !== 0)
    throw new Error('the programs can’t be built');
}

/** Builds the pages where their sources have changed; they need none of the programs. */
export async function buildPages() {
  const page = join(ROOT, 'apps/web/dist/index.html');
  const sources = ['apps/web', 'packages/core/src', 'packages/contract/src'].map((folder) =>
    newest(join(ROOT, folder)),
  );
  if (existsSync(page) && statSync(page).mtimeMs > Math.max(...sources)) return;
  console.log('building the pages …');
  // What it has to say is of interest where it fails, and then comes with the error.
  await promisify(execFile)('npm', ['run', 'build', '-w', 'apps/web', '--silent'], { cwd: ROOT });
}

/** Builds what is out of date: every package, then the pages. */
export async function build() {
  await buildPrograms();
  await buildPages();
}
