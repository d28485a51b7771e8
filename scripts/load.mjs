// npm run load: a school of 50,000 revisions, 500,000 marks and 300,000 findings, seeded by SQL; one person who reads, and 50 at once. Prints ratios to
// what the same statements take without a server, at the same concurrency, in the same run; and looks at the plans of those statements: none of them
// may go through the whole of a big table.
//
//   npm run load -- --machines      several servers and workers with an object store, a pooler and a read replica, while some of them are killed
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from './lib/build.mjs';
import { ensureDatabase, startCluster } from './lib/cluster.mjs';
import { percentile, startDemoServer } from './lib/demo-server.mjs';
import { DATA } from './lib/run.mjs';

const READERS = 50;
const SECONDS = Number(process.env.LOAD_SECONDS ?? 8);
/** Tables that no page may go through as a whole: those of 50,000 rows and more. */
const BIG = ['revisions', 'marks', 'findings', 'verdicts'];
await build();
if (process.argv.includes('--machines')) {
  const { loadMachines } = await import('./lib/load-machines.mjs');
  process.exit(await loadMachines());
}
const { default: pg } = await import('pg');

/** 313 students × 40 exercises × 4 revisions × 10 marks, in 13 cohorts; one in eight shots waits. */
const SEED = `
  INSERT INTO cohorts (name) SELECT 'Load ' || k FROM generate_series(1, 13) k;
  INSERT INTO people (name, email, role, password_hash)
    SELECT 'Student ' || k, 'load' || k || '@saltwick.example', 'student', '-' FROM generate_series(1, 313) k;
  INSERT INTO enrolments (person_id, cohort_id, role)
    SELECT p.id, c.id, 'student' FROM people p JOIN cohorts c ON c.name = 'Load ' || (1 + substring(p.email from 5 for position('@' in p.email) - 5)::int % 13)
     WHERE p.email LIKE 'load%';
  INSERT INTO enrolments (person_id, cohort_id, role)
    SELECT p.id, c.id, 'instructor' FROM people p, cohorts c WHERE p.role = 'instructor' AND c.name LIKE 'Load%';
  INSERT INTO briefs (title, kind) SELECT 'Load ' || k, 'walk' FROM generate_series(1, 40) k;
  INSERT INTO assignments (brief_id, cohort_id, due_at, created_by)
    SELECT b.id, c.id, now() - interval '1 day' * (substring(b.title from 6)::int - 20), (SELECT id FROM people WHERE role = 'instructor' LIMIT 1)
      FROM briefs b, cohorts c WHERE b.title LIKE 'Load%' AND c.name LIKE 'Load%';
  INSERT INTO shots (assignment_id, student_id)
    SELECT a.id, e.person_id FROM assignments a JOIN briefs b ON b.id = a.brief_id JOIN enrolments e ON e.cohort_id = a.cohort_id AND e.role = 'student'
     WHERE b.title LIKE 'Load%';
  INSERT INTO files (sha256, bytes) SELECT encode(sha256(k::text::bytea), 'hex'), 1000 FROM generate_series(1, 4) k;
  INSERT INTO revisions (shot_id, number, stage, state, file_sha256, file_name, reading_state, reading_reason, handed_in_at, judged_at, words)
    SELECT s.id, k, 'smoothing', CASE WHEN k < 4 THEN 'sent back' WHEN s.n % 8 = 0 THEN 'handed in' ELSE 'signed off' END,
           encode(sha256(k::text::bytea), 'hex'), 'walk.bvh', 'failed', 'not read here', now() - interval '1 hour' * (s.n % 900 + 24 * (4 - k)),
           CASE WHEN k < 4 OR s.n % 8 > 0 THEN now() END, 'Again.'
      FROM (SELECT id, row_number() OVER () AS n FROM shots s WHERE NOT EXISTS (SELECT 1 FROM revisions r WHERE r.shot_id = s.id)) s,
           generate_series(1, 4) k;
  INSERT INTO marks (id, revision_id, author_id, kind, from_frame, to_frame, words, stage, state, sent_at)
    SELECT gen_random_uuid(), r.id, (SELECT id FROM people WHERE role = 'instructor' LIMIT 1), 'arc', k, k + 1, 'It pops.', 'smoothing',
           CASE WHEN k > 8 THEN 'open' ELSE 'cleared' END, now()
      FROM revisions r, generate_series(1, 10) k WHERE r.file_name = 'walk.bvh' AND r.words = 'Again.';
  INSERT INTO verdicts (revision_id, core_version, inside, near, outside, unjudged)
    SELECT r.id, 'load', 12, 2, 4, 1 FROM revisions r WHERE r.file_name = 'walk.bvh' AND r.words = 'Again.';
  INSERT INTO findings (revision_id, rank, reading, part, judgement, distance, say)
    SELECT r.id, k, 'load.' || ((k * 7 + r.number) % 23), CASE WHEN k % 2 = 0 THEN 'leg.L' END, CASE WHEN k > 4 THEN 'near' ELSE 'outside' END, k, 'it is off'
      FROM revisions r, generate_series(1, 6) k WHERE r.file_name = 'walk.bvh' AND r.words = 'Again.';
  ANALYZE;`;

const folder = join(DATA, 'load');
rmSync(folder, { recursive: true, force: true });
mkdirSync(join(folder, 'files'), { recursive: true });
const cluster = await startCluster('load', { fast: true });
let server;
try {
  const url = await ensureDatabase(cluster, `load_${process.pid}`);
  server = await startDemoServer({ DATABASE_URL: url, FILES_DIR: join(folder, 'files'), PROCESS: 'server' });
  const admin = new pg.Client({ connectionString: url });
  await admin.connect();
  await admin.query(SEED);
  const count = async (table) => (await admin.query(`SELECT count(*)::int AS n FROM ${table}`)).rows[0].n;
  console.log(`${await count('revisions')} revisions, ${await count('marks')} marks, ${READERS} readers at once`);
  await tellGrowth(admin);
  const instructor = (await admin.query(`SELECT id FROM people WHERE role = 'instructor' LIMIT 1`)).rows[0].id;
  const cohort = (await admin.query(`SELECT id FROM cohorts WHERE name = 'Load 1'`)).rows[0].id;
  const shot = (
    await admin.query(
      `SELECT s.id FROM shots s JOIN revisions r ON r.shot_id = s.id WHERE r.file_name = 'walk.bvh' AND r.state = 'handed in' LIMIT 1`,
    )
  ).rows[0].id;
  const student = (
    await admin.query(`SELECT person_id AS id FROM enrolments WHERE cohort_id = $1 AND role = 'student' LIMIT 1`, [
      cohort,
    ])
  ).rows[0].id;
  const cookie = await server.comeIn(instructor);

  const { findDocket } = await import('../apps/server/dist/shots/docket.query.js');
  const { findShot } = await import('../apps/server/dist/shots/shot.queries.js');
  const { findLedger } = await import('../apps/server/dist/courses/course.queries.js');
  const pool = new pg.Pool({ connectionString: url, max: 10 });
  const { findFolio } = await import('../apps/server/dist/folios/folio.query.js');
  const { findTally } = await import('../apps/server/dist/folios/tally.query.js');
  const rows = async (sql, bind) => (await pool.query(sql, bind)).rows;
  const bare = { select: rows, list: rows };
  const pages = [
    ['docket', '/api/docket', (db) => findDocket(db, instructor, { order: 'late' })],
    ['ledger of one cohort', `/api/cohorts/${cohort}/ledger`, (db) => findLedger(db, cohort)],
    [
      'folio of one student',
      `/api/people/${student}/folio?cohort=${cohort}`,
      (db) => findFolio(db, student, cohort, false),
    ],
    ['tally of one cohort', `/api/cohorts/${cohort}/tally`, (db) => findTally(db, cohort)],
    ['shot', `/api/shots/${shot}`, (db) => findShot(db, shot, 'staff')],
  ];

  /** Durations of something that so many do again and again for a while. */
  const load = async (work, readers) => {
    const times = [];
    const until = performance.now() + SECONDS * 1_000;
    const one = async () => {
      while (performance.now() < until) {
        const start = performance.now();
        await work();
        times.push(performance.now() - start);
      }
    };
    await work();
    await Promise.all(Array.from({ length: readers }, one));
    return times;
  };
  /** Whole big tables that a statement's plan goes through. */
  const scans = async (sql, bind) => {
    const { rows } = await admin.query(`EXPLAIN (FORMAT JSON) ${sql}`, bind);
    const found = new Set();
    const walk = (node) => {
      if (node['Node Type'] === 'Seq Scan' && BIG.includes(node['Relation Name'])) found.add(node['Relation Name']);
      for (const child of node.Plans ?? []) walk(child);
    };
    walk(rows[0]['QUERY PLAN'][0].Plan);
    return [...found];
  };
  let wrong = 0;
  for (const [name, path, sql] of pages) {
    const scanned = new Set();
    const looked = async (text, bind) => {
      for (const table of await scans(text, bind)) scanned.add(table);
      return rows(text, bind);
    };
    await sql({ select: looked, list: looked });
    const served = async () => {
      const response = await fetch(server.address + path, { headers: { cookie } });
      await response.arrayBuffer();
      if (response.status !== 200) throw new Error(`${path}: ${response.status}`);
    };
    const ratio = (a, b, share) => (percentile(a, share) / percentile(b, share)).toFixed(2);
    const [alone, page] = [await load(() => sql(bare), 1), await load(served, 1)];
    const [plain, many] = [await load(() => sql(bare), READERS), await load(served, READERS)];
    console.log(
      `${name.padEnd(22)} alone ${ratio(page, alone, 0.5)}   ${READERS} at once: p50 ${ratio(many, plain, 0.5)}  p95 ${ratio(many, plain, 0.95)} times the bare SQL` +
        `   (wanted: alone at most 3, p95 at most 5)   ${scanned.size === 0 ? 'no big table scanned' : `SCANS ${[...scanned].join(', ')}`}`,
    );
    wrong += scanned.size;
  }
  await admin.end();
  if (wrong > 0) process.exitCode = 1;
  await pool.end();
} finally {
  await server?.stop();
  cluster.stop();
  rmSync(cluster.folder, { recursive: true, force: true });
}

/**
 * What ten years of a school of 3,000 students come to, and what pruning each term gains: extrapolated from what one revision takes here. Readings are as
 * large as those of the demo's motions; each revision is read by three versions of the core while its term lasts.
 */
async function tellGrowth(db) {
  const [STUDENTS, EXERCISES_A_YEAR, REVISIONS, YEARS, VERSIONS] = [3_000, 20, 4, 10, 3];
  const number = async (sql) => Number((await db.query(sql)).rows[0].n);
  const each = async (table) =>
    (await number(`SELECT pg_total_relation_size('${table}') AS n`)) /
    Math.max(1, await number('SELECT count(*) AS n FROM revisions'));
  const reading = await number('SELECT coalesce(avg(pg_column_size(report)), 0) AS n FROM readings');
  if (reading === 0) return console.log('no reading is there to be weighed: growth is not told');
  const rest = { revisions: 0, marks: 0, verdicts: 0, findings: 0 };
  for (const table of Object.keys(rest)) rest[table] = await each(table);
  const revisions = STUDENTS * EXERCISES_A_YEAR * REVISIONS * YEARS;
  const gigabytes = (bytes) => `${((revisions * bytes) / 1024 ** 3).toFixed(0)} GB`;
  const kept = Object.values(rest).reduce((a, b) => a + b, 0);
  console.log(
    `ten years of ${STUDENTS} students, ${EXERCISES_A_YEAR} exercises a year and ${REVISIONS} revisions each (extrapolated): ${(revisions / 1e6).toFixed(1)} million revisions; ` +
      `a reading ${(reading / 1024).toFixed(1)} kB, ${Object.entries(rest)
        .map(([name, bytes]) => `${name} ${bytes.toFixed(0)} bytes`)
        .join(', ')} a revision: ` +
      `${gigabytes(VERSIONS * reading + kept)} unpruned, ${gigabytes(reading / REVISIONS + kept)} pruned each term`,
  );
}
