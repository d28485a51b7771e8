// A school on several machines, before a deadline: three servers and three workers, an object store, a primary behind a pooler, and a replica, each in
// processes of its own. Sixty students hand in within five minutes while six people review and two hundred read; any one of the machines is killed, the
// primary, the replica and the store too; the replica is paused; the store answers slowly, with 503, or with half of what it has. What was acknowledged
// is held against what is stored.
import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { parseArgs } from 'node:util';
import { ApplicationProcess } from './application-process.mjs';
import { ensureDatabase, startCluster } from './cluster.mjs';
import { percentile } from './demo-server.mjs';
import { DATA, ensurePackages, freePort, ROOT } from './run.mjs';
import { SERVICE_PACKAGES, startObjectStore, startPooler, startReplica } from './services.mjs';

const [STUDENTS, REVIEWERS, READERS] = [60, 6, 200];
/** Each reader looks at something this often on average; each reviewer pauses so long between one thing and the next. Seconds. */
const [READS_EVERY, THINKS] = [12, 4];
/** What 95 of 100 answers may take, times what they take in quiet. */
const WITHIN = 3;

const SEED = `
  INSERT INTO cohorts (name) VALUES ('Deadline');
  INSERT INTO people (name, email, role, password_hash)
    SELECT 'Student ' || k, 'load' || k || '@saltwick.example', 'student', '-' FROM generate_series(1, ${STUDENTS + READERS}) k;
  INSERT INTO people (name, email, role, password_hash)
    SELECT 'Reviewer ' || k, 'reviews' || k || '@saltwick.example', 'instructor', '-' FROM generate_series(1, ${REVIEWERS}) k;
  INSERT INTO enrolments (person_id, cohort_id, role)
    SELECT p.id, c.id, p.role FROM people p, cohorts c WHERE c.name = 'Deadline' AND p.email ~ '^(load|reviews)';
  INSERT INTO assignments (brief_id, cohort_id, due_at, created_by)
    SELECT b.id, c.id, now() + interval '5 minutes', (SELECT id FROM people WHERE role = 'instructor' LIMIT 1)
      FROM briefs b, cohorts c WHERE b.title = 'Night round' AND c.name = 'Deadline' ORDER BY b.version DESC LIMIT 1;`;

/** @returns the exit code */
export async function loadMachines() {
  const { values } = parseArgs({
    options: {
      machines: { type: 'boolean' },
      seconds: { type: 'string', default: '300' },
      seed: { type: 'string', default: '1' },
    },
  });
  const seconds = Number(values.seconds);
  let state = Number(values.seed) >>> 0;
  const random = () => (state = (Math.imul(1664525, state) + 1013904223) >>> 0) / 2 ** 32;
  const pick = (list) => list[Math.floor(random() * list.length)];
  ensurePackages(SERVICE_PACKAGES);
  const { default: pg } = await import('pg');
  const { walkExemplar } = await import('../../packages/core/dist/exemplar/walk.js');
  const { writeBvh } = await import('../../packages/core/dist/formats/bvh/write-bvh.js');

  const folder = join(DATA, 'load-machines');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  let failures = 0;
  const expectThat = (what, holds, detail = '') => {
    if (!holds) failures++;
    console.log(`${holds ? 'holds' : 'FAILS'}  ${what}${detail ? `: ${detail}` : ''}`);
  };
  // A database that gives up safety for speed would lose what it acknowledged.
  const cluster = await startCluster('load-machines');
  const name = `machines_${process.pid}`;
  const direct = await ensureDatabase(cluster, name);
  const store = await startObjectStore(ROOT, join(folder, 'store'));
  const pooler = await startPooler(ROOT, direct, join(cluster.folder, 'pooler'));
  const database = new pg.Pool({ connectionString: direct, max: 4 });
  database.on('error', () => undefined);
  /** What is asked here waits for the database as well, while that is down. */
  const rows = async (sql, bind = []) => {
    for (let k = 0; ; k++)
      try {
        return (await database.query(sql, bind)).rows;
      } catch (error) {
        if (k === 60 || /^(22|23|42)/.test(error.code ?? '')) throw error;
        await sleep(500);
      }
  };
  let replica;
  const all = [];
  try {
    const of = (machine) => ({
      DATABASE_URL: pooler.url,
      DATABASE_DIRECT_URL: direct,
      ...(replica && { DATABASE_READ_URL: replica.url }),
      FILES_DIR: join(folder, machine),
      FILES_HOME: 'objects',
      ...store.environment,
      DEMO_CLIPS: '0',
      DEMO_TERM: '0',
    });
    // The school is made before the replica is a copy of it.
    const first = new ApplicationProcess('server', of('first'), await freePort());
    await first.start();
    await first.stop();
    await database.query(SEED);
    replica = await startReplica(ROOT, direct, 'load-machines-replica');
    const servers = [];
    for (const machine of ['server-1', 'server-2', 'server-3'])
      servers.push(new ApplicationProcess('server', of(machine), await freePort()));
    const workers = ['worker-1', 'worker-2', 'worker-3'].map(
      (machine) => new ApplicationProcess('worker', of(machine)),
    );
    all.push(...servers, ...workers);
    for (const one of all) await one.start();

    let times = {};
    const unexpected = [];
    /** How far the database was when somebody last changed something, as their browser keeps it beside their session. */
    const written = new Map();
    const cookiesOf = (response) => response.headers.getSetCookie().map((cookie) => cookie.split(';')[0]);
    /** A request to one of the servers, and to another where that one does not answer, as a proxy does it; how long its answer took in all. */
    const ask = async (kind, cookie, method, path, { body, headers = {} } = {}) => {
      const began = performance.now();
      for (let k = 0; k < 60; k++) {
        const { port } = pick(servers);
        try {
          const response = await fetch(`http://127.0.0.1:${port}${path}`, {
            method,
            signal: AbortSignal.timeout(30_000),
            headers: {
              'x-ypsigraph': '1',
              ...(cookie && { cookie: [cookie, written.get(cookie) ?? []].flat().join('; ') }),
              ...headers,
            },
            ...(body !== undefined && { body }),
          });
          const text = await response.text();
          // A proxy tries the next server where one is about to end or does not answer; what the school itself says goes to who asked.
          for (const own of cookiesOf(response)) if (cookie && own.startsWith('written=')) written.set(cookie, own);
          if (response.status < 500) {
            if (method === 'GET' && response.status !== 200)
              unexpected.push(`${kind}: ${response.status} ${text.slice(0, 200)}`);
            (times[kind] ??= []).push(performance.now() - began);
            return { status: response.status, headers: response.headers, body: json(text) };
          }
          if (response.status !== 503)
            unexpected.push(`${method} ${path.replace(/[0-9a-f-]{36}/g, '…')}: ${response.status}`);
        } catch {
          // Killed in the middle.
        }
        await sleep(150);
      }
      throw new Error(`${method} ${path}: nobody answered`);
    };
    const json = (text) => {
      try {
        return JSON.parse(text);
      } catch {
        return undefined;
      }
    };
    const posted = (body) => ({ body: JSON.stringify(body), headers: { 'content-type': 'application/json' } });
    const comeIn = async (person) => {
      const answer = await ask('sign-in', undefined, 'POST', '/api/demo/session', posted({ person }));
      return cookiesOf(answer).find((cookie) => !cookie.startsWith('written='));
    };
    const people = await rows(`SELECT id, email, role FROM people WHERE email ~ '^(load|reviews)' ORDER BY email`);
    const ofRole = (role) => people.filter((own) => own.role === role).map(({ id }) => id);
    const students = ofRole('student');
    const [{ id: assignment }] = await rows(
      `SELECT a.id FROM assignments a JOIN cohorts c ON c.id = a.cohort_id WHERE c.name = 'Deadline'`,
    );
    const [{ id: cohort }] = await rows(`SELECT id FROM cohorts WHERE name = 'Deadline'`);
    const cookies = new Map();
    for (const id of [...students, ...ofRole('instructor')]) cookies.set(id, await comeIn(id));
    console.log(`${STUDENTS} hand in, ${REVIEWERS} review, ${READERS} read, over ${seconds} seconds; quiet first`);

    let going = true;
    const pause = async (mean) => {
      const until = performance.now() + 1_000 * mean * (0.2 + 1.6 * random());
      while (going && performance.now() < until) await sleep(100);
    };
    /** Somebody who looks at what is set for them, what came of it, and what the others do. */
    const reads = async (id) => {
      while (going) {
        await pause(READS_EVERY);
        if (!going) return;
        const cookie = cookies.get(id);
        const what = random();
        if (what < 0.5) await ask('worksheet', cookie, 'GET', '/api/worksheet');
        else if (what < 0.75) await ask('folio', cookie, 'GET', `/api/people/${id}/folio`);
        else await ask('brief', cookie, 'GET', `/api/assignments/${assignment}`);
      }
    };
    const acknowledged = { handIns: [], marks: [], sentBack: [] };
    /** Somebody who takes what waits, marks it and sends it back. */
    const reviews = async (id) => {
      const cookie = cookies.get(id);
      while (going) {
        await ask('docket', cookie, 'GET', '/api/docket');
        await ask('ledger', cookie, 'GET', `/api/cohorts/${cohort}/ledger`);
        await pause(THINKS);
        const waiting = await rows(
          `SELECT r.id, r.shot_id FROM revisions r JOIN shots s ON s.id = r.shot_id WHERE s.assignment_id = $1 AND r.state = 'handed in'
              AND r.reading_state = 'read' ORDER BY random() LIMIT 1`,
          [assignment],
        );
        if (waiting.length === 0) continue;
        const [{ id: revision, shot_id: shot }] = waiting;
        await ask('shot', cookie, 'GET', `/api/shots/${shot}`);
        const mark = { kind: 'note', from: 1, to: 2, point: null, words: `mark ${randomUUID()}`, key: randomUUID() };
        const made = await ask('mark', cookie, 'POST', `/api/revisions/${revision}/marks`, posted(mark));
        if (made.status === 201) acknowledged.marks.push(mark);
        else if (made.status !== 409) unexpected.push(`mark: ${made.status} ${JSON.stringify(made.body)}`);
        const words = `back ${randomUUID()}`;
        const back = await ask(
          'send back',
          cookie,
          'POST',
          `/api/revisions/${revision}/send-back`,
          posted({ words, asked: '' }),
        );
        if (back.status === 200) acknowledged.sentBack.push({ revision, words });
        // Another was quicker, or the answer to the same was lost.
        else if (back.status !== 409) unexpected.push(`send-back: ${back.status} ${JSON.stringify(back.body)}`);
      }
    };
    let made = 0;
    /** A student who hands in at some moment before the deadline, in two pieces, and goes on where it was cut. */
    const handsIn = async (id) => {
      await sleep(1_000 * (seconds - 20) * random());
      const text = writeBvh(walkExemplar({ stride: 60 + made++ / 50 }, {}));
      const bytes = Buffer.from(text);
      const sha256 = createHash('sha256').update(bytes).digest('hex');
      const cookie = cookies.get(id);
      const tus = { 'tus-resumable': '1.0.0' };
      const began = performance.now();
      for (;;) {
        const begun = await ask('upload', cookie, 'POST', '/api/uploads', {
          headers: {
            ...tus,
            'upload-length': String(bytes.length),
            'upload-metadata': `filename ${Buffer.from('walk.bvh').toString('base64')}`,
          },
        });
        const path = begun.headers.get('location');
        if (begun.status !== 201 || !path) {
          unexpected.push(`upload: ${begun.status} ${JSON.stringify(begun.body)}`);
          return;
        }
        let gone = false;
        for (let offset = 0; offset < bytes.length && !gone;) {
          const piece = bytes.subarray(offset, offset + Math.ceil(bytes.length / 2));
          await ask('upload', cookie, 'PATCH', path, {
            body: piece,
            headers: { ...tus, 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' },
          });
          const at = await ask('upload', cookie, 'HEAD', path, { headers: tus });
          gone = at.status === 404;
          offset = Number(at.headers.get('upload-offset') ?? 0);
        }
        if (gone) continue;
        const upload = path.split('/').at(-1);
        const handed = await ask(
          'hand in',
          cookie,
          'POST',
          `/api/assignments/${assignment}/uploads/${upload}`,
          posted({ stage: 'smoothing', note: '' }),
        );
        if (handed.status === 201) {
          acknowledged.handIns.push({ ...handed.body, student: id, sha256 });
          (times['a whole hand-in'] ??= []).push(performance.now() - began);
          return;
        }
        unexpected.push(`hand-in: ${handed.status} ${JSON.stringify(handed.body)}`);
        await sleep(500);
      }
    };

    const readers = students.slice(STUDENTS);
    const quietly = async (period) => {
      going = true;
      const everybody = [...readers.map(reads), ...ofRole('instructor').map(reviews)];
      await sleep(1_000 * period);
      going = false;
      await Promise.all(everybody);
    };
    await quietly(10);
    times = {};
    await quietly(Math.min(60, seconds / 3));
    const quiet = times;
    times = {};

    going = true;
    const everybody = [...readers.map(reads), ...ofRole('instructor').map(reviews)];
    const handing = students.slice(0, STUDENTS).map(handsIn);
    const happened = {};
    const until = performance.now() + 1_000 * seconds;
    const troubles = [
      async () => {
        const victim = pick(servers);
        await victim.kill();
        await sleep(1_000);
        await victim.start();
        return 'a server killed';
      },
      async () => {
        const victim = pick(workers);
        await victim.kill();
        await sleep(1_000);
        await victim.start();
        return 'a worker killed';
      },
      async () => {
        await replica.pause();
        await sleep(8_000);
        await replica.resume();
        return 'the replica paused';
      },
      async () => {
        await cluster.crash();
        return 'the primary killed';
      },
      async () => {
        await replica.crash();
        return 'the replica killed';
      },
      async () => {
        await store.crash();
        return 'the store killed';
      },
      ...[
        ['slow', 300],
        ['away', 0],
        ['half', 3],
      ].map(([how, size]) => async () => {
        await store.answer(how, size);
        await sleep(6_000);
        await store.answer('well');
        return `the store ${how}`;
      }),
    ];
    // Each at least once, then any.
    for (let k = 0; performance.now() < until - 10_000; k++) {
      await sleep(10_000 + 10_000 * random());
      const what = await (troubles[k] ?? pick(troubles))();
      happened[what] = (happened[what] ?? 0) + 1;
      for (const one of all)
        if (!one.alive) {
          unexpected.push(`${one.name} ended by itself`);
          await one.start();
        }
    }
    await Promise.all(handing);
    while (performance.now() < until) await sleep(200);
    going = false;
    await Promise.all(everybody);
    console.log(`what went wrong on purpose: ${JSON.stringify(happened)}`);

    for (let round = 0; round < 240; round++) {
      const [{ n }] = await rows(
        `SELECT count(*)::int AS n FROM revisions WHERE reading_state IN ('queued', 'reading')`,
      );
      if (n === 0) break;
      await sleep(500);
    }
    const stored = await rows(
      `SELECT r.id, r.shot_id AS shot, s.student_id AS student, r.file_sha256 AS sha256, r.reading_state AS reading, r.words FROM revisions r JOIN shots s ON s.id = r.shot_id WHERE s.assignment_id = $1`,
      [assignment],
    );
    const byId = new Map(stored.map((row) => [row.id, row]));
    const { ObjectHome } = await import('../../apps/server/dist/files/object-home.js');
    const { objectClient } = await import('../../apps/server/dist/files/object-client.js');
    const home = new ObjectHome(
      objectClient({ S3_REGION: 'us-east-1', ...store.environment, S3_PATH_STYLE: true }),
      store.environment.S3_BUCKET,
    );
    /** The hash of a file as it is stored; of a store that was killed last it is asked again. */
    const storedHash = async (sha256) => {
      for (let k = 0; ; k++)
        try {
          const hash = createHash('sha256');
          for await (const chunk of await home.open(sha256)) hash.update(chunk);
          return hash.digest('hex');
        } catch (error) {
          if (k === 20) return String(error);
          await sleep(500);
        }
    };
    let lost = 0;
    for (const { revision, sha256 } of acknowledged.handIns)
      if (byId.get(revision)?.sha256 !== sha256 || (await storedHash(sha256)) !== sha256) lost++;
    expectThat(
      'everybody’s hand-in was acknowledged, and is stored whole',
      lost === 0 && acknowledged.handIns.length === STUDENTS,
      `${acknowledged.handIns.length} of ${STUDENTS}, ${lost} lost`,
    );
    expectThat('nobody’s was handed in twice', stored.length === STUDENTS, `${stored.length} revisions`);
    const unread = stored.filter(({ reading }) => reading !== 'read').map(({ reading }) => reading);
    expectThat('every file was read in the end', unread.length === 0, unread.join(', '));
    const [{ n: readings }] = await rows(
      `SELECT count(*)::int AS n FROM (SELECT revision_id FROM readings d JOIN revisions r ON r.id = d.revision_id JOIN shots s ON s.id = r.shot_id WHERE s.assignment_id = $1 GROUP BY revision_id, core_version HAVING count(*) > 1) t`,
      [assignment],
    );
    expectThat('and measured once', readings === 0);
    const marks = new Map((await rows('SELECT id, words FROM marks')).map((row) => [row.id, row.words]));
    expectThat(
      'every acknowledged mark is stored',
      acknowledged.marks.every(({ key, words }) => marks.get(key) === words),
      `${acknowledged.marks.length} marks`,
    );
    const [{ n: twice }] = await rows(
      `SELECT count(*)::int AS n FROM (SELECT mark_id FROM mark_events WHERE what = 'made' GROUP BY mark_id HAVING count(*) > 1) t`,
    );
    expectThat('none was made twice', twice === 0);
    expectThat(
      'what was sent back has its words',
      acknowledged.sentBack.every(({ revision, words }) => byId.get(revision)?.words === words),
      `${acknowledged.sentBack.length} sent back`,
    );
    const [{ n: backs }] = await rows(
      `SELECT count(*)::int AS n FROM (SELECT revision_id FROM revision_events WHERE what = 'sent back' GROUP BY revision_id HAVING count(*) > 1) t`,
    );
    const [{ n: told }] = await rows(
      `SELECT count(*)::int AS n FROM (SELECT person_id, text FROM outbox WHERE about = 'sent back' GROUP BY 1, 2 HAVING count(*) > 1) t`,
    );
    expectThat('and was sent back, and told, once', backs === 0 && told === 0);
    expectThat('nothing else went wrong', unexpected.length === 0, [...new Set(unexpected)].slice(0, 6).join(' | '));

    let within = 0;
    let count = 0;
    for (const kind of Object.keys(quiet)) {
      const [calm, storm] = [quiet[kind], times[kind] ?? []];
      if (calm.length < 5 || storm.length < 5) continue;
      const usual = percentile(calm, 0.95);
      within += storm.filter((time) => time <= WITHIN * usual).length;
      count += storm.length;
      console.log(
        `${kind.padEnd(12)} p50 ${(percentile(storm, 0.5) / percentile(calm, 0.5)).toFixed(2)}  p95 ${(percentile(storm, 0.95) / usual).toFixed(2)} times the quiet ones (${calm.length} and ${storm.length} answers)`,
      );
    }
    expectThat(
      `95 of 100 answers come within ${WITHIN} times what 95 of 100 take in quiet`,
      within >= 0.95 * count,
      `${((100 * within) / count).toFixed(1)} of 100`,
    );
    return failures === 0 ? 0 : 1;
  } finally {
    for (const one of all) await one.stop().catch(() => undefined);
    await database.end().catch(() => undefined);
    await pooler.end();
    await replica?.end();
    await store.end();
    cluster.stop();
    rmSync(cluster.folder, { recursive: true, force: true });
  }
}
