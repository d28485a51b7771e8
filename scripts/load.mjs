// npm run load: a school of 50,000 revisions and 500,000 marks, seeded by SQL, and 50 people who read at once. Prints ratios to what the same
// statements take without a server, at the same concurrency, in the same run.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from './lib/build.mjs';
import { ensureDatabase, startCluster } from './lib/cluster.mjs';
import { percentile, startDemoServer } from './lib/demo-server.mjs';
import { DATA } from './lib/run.mjs';

const READERS = 50;
const SECONDS = 8;
build();
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
  const instructor = (await admin.query(`SELECT id FROM people WHERE role = 'instructor' LIMIT 1`)).rows[0].id;
  const cohort = (await admin.query(`SELECT id FROM cohorts WHERE name = 'Load 1'`)).rows[0].id;
  const shot = (
    await admin.query(
      `SELECT s.id FROM shots s JOIN revisions r ON r.shot_id = s.id WHERE r.file_name = 'walk.bvh' AND r.state = 'handed in' LIMIT 1`,
    )
  ).rows[0].id;
  await admin.end();
  const cookie = await server.comeIn(instructor);

  const { findDocket } = await import('../apps/server/dist/shots/docket.query.js');
  const { findShot } = await import('../apps/server/dist/shots/shot.queries.js');
  const { findLedger } = await import('../apps/server/dist/courses/course.queries.js');
  const pool = new pg.Pool({ connectionString: url, max: 10 });
  const bare = { select: async (sql, bind) => (await pool.query(sql, bind)).rows };
  const pages = [
    ['docket', '/api/docket', () => findDocket(bare, instructor)],
    ['ledger of one cohort', `/api/cohorts/${cohort}/ledger`, () => findLedger(bare, cohort)],
    ['shot', `/api/shots/${shot}`, () => findShot(bare, shot, false)],
  ];

  /** Durations of something that so many do again and again for a while. */
  const load = async (work) => {
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
    await Promise.all(Array.from({ length: READERS }, one));
    return times;
  };
  for (const [name, path, sql] of pages) {
    const plain = await load(sql);
    const served = await load(async () => {
      const response = await fetch(server.address + path, { headers: { cookie } });
      await response.arrayBuffer();
      if (response.status !== 200) throw new Error(`${path}: ${response.status}`);
    });
    const ratio = (share) => (percentile(served, share) / percentile(plain, share)).toFixed(2);
    console.log(
      `${name.padEnd(24)} p50 ${ratio(0.5)}  p95 ${ratio(0.95)} times the bare SQL   (wanted: p95 at most 5)`,
    );
  }
  await pool.end();
} finally {
  await server?.stop();
  cluster.stop();
  rmSync(cluster.folder, { recursive: true, force: true });
}
