// npm run demo: everything from a fresh machine to one address. `-- --reset` starts over.
import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { build } from './lib/build.mjs';
import { ensureDatabase, postgresBinaries, startCluster } from './lib/cluster.mjs';
import { DATA, ensureModules, ensurePackages, freePort, isAlive, ROOT } from './lib/run.mjs';

const { values } = parseArgs({
  options: { reset: { type: 'boolean', default: false }, port: { type: 'string', default: '4680' } },
});
const folder = join(DATA, 'demo');
const running = join(folder, 'running.json');

/** The address of a demo that runs already. */
async function alreadyRunning() {
  if (!existsSync(running)) return undefined;
  try {
    const { pid, address } = JSON.parse(readFileSync(running, 'utf8'));
    if (!isAlive(pid)) return undefined;
    const answer = await fetch(`${address}/api/ready`, { signal: AbortSignal.timeout(2_000) });
    return answer.ok ? address : undefined;
  } catch {
    return undefined;
  }
}

function secret() {
  const path = join(folder, 'session-secret');
  if (!existsSync(path)) writeFileSync(path, randomBytes(32).toString('hex'), { mode: 0o600 });
  return readFileSync(path, 'utf8');
}

const there = await alreadyRunning();
if (there) {
  console.log(
    values.reset ? `The demo runs at ${there}: stop it first, then reset it.` : `The demo runs already: ${there}`,
  );
  process.exit(values.reset ? 1 : 0);
}

ensurePackages([
  { name: 'postgresql', present: () => postgresBinaries() !== undefined },
  { name: 'ffmpeg', present: () => existsSync('/usr/bin/ffmpeg') },
]);
ensureModules();
await build();

mkdirSync(folder, { recursive: true });
let cluster = await startCluster('demo');
if (values.reset) {
  cluster.stop();
  rmSync(join(cluster.folder, 'postgres'), { recursive: true, force: true });
  rmSync(join(folder, 'files'), { recursive: true, force: true });
  cluster = await startCluster('demo');
}
const database = await ensureDatabase(cluster, 'ypsigraph');
const wanted = Number(values.port);
const port = await freePort(wanted);
if (port !== wanted) console.log(`port ${wanted} is in use; taking ${port}`);

const server = fork(join(ROOT, 'apps/server/dist/main.js'), [], {
  env: {
    ...process.env,
    DATABASE_URL: database,
    FILES_DIR: join(folder, 'files'),
    SESSION_SECRET: secret(),
    PORT: String(port),
    WEB_DIR: join(ROOT, 'apps/web/dist'),
    PROCESS: 'both',
    DEMO: '1',
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
  },
});
server.on('message', ({ address }) => {
  writeFileSync(running, JSON.stringify({ pid: process.pid, address }));
  console.log(`\n  Ypsigraph, the demo of Saltwick Night School:  ${address}\n\n  Ctrl-C stops it; its data stays.`);
});

let ending = false;
function end(signal) {
  if (ending) return;
  ending = true;
  server.kill(signal);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => end('SIGTERM'));
server.on('exit', (code) => {
  rmSync(running, { force: true });
  cluster.stop();
  process.exit(ending ? 0 : (code ?? 1));
});
