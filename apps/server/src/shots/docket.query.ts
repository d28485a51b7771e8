import type { Docket, DocketEntry } from '@ypsigraph/contract/courses';
import { z } from 'zod';
import type { Database } from '../database/database.module.ts';
import { ProblemException } from '../http/problem.ts';

/** Entries of one page. */
export const DOCKET_PAGE = 60;

/** Where a page ends: what its last entry is sorted by, as the database writes it. */
const Cursor = z.tuple([z.boolean(), z.string().max(40), z.uuid()]);

type Row = Omit<DocketEntry, 'handedIn' | 'due'> & {
  handedIn: Date;
  due: Date;
  at: string;
  waiting: number;
  lateInAll: number;
};

/** What waits for someone's review, in one statement: late shots first, then the longest-waiting. Marks are counted for the page only. */
export async function findDocket(database: Database, personId: string, after?: string): Promise<Docket> {
  const cursor = after === undefined ? undefined : readCursor(after);
  const rows = await database.select<Row>(
    `WITH waiting AS MATERIALIZED (
       SELECT r.id, r.shot_id, r.handed_in_at, first.at > a.due_at AS late
         FROM enrolments e
         JOIN assignments a ON a.cohort_id = e.cohort_id
         JOIN shots s ON s.assignment_id = a.id
         JOIN revisions r ON r.shot_id = s.id AND r.state IN ('handed in', 'on the desk')
         JOIN LATERAL (
           SELECT min(q.handed_in_at) AS at FROM revisions q WHERE q.shot_id = s.id AND q.state <> 'withdrawn'
         ) first ON true
        WHERE e.person_id = $1 AND e.role <> 'student'
     ), page AS (
       SELECT * FROM waiting w
        WHERE $2::boolean IS NULL OR (NOT w.late, w.handed_in_at, w.id) > (NOT $2::boolean, $3::timestamptz, $4::uuid)
        ORDER BY w.late DESC, w.handed_in_at, w.id LIMIT ${DOCKET_PAGE + 1}
     )
     SELECT r.shot_id AS shot, r.id AS revision, r.number, r.stage, r.state, r.handed_in_at AS "handedIn",
            r.handed_in_at::text AS at, r.reading_state AS readings, a.due_at AS due, b.title AS exercise, b.kind,
            json_build_object('id', p.id, 'name', p.name) AS student,
            json_build_object('id', c.id, 'name', c.name) AS cohort,
            page.late, m.answered AS answers, m.open,
            (SELECT count(*)::int FROM waiting) AS waiting,
            (SELECT count(*)::int FROM waiting WHERE late) AS "lateInAll"
       FROM page
       JOIN revisions r ON r.id = page.id
       JOIN shots s ON s.id = r.shot_id
       JOIN assignments a ON a.id = s.assignment_id
       JOIN briefs b ON b.id = a.brief_id
       JOIN cohorts c ON c.id = a.cohort_id
       JOIN people p ON p.id = s.student_id
       JOIN LATERAL (
         SELECT count(*) FILTER (WHERE k.state = 'answered')::int AS answered,
                count(*) FILTER (WHERE k.state = 'open')::int AS open
           FROM marks k JOIN revisions q ON q.id = k.revision_id
          WHERE q.shot_id = s.id AND k.archived_at IS NULL
       ) m ON true
      ORDER BY page.late DESC, page.handed_in_at, page.id`,
    [personId, ...(cursor ?? [null, null, null])],
  );
  const shown = rows.slice(0, DOCKET_PAGE);
  const last = shown.at(-1);
  return {
    entries: shown.map(({ at: _at, waiting: _waiting, lateInAll: _late, handedIn, due, ...entry }) => ({
      ...entry,
      handedIn: handedIn.toISOString(),
      due: due.toISOString(),
    })),
    next: rows.length > DOCKET_PAGE && last ? writeCursor([last.late, last.at, last.revision]) : null,
    waiting: last?.waiting ?? 0,
    late: last?.lateInAll ?? 0,
  };
}

const writeCursor = (cursor: z.infer<typeof Cursor>): string =>
  Buffer.from(JSON.stringify(cursor)).toString('base64url');

function readCursor(text: string): z.infer<typeof Cursor> {
  try {
    const cursor = Cursor.parse(JSON.parse(Buffer.from(text, 'base64url').toString('utf8')));
    if (!/^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d(\.\d+)?[+-]\d\d(:?\d\d)?$/.test(cursor[1])) throw new Error('no time');
    return cursor;
  } catch {
    throw new ProblemException(400, 'invalid', 'This is no place in the docket.', undefined, [
      { field: 'after', message: 'what the page before gave as next' },
    ]);
  }
}
