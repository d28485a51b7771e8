import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDatabase, startCluster } from './cluster.mjs';
import { startDemoServer } from './demo-server.mjs';
import { DATA, ROOT } from './run.mjs';

/**
 * A school to measure on: one process that does everything on a cluster of its own, the demo's files all read. Gone when the work is done.
 *
 * @param work takes the server, `one` (a row of SQL), an instructor's cookie, and `handIn(text, name)`: a file handed in by a student who has
 *   not begun that exercise
 */
export async function onBenchSchool(work) {
  const { default: pg } = await import('pg');
  const folder = join(DATA, 'bench');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'files'), { recursive: true });
  const cluster = await startCluster('bench', { fast: true });
  let server;
  let client;
  try {
    const url = await ensureDatabase(cluster, `bench_${process.pid}`);
    server = await startDemoServer({
      DATABASE_URL: url,
      FILES_DIR: join(folder, 'files'),
      PROCESS: 'both',
      WEB_DIR: join(ROOT, 'apps/web/dist'),
    });
    client = new pg.Client({ connectionString: url });
    await client.connect();
    const one = async (sql, bind = []) => (await client.query(sql, bind)).rows[0];
    const unread = async () =>
      (await one(`SELECT count(*)::int AS n FROM revisions WHERE reading_state IN ('queued', 'reading')`)).n;
    while ((await unread()) > 0) await new Promise((resolve) => setTimeout(resolve, 500));
    const instructor = await server.comeIn((await one(`SELECT id FROM people WHERE role = 'instructor'`)).id);
    const handIn = async (text, fileName = 'recording.bvh') => {
      const free = await one(
        `SELECT a.id, e.person_id AS student FROM assignments a JOIN enrolments e ON e.cohort_id = a.cohort_id AND e.role = 'student'
          JOIN briefs b ON b.id = a.brief_id
          WHERE b.kind = 'walk' AND NOT EXISTS (SELECT 1 FROM shots s WHERE s.assignment_id = a.id AND s.student_id = e.person_id) LIMIT 1`,
      );
      const form = new FormData();
      form.set('stage', 'smoothing');
      form.set('file', new Blob([text]), fileName);
      const handed = await fetch(`${server.address}/api/assignments/${free.id}/revisions`, {
        method: 'POST',
        headers: { cookie: await server.comeIn(free.student), 'x-ypsigraph': '1' },
        body: form,
      });
      if (handed.status !== 201) throw new Error(`the recording was refused: ${await handed.text()}`);
      return handed.json();
    };
    const stateOf = async (revision) =>
      (await one('SELECT reading_state AS s FROM revisions WHERE id = $1', [revision])).s;
    return await work({ server, one, instructor, handIn, stateOf });
  } finally {
    await client?.end();
    await server?.stop();
    cluster.stop();
    rmSync(cluster.folder, { recursive: true, force: true });
  }
}
