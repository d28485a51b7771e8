import type { Docket } from '@ypsigraph/contract/courses';
import type { School, Visitor } from './harness.ts';

/** Many shots of Night round that wait, of as many students, whose names and times come round again and again. */
export async function manyShotsWait(
  { database }: School,
  { prefix, students, names, times }: { prefix: string; students: number; names: number; times: number },
): Promise<void> {
  await database.query(
    `WITH p AS (INSERT INTO people (name, email, role, password_hash)
                SELECT 'Åse ' || (k % $2), $1 || k || '@saltwick.example', 'student', '-' FROM generate_series(1, $3) k RETURNING id),
          a AS (SELECT a.id FROM assignments a JOIN briefs b ON b.id = a.brief_id JOIN cohorts c ON c.id = a.cohort_id
                 WHERE b.title = 'Night round' AND c.name = 'Monday loft'),
          s AS (INSERT INTO shots (assignment_id, student_id) SELECT a.id, p.id FROM a, p RETURNING id)
     INSERT INTO revisions (shot_id, number, stage, file_sha256, file_name, reading_state, reading_reason, handed_in_at)
     SELECT s.id, 1, 'polish', (SELECT sha256 FROM files LIMIT 1), 'x', 'failed', 'not read here',
            now() - interval '1 minute' * (row_number() OVER () % $4) FROM s`,
    [prefix, names, students, times],
  );
}

/** The docket page by page, to its end. */
export async function docketPages(instructor: Visitor, query = ''): Promise<Docket[]> {
  const pages: Docket[] = [];
  let next: string | null = '';
  while (next !== null) {
    const after: string = next && `&after=${encodeURIComponent(next)}`;
    const { body }: { body: Docket } = await instructor.get(`/api/docket?${query}${after}`).expect(200);
    pages.push(body);
    next = body.next;
  }
  return pages;
}
