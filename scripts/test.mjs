// npm test: sets up what is missing, then lint, types, unit and server tests, and the interface in a browser. The last line it
// prints is “N passed, N failed”.
//
//   npm test -- --only browser            one part: checks, unit or browser
//   npm test -- --only browser --grep docket
//   npm test -- --long                    with the proofs that repeat others on more bodies and materials (npm run soak does it)
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { buildPages, buildPrograms } from './lib/build.mjs';
import { ensureDatabase, postgresBinaries, startCluster } from './lib/cluster.mjs';
import { copyMadeSchool } from './lib/made-school.mjs';
import { startEmptySchool } from './lib/empty-school.mjs';
import { SERVICE_PACKAGES } from './lib/services.mjs';
import { DATA, ensureModules, ensurePackages, ROOT, runAsync } from './lib/run.mjs';

const { values: asked } = parseArgs({
  options: { only: { type: 'string' }, grep: { type: 'string' }, long: { type: 'boolean' } },
});
if (asked.long) process.env.LONG = '1';
const isAsked = (part) => asked.only === undefined || asked.only === part;

const CHROMIUM = '/usr/bin/chromium';
const RECORDINGS = '/usr/share/assimp/models/BVH';
const results = join(DATA, 'test-results');

let passed = 0;
let failed = 0;
const tally = (name, p, f) => {
  passed += p;
  failed += f;
  console.log(`— ${name}: ${p} passed, ${f} failed`);
};

/** A step that passes or fails as a whole. */
async function check(name, command, args) {
  const code = await runAsync(command, args);
  tally(name, code === 0 ? 1 : 0, code === 0 ? 0 : 1);
}

async function jest(environment) {
  const report = join(results, 'jest.json');
  const args = ['jest', '--ci', '--json', `--outputFile=${report}`, '--maxWorkers=2', '--silent=false'];
  const code = await runAsync('npx', args, { env: { ...process.env, ...environment } });
  if (!existsSync(report)) return tally('unit and server tests', 0, 1);
  const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
  // A suite that can't even be loaded has no failed test of its own.
  const broken = numFailedTests === 0 && code !== 0 ? Math.max(1, numFailedTestSuites) : 0;
  tally('unit and server tests', numPassedTests, numFailedTests + broken);
}

async function playwright(environment) {
  const report = join(results, 'playwright.json');
  const grep = asked.grep === undefined ? [] : ['--grep', asked.grep];
  const env = { ...process.env, ...environment, PLAYWRIGHT_JSON_OUTPUT_NAME: report };
  const code = await runAsync(
    'npx',
    ['playwright', 'test', '-c', 'e2e/playwright.config.ts', '--reporter=list,json', ...grep],
    { env },
  );
  if (!existsSync(report)) return tally('the interface in a browser', 0, 1);
  const { expected, unexpected, flaky } = JSON.parse(readFileSync(report, 'utf8')).stats;
  tally('the interface in a browser', expected, unexpected + flaky + (code !== 0 && unexpected + flaky === 0 ? 1 : 0));
}

/** Under this name the server's tests keep the school that they make, for the browser's tests to begin with. */
const RUN = `run${process.pid}`;

/**
 * Schools that the browser's tests run in, side by side: each of them waits now and then, so two cores carry three. One of the tests restarts its
 * database, so each has its own.
 */
const SCHOOLS = ['test-school-1', 'test-school-2', 'test-school-3'];

/** The interface, on schools as the demo makes them and on one in which nothing is yet. */
async function browser() {
  const addresses = [];
  for (const school of SCHOOLS) {
    const own = await startCluster(school, { fast: true });
    clusters.push(own);
    const database = await ensureDatabase(own, `interface_${process.pid}`);
    const files = join(results, school);
    await copyMadeSchool(cluster.url, RUN, { database, files });
    const demo = startDemoServer({
      DATABASE_URL: database,
      FILES_DIR: files,
      SESSION_SECRET: 'only for tests, on the loopback, thrown away',
      PORT: '0',
      WEB_DIR: join(ROOT, 'apps/web/dist'),
      DEMO: '1',
      DEMO_CLIPS: '0',
      DEMO_TERM: '0',
      LOG_LEVEL: 'error',
    });
    demos.push(demo.server);
    addresses.push(demo.address);
  }
  const mail = join(results, 'mail');
  // What it is made of is there once the modules are.
  const { startMailStandIn } = await import('./lib/mail-stand-in.mjs');
  post = await startMailStandIn(mail);
  empty = await startEmptySchool(cluster, {
    ...{ database: `empty_${process.pid}`, files: join(results, 'empty-files'), smtp: post.address },
  });
  await playwright({
    BASE_URLS: (await Promise.all(addresses)).join(','),
    CLUSTERS: SCHOOLS.join(','),
    CHROMIUM,
    INVITATION: empty.invitation,
    MAIL: mail,
  });
}

function startDemoServer(environment) {
  const server = spawn(process.execPath, [join(ROOT, 'apps/server/dist/main.js')], {
    env: { ...process.env, ...environment },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  const address = new Promise((resolve, reject) => {
    server.once('message', (message) => resolve(message.address));
    server.once('exit', (code) => reject(new Error(`the server ended with ${code}`)));
  });
  return { server, address };
}

ensurePackages([
  { name: 'postgresql', present: () => postgresBinaries() !== undefined },
  { name: 'ffmpeg', present: () => existsSync('/usr/bin/ffmpeg') },
  { name: 'chromium', present: () => existsSync(CHROMIUM) },
  { name: 'assimp-testmodels', present: () => existsSync(RECORDINGS) },
  { name: 'poppler-utils', present: () => existsSync('/usr/bin/pdftotext') },
  ...SERVICE_PACKAGES,
]);
ensureModules();
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

let cluster;
const clusters = [];
const demos = [];
let empty;
let post;
let lint;
try {
  // Each is one thread. Types first, which lint reads; lint takes longest, and goes on beside the unit tests. What need not wait goes beside types.
  const pages = isAsked('browser') ? buildPages() : undefined;
  // It is waited for further down; until then nobody else hears of a failure.
  pages?.catch(() => undefined);
  if (isAsked('checks')) {
    const formatting = check('formatting', 'npx', ['prettier', '--check', '--log-level=warn', '.']);
    await check('types', 'npx', ['tsc', '-b']);
    lint = check('lint', 'npx', ['eslint', '.']);
    await formatting;
  }
  if (isAsked('unit') || isAsked('browser')) {
    await Promise.all([buildPrograms(), pages]);
    cluster = await startCluster('test', { fast: true });
    clusters.push(cluster);
  }
  if (isAsked('unit')) {
    const database = await ensureDatabase(cluster, `server_${process.pid}`);
    await jest({ TEST_DATABASE_URL: database, RECORDINGS, KEPT_RUN: RUN });
  }
  if (isAsked('browser')) await browser();
} catch (error) {
  console.error(error);
  tally('the test run itself', 0, 1);
} finally {
  await lint;
  for (const server of demos) server.kill('SIGTERM');
  await empty?.stop();
  await post?.stop();
  for (const own of clusters) {
    own.stop();
    rmSync(own.folder, { recursive: true, force: true });
  }
}
process.exitCode = failed > 0 ? 1 : 0;
console.log(`${passed} passed, ${failed} failed`);
