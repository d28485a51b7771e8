import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDatabase, startCluster } from './cluster.mjs';
import { percentile, startDemoServer } from './demo-server.mjs';
import { DATA } from './run.mjs';

/**
 * How much longer a request for the docket takes while one process that does everything reads a recording.
 * @param text the recording, a BVH file
 * @returns ratios of the middle and of the slow requests (95 of 100 are faster)
 */
export async function docketWhileReading(text) {
  const { default: pg } = await import('pg');
  const folder = join(DATA, 'bench');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'files'), { recursive: true });
  const cluster = await startCluster('bench', { fast: true });
  let server;
  try {
    const url = await ensureDatabase(cluster, `bench_${process.pid}`);
    server = await startDemoServer({ DATABASE_URL: url, FILES_DIR: join(folder, 'files'), PROCESS: 'both' });
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    const one = async (sql, bind = []) => (await client.query(sql, bind)).rows[0];
    const unread = async () =>
      (await one(`SELECT count(*)::int AS n FROM revisions WHERE reading_state IN ('queued', 'reading')`)).n;
    while ((await unread()) > 0) await new Promise((resolve) => setTimeout(resolve, 500));
    const instructor = await server.comeIn((await one(`SELECT id FROM people WHERE role = 'instructor'`)).id);
    const free = await one(
      `SELECT a.id, e.person_id AS student FROM assignments a JOIN enrolments e ON e.cohort_id = a.cohort_id AND e.role = 'student'
        WHERE NOT EXISTS (SELECT 1 FROM shots s WHERE s.assignment_id = a.id AND s.student_id = e.person_id) LIMIT 1`,
    );
    const student = await server.comeIn(free.student);

    const docket = async () => {
      const start = performance.now();
      const response = await fetch(`${server.address}/api/docket`, { headers: { cookie: instructor } });
      await response.arrayBuffer();
      return performance.now() - start;
    };
    // So often as people ask, not as fast as can be: what is wanted is how long one waits.
    const asked = async (goesOn) => {
      const times = [];
      while (await goesOn(times.length)) {
        times.push(await docket());
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
      return times;
    };
    await asked((n) => n < 60);
    const quiet = await asked((n) => n < 200);
    const form = new FormData();
    form.set('stage', 'smoothing');
    form.set('file', new Blob([text]), 'recording.bvh');
    const headers = { cookie: student, 'x-ypsigraph': '1' };
    const handed = await fetch(`${server.address}/api/assignments/${free.id}/revisions`, {
      method: 'POST',
      headers,
      body: form,
    });
    if (handed.status !== 201) throw new Error(`the recording was refused: ${await handed.text()}`);
    const { revision } = await handed.json();
    const stateOf = async () => (await one('SELECT reading_state AS s FROM revisions WHERE id = $1', [revision])).s;
    while ((await stateOf()) === 'queued') await new Promise((resolve) => setTimeout(resolve, 20));
    const busy = await asked(async () => (await stateOf()) === 'reading');
    const state = await stateOf();
    await client.end();
    if (state !== 'read') throw new Error(`the recording was ${state}`);
    const ratio = (share) => percentile(busy, share) / percentile(quiet, share);
    return { middle: ratio(0.5), slow: ratio(0.95), requests: busy.length };
  } finally {
    await server?.stop();
    cluster.stop();
    rmSync(cluster.folder, { recursive: true, force: true });
  }
}
