// npm run soak: what a day of bad luck does. Two servers and two workers on one database; people write while processes and the database itself are
// killed at random moments, and a ledger of what was acknowledged is compared with what is stored; meanwhile files come and go, and one backup after
// the other is made and restored. Then hostile clips, a database that hangs, a full disk, and the documented installation.
//
//   npm run soak -- --rounds 200 --seed 3
//   npm run soak -- --only installation
//   npm run soak -- --only several     the same on several machines
//   npm run soak -- --only formats
//   npm run soak -- --only proofs      all tests, with those that only the long run has
import { spawnSync } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { ApplicationProcess } from './lib/application-process.mjs';
import { build } from './lib/build.mjs';
import { ensureDatabase, startCluster } from './lib/cluster.mjs';
import { DATA, freePort, ROOT } from './lib/run.mjs';
import { backUpAndRestore, filesComeAndGo } from './lib/soak-backup.mjs';
import { bombs } from './lib/soak-bombs.mjs';
import { mutatedFiles } from './lib/soak-formats.mjs';
import { tryInstallation } from './lib/soak-installation.mjs';
import { trySeveral } from './lib/soak-several.mjs';

const { values } = parseArgs({
  options: {
    rounds: { type: 'string', default: '200' },
    seed: { type: 'string', default: '1' },
    only: { type: 'string' },
  },
});
const rounds = Number(values.rounds);
await build();
const { walkExemplar } = await import('../packages/core/dist/exemplar/walk.js');
const { writeBvh } = await import('../packages/core/dist/formats/bvh/write-bvh.js');
const { default: pg } = await import('pg');

let state = Number(values.seed) >>> 0;
const random = () => (state = (Math.imul(1664525, state) + 1013904223) >>> 0) / 2 ** 32;
const pick = (list) => list[Math.floor(random() * list.length)];
const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

const folder = join(DATA, 'soak');
rmSync(folder, { recursive: true, force: true });
const files = join(folder, 'files');
mkdirSync(files, { recursive: true });
const say = (text) => console.log(text);
let failures = 0;
const expectThat = (what, holds, detail = '') => {
  if (!holds) failures++;
  say(`${holds ? 'holds' : 'FAILS'}  ${what}${detail ? `: ${detail}` : ''}`);
};
const motion = writeBvh(walkExemplar({}, { pop: 26 }));
if (values.only === 'proofs')
  process.exit(
    spawnSync(process.execPath, [join(ROOT, 'scripts/test.mjs'), '--long'], { stdio: 'inherit' }).status ?? 1,
  );
if (values.only === 'formats') {
  await mutatedFiles({ expectThat, random });
  finish();
}
if (values.only === 'several') {
  await trySeveral({ expectThat, say, folder, motion });
  finish();
}
if (values.only === 'installation') {
  await tryInstallation({ expectThat, say, folder, motion });
  finish();
}

const databasePort = await freePort();
// A database that gives up safety for speed would lose what it acknowledged.
let cluster = await startCluster('soak', { port: databasePort });
const url = await ensureDatabase(cluster, `soak_${process.pid}`);

const environment = { DATABASE_URL: url, FILES_DIR: files };
const servers = [
  new ApplicationProcess('server', environment, await freePort()),
  new ApplicationProcess('server', environment, await freePort()),
];
const workers = [new ApplicationProcess('worker', environment), new ApplicationProcess('worker', environment)];
const all = [...servers, ...workers];

/** A request to one of the servers; `undefined` where none answered. */
async function ask(cookie, method, path, body, timeout = 30_000) {
  const { port } = pick(servers);
  try {
    const response = await fetch(`http://127.0.0.1:${port}${path}`, {
      method,
      signal: AbortSignal.timeout(timeout),
      headers: {
        'x-ypsigraph': '1',
        ...(cookie && { cookie }),
        ...(body && !(body instanceof FormData) && { 'content-type': 'application/json' }),
      },
      ...(body && { body: body instanceof FormData ? body : JSON.stringify(body) }),
    });
    const text = await response.text();
    return { status: response.status, body: text ? JSON.parse(text) : undefined, headers: response.headers };
  } catch {
    return undefined;
  }
}
const passing = (answer) => !answer || answer.status >= 500;
/** Asks until somebody answers with something that will not change by asking again. */
async function insist(cookie, method, path, body) {
  for (;;) {
    const answer = await ask(cookie, method, path, typeof body === 'function' ? body() : body);
    if (!passing(answer)) return answer;
    if (answer?.status === 500) unexpected.push(`${method} ${path}: 500`);
    await sleep(200);
  }
}
async function comeIn(person) {
  const answer = await insist(undefined, 'POST', '/api/demo/session', { person });
  return answer.headers.get('set-cookie').split(';')[0];
}

/** What was acknowledged. */
const ledger = { marks: [], replies: [], handIns: [], sentBack: [] };
const unexpected = [];
let writing = true;
let made = 0;

/** One student and the instructor: files handed in, marked, sent back, answered, over and over. */
async function write(student, instructor, assignment) {
  while (writing) {
    const text = writeBvh(walkExemplar({ stride: 60 + (made++ % 400) / 50 }, {})) + '\n'.repeat(made);
    const sha256 = createHash('sha256').update(text).digest('hex');
    const form = () => {
      const data = new FormData();
      data.set('stage', 'smoothing');
      data.set('file', new Blob([text]), 'walk.bvh');
      return data;
    };
    const handed = await insist(student, 'POST', `/api/assignments/${assignment}/revisions`, form);
    let revision = handed.body.revision;
    if (handed.status === 409) {
      // It was stored, and the answer was lost.
      const sheet = await insist(student, 'GET', '/api/worksheet');
      revision = sheet.body.find((entry) => entry.assignment.id === assignment)?.revision?.id;
    } else if (handed.status !== 201) {
      unexpected.push(`hand-in: ${handed.status} ${JSON.stringify(handed.body)}`);
      continue;
    }
    ledger.handIns.push({ revision, sha256 });
    for (let k = 0; k < 3; k++) {
      const mark = {
        kind: 'note',
        from: k + 1,
        to: k + 2,
        point: null,
        words: `mark ${randomUUID()}`,
        key: randomUUID(),
      };
      const answer = await insist(instructor, 'POST', `/api/revisions/${revision}/marks`, mark);
      if (answer.status === 201) ledger.marks.push(mark);
      else unexpected.push(`mark: ${answer.status} ${JSON.stringify(answer.body)}`);
      if (k > 0) continue;
      await insist(instructor, 'PATCH', `/api/marks/${mark.key}`, { to: 9 });
    }
    const words = `back ${randomUUID()}`;
    const back = await insist(instructor, 'POST', `/api/revisions/${revision}/send-back`, { words, asked: '' });
    if (back.status === 200) ledger.sentBack.push({ revision, words });
    else unexpected.push(`send-back: ${back.status} ${JSON.stringify(back.body)}`);
    const reply = { key: randomUUID(), words: `reply ${randomUUID()}` };
    const { key } = ledger.marks.at(-1) ?? {};
    const answered = await insist(student, 'POST', `/api/marks/${key}/replies`, reply);
    if (answered.status === 201) ledger.replies.push({ ...reply, mark: key });
    else if (answered.status !== 403) unexpected.push(`reply: ${answered.status} ${JSON.stringify(answered.body)}`);
  }
}

const isThere = (pid) => {
  try {
    return process.kill(pid, 0);
  } catch {
    return false;
  }
};

async function killPostmaster() {
  if (isThere(cluster.pid)) process.kill(cluster.pid, 'SIGKILL');
  while (isThere(cluster.pid)) await sleep(50);
  for (let round = 0; ; round++) {
    await sleep(300);
    try {
      cluster = await startCluster('soak', { port: databasePort });
      return;
    } catch (error) {
      // What is left of the old one still holds its memory.
      if (round > 30) throw error;
    }
  }
}

const client = async () => {
  const connection = new pg.Client({ connectionString: url });
  await connection.connect();
  return connection;
};
try {
  for (const one of all) await one.start();
  const db = await client();
  const people = (await db.query('SELECT id, name, role FROM people')).rows;
  const { rows: assignments } = await db.query(
    `SELECT a.id, e.person_id AS student FROM assignments a JOIN briefs b ON b.id = a.brief_id
       JOIN enrolments e ON e.cohort_id = a.cohort_id AND e.role = 'student'
      WHERE b.title = 'Night round' AND NOT EXISTS (SELECT 1 FROM shots s WHERE s.assignment_id = a.id AND s.student_id = e.person_id)
      ORDER BY e.person_id LIMIT 4`,
  );
  await db.end();
  const instructor = await comeIn(people.find(({ role }) => role === 'instructor').id);
  const writers = [];
  for (const { id, student } of assignments) writers.push(write(await comeIn(student), instructor, id));
  const backed = [
    filesComeAndGo({ insist, instructor, files, ends: () => !writing }),
    backUpAndRestore({
      cluster: () => cluster,
      folder,
      environment: { DATABASE_URL: url, FILES_DIR: files, LOG_LEVEL: 'silent' },
      ends: () => !writing,
    }),
  ];
  const killed = {};
  for (let round = 0; round < rounds; round++) {
    await sleep(300 + 1_500 * random());
    const victim = random() < 0.2 ? 'database' : pick(all);
    const name = victim === 'database' ? victim : victim.kind;
    killed[name] = (killed[name] ?? 0) + 1;
    if (victim === 'database') await killPostmaster();
    else {
      await victim.kill();
      await victim.start();
    }
    for (const one of all)
      if (!one.alive) {
        unexpected.push(`${one.name} ended by itself in round ${round}`);
        await one.start();
      }
    if (round % 20 === 19) say(`round ${round + 1}: ${ledger.marks.length} marks, ${ledger.handIns.length} hand-ins`);
  }
  writing = false;
  await Promise.all(writers);
  say(`killed: ${JSON.stringify(killed)}`);
  const [dropped, backups] = await Promise.all(backed);
  expectThat(
    'every backup that was made while files came and went could be restored',
    backups.wrong.length === 0 && backups.restored === backups.made && backups.made > 0,
    `${backups.made} made, ${backups.restored} restored, ${backups.away} broken off with the database, ${dropped} files dropped ${backups.wrong.slice(0, 2).join(' | ').slice(0, 300)}`,
  );

  const after = await client();
  const rowsOf = async (sql, bind = []) => (await after.query(sql, bind)).rows;
  const stored = new Map((await rowsOf('SELECT id, words, sent_at FROM marks')).map((row) => [row.id, row]));
  const lostMarks = ledger.marks.filter(({ key, words }) => stored.get(key)?.words !== words);
  expectThat(
    'every acknowledged mark is stored',
    lostMarks.length === 0,
    `${ledger.marks.length} marks, ${lostMarks.length} lost`,
  );
  const [twice] = await rowsOf(
    `SELECT count(*)::int AS n FROM (SELECT mark_id FROM mark_events WHERE what = 'made' GROUP BY mark_id HAVING count(*) > 1) t`,
  );
  expectThat('no mark was made twice', twice.n === 0);
  const unsent = ledger.marks.filter(({ key }) => stored.get(key) && !stored.get(key).sent_at);
  expectThat('no mark stayed behind when its revision was sent back', unsent.length === 0);
  const replies = new Map((await rowsOf('SELECT id, words FROM replies')).map((row) => [row.id, row.words]));
  const lostReplies = ledger.replies.filter(({ key, words }) => replies.get(key) !== words);
  expectThat('every acknowledged answer is stored', lostReplies.length === 0, `${ledger.replies.length} answers`);
  const revisions = new Map((await rowsOf('SELECT id, file_sha256, words FROM revisions')).map((row) => [row.id, row]));
  const lostFiles = ledger.handIns.filter(({ revision, sha256 }) => {
    const path = join(files, sha256.slice(0, 2), sha256);
    return (
      revisions.get(revision)?.file_sha256 !== sha256 ||
      !existsSync(path) ||
      createHash('sha256').update(readFileSync(path)).digest('hex') !== sha256
    );
  });
  expectThat('every acknowledged file is stored whole', lostFiles.length === 0, `${ledger.handIns.length} files`);
  const lostWords = ledger.sentBack.filter(({ revision, words }) => revisions.get(revision)?.words !== words);
  expectThat('every send-back has its words', lostWords.length === 0, `${ledger.sentBack.length} sent back`);
  const [backs] = await rowsOf(
    `SELECT count(*)::int AS n FROM (SELECT revision_id FROM revision_events WHERE what = 'sent back' GROUP BY revision_id HAVING count(*) > 1) t`,
  );
  expectThat('nothing was sent back twice', backs.n === 0);
  let waiting = Infinity;
  for (let round = 0; round < 240 && waiting > 0; round++) {
    [{ n: waiting }] = await rowsOf(
      `SELECT count(*)::int AS n FROM revisions WHERE reading_state IN ('queued', 'reading')`,
    );
    if (waiting > 0) await sleep(1_000);
  }
  const [failed] = await rowsOf(`SELECT count(*)::int AS n FROM revisions WHERE reading_state = 'failed'`);
  expectThat(
    'every file was read in the end',
    waiting === 0,
    `${waiting} wait, ${failed.n} given up after three tries`,
  );
  expectThat('nothing else went wrong', unexpected.length === 0, [...new Set(unexpected)].slice(0, 5).join(' | '));
  await after.end();

  await mutatedFiles({ expectThat, random });
  await bombs({ insist, comeIn, students: assignments, motion, expectThat });

  // A database that hangs: it takes connections and answers nothing.
  const pids = spawnSync('pgrep', ['-P', String(cluster.pid)], { encoding: 'utf8' })
    .stdout.trim()
    .split('\n')
    .map(Number);
  const each = (signal) =>
    [cluster.pid, ...pids].forEach((pid) => {
      try {
        process.kill(pid, signal);
      } catch {
        /* it has ended */
      }
    });
  each('SIGSTOP');
  const began = Date.now();
  const health = await ask(undefined, 'GET', '/api/ready', undefined, 60_000);
  const took = Date.now() - began;
  const hung = await ask(instructor, 'GET', '/api/docket', undefined, 60_000);
  expectThat(
    'a database that hangs is said so by health',
    health?.status === 503 && took < 10_000,
    `${health?.status}`,
  );
  expectThat(
    'and by everything else, as a problem document',
    hung?.status === 503 && hung.headers.get('content-type').includes('problem+json'),
    `${hung?.status}`,
  );
  each('SIGCONT');
  await sleep(3_000);
  const well = await insist(instructor, 'GET', '/api/docket');
  expectThat('and it goes on when the database does', well.status === 200 && all.every((one) => one.alive));

  // The database away for 12 s while shots are read.
  const again = await client();
  await again.query(
    `UPDATE revisions SET reading_state = 'queued', reading_beat = now() - interval '1 hour' WHERE id IN (SELECT id FROM revisions LIMIT 30)`,
  );
  await again.end();
  await sleep(1_000);
  cluster.stop();
  await sleep(12_000);
  cluster = await startCluster('soak', { port: databasePort });
  expectThat(
    'a database away for 12 s ends no process',
    all.every((one) => one.alive),
    all
      .filter((one) => !one.alive)
      .map((one) => one.name)
      .join(', '),
  );
  const last = await client();
  for (let round = 0; round < 120; round++) {
    const [{ n }] = (
      await last.query(`SELECT count(*)::int AS n FROM revisions WHERE reading_state IN ('queued', 'reading')`)
    ).rows;
    waiting = n;
    if (n === 0) break;
    await sleep(1_000);
  }
  expectThat('and what was to be read is read', waiting === 0, `${waiting} wait`);
  await last.end();

  await fullDisk(instructor, assignments[0], await comeIn(assignments[0].student));
} finally {
  writing = false;
  for (const one of all) await one.stop().catch(() => undefined);
  cluster.stop();
  rmSync(cluster.folder, { recursive: true, force: true });
}

/** A server whose files lie on a disk of 3 MB. */
async function fullDisk(instructor, { id }, student) {
  const small = join(folder, 'small');
  mkdirSync(small, { recursive: true });
  if (spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=3m', 'tmpfs', small]).status !== 0) {
    say('left out: no small disk can be mounted here');
    return;
  }
  const one = new ApplicationProcess('server', { ...environment, FILES_DIR: small }, await freePort());
  try {
    await one.start();
    servers.splice(0, servers.length, one);
    const data = new FormData();
    data.set('stage', 'smoothing');
    data.set('file', new Blob([`${writeBvh(walkExemplar({}, {}))}${' '.repeat(6 * 1024 * 1024)}`]), 'walk.bvh');
    const answer = await ask(student, 'POST', `/api/assignments/${id}/revisions`, data);
    expectThat(
      'a full disk is said in words',
      answer?.status === 507 && answer.body.type === 'storage-full',
      `${answer?.status} ${answer?.body?.title}`,
    );
    const begun = await fetch(`http://127.0.0.1:${one.port}/api/uploads`, {
      method: 'POST',
      headers: { 'x-ypsigraph': '1', cookie: student, 'tus-resumable': '1.0.0', 'upload-length': '6000000' },
    });
    const problem = await begun.json().catch(() => undefined);
    expectThat(
      'by an upload in pieces as well, before a byte of it has come',
      begun.status === 507 && problem?.type === 'storage-full',
      `${begun.status} ${problem?.title}`,
    );
    const health = await ask(undefined, 'GET', '/api/ready');
    expectThat('and seen in health', health?.body.room === false, health?.body.status);
    const left = spawnSync('find', [small, '-type', 'f'], { encoding: 'utf8' }).stdout.trim();
    expectThat('and nothing of the file is left', left === '', left);
  } finally {
    await one.stop();
    spawnSync('umount', [small]);
  }
}

await tryInstallation({ expectThat, say, folder, motion });
await trySeveral({ expectThat, say, folder, motion });
finish();

function finish() {
  say(failures === 0 ? 'everything holds' : `${failures} do not hold`);
  process.exit(failures > 0 ? 1 : 0);
}
