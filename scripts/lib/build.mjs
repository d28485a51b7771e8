import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { capture, ROOT } from './run.mjs';

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

/** Builds what is out of date: every package, then the pages. */
export function build() {
  capture('npx', ['tsc', '-b', 'apps/server', 'packages/cli'], { stdio: ['ignore', 'pipe', 'pipe'] });
  const page = join(ROOT, 'apps/web/dist/index.html');
  const sources = ['apps/web', 'packages/core/src', 'packages/contract/src'].map((folder) =>
    newest(join(ROOT, folder)),
  );
  if (existsSync(page) && statSync(page).mtimeMs > Math.max(...sources)) return;
  console.log('building the pages …');
  capture('npm', ['run', 'build', '-w', 'apps/web', '--silent']);
}
