import { OF_A_STUDENT } from './demonstrations.sql.ts';
import type { Docket, DocketEntry, DocketQuery } from '@ypsigraph/contract/courses';
import { z } from 'zod';
import { DUE_OF_REVISION, joinLater } from '../courses/due.sql.ts';
import type { Database } from '../database/database.module.ts';
import { ProblemException } from '../http/problem.ts';
import { VERDICT_COUNTS } from '../readings/verdict-counts.sql.ts';

/** Entries of one page. */
export const DOCKET_PAGE = 60;

/** Where a page ends: what its last entry is sorted by. */
const Cursor = z.tuple([z.boolean(), z.string().max(400), z.uuid()]);

/** What entries are sorted by: first things first, then a text in its order. Times are written so that they sort as text. */
const KEYS: Readonly<Record<DocketQuery['order'], readonly [first: string, then: string]>> = {
  late: ['NOT late', 'at'],
  waiting: ['false', 'at'],
  due: ['false', 'due_text'],
  student: ['false', `lower(student) || ' ' || at`],
  exercise: ['false', `lower(title) || ' ' || at`],
};

type Row = Omit<DocketEntry, 'handedIn' | 'due' | 'answered'> & {
  handedIn: Date;
  due: Date;
  answered: Date | null;
  first: boolean;
  then: string;
};

type Summary = Pick<Docket, 'waiting' | 'late' | 'answered' | 'exercises'>;

const sortable = (time: string): string => `to_char(${time} AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US')`;

/** Every revision that waits for somebody ($1), and what it is sorted and narrowed by. */
const WAITING = `
  SELECT r.id, r.shot_id, r.stage, r.number, r.handed_in_at, s.student_id, p.name AS student, b.title, b.family, b.kind, a.cohort_id,
         ${DUE_OF_REVISION} AS due, first.at > ${DUE_OF_REVISION} AS late,
         ${sortable('r.handed_in_at')} AS at, ${sortable(DUE_OF_REVISION)} AS due_text
    FROM enrolments e
    JOIN assignments a ON a.cohort_id = e.cohort_id
    JOIN cohorts c ON c.id = a.cohort_id
    JOIN shots s ON s.assignment_id = a.id
    JOIN revisions r ON r.shot_id = s.id AND r.state IN ('handed in', 'on the desk') AND r.file_sha256 IS NOT NULL
    JOIN briefs b ON b.id = s.brief_id
    JOIN people p ON p.id = s.student_id
    LEFT JOIN stage_dates sd ON sd.assignment_id = a.id AND sd.stage = r.stage
    ${joinLater('s.student_id')}
    JOIN LATERAL (
      SELECT min(q.handed_in_at) AS at FROM revisions q
       WHERE q.shot_id = s.id AND q.state <> 'withdrawn' AND (sd.stage IS NULL OR q.stage = r.stage)
    ) first ON true
   WHERE e.person_id = $1 AND e.role <> 'student' AND ${OF_A_STUDENT}`;

/** When the student of a waiting shot `w` last answered a mark that is still answered. */
const ANSWERED = `(SELECT max(y.at) FROM replies y JOIN marks k ON k.id = y.mark_id JOIN revisions q ON q.id = k.revision_id
  WHERE q.shot_id = w.shot_id AND k.archived_at IS NULL AND k.state = 'answered' AND y.author_id = w.student_id)`;

/**
 * What waits for someone's review, a page of it in the order that is asked for; and what all of it can be narrowed to. Marks are counted for the page
 * only.
 */
export async function findDocket(database: Database, personId: string, query: DocketQuery): Promise<Docket> {
  const { order, cohort, exercise, stage, only, after } = query;
  const cursor = after === undefined ? undefined : readCursor(after);
  const [first, then] = KEYS[order];
  const rows = await database.list<Row>(
    `WITH waiting AS MATERIALIZED (${WAITING}), page AS (
       SELECT * FROM (SELECT w.*, ${first} AS first, ${then} AS then FROM waiting w
          WHERE ($5::uuid IS NULL OR w.cohort_id = $5) AND ($6::uuid IS NULL OR w.family = $6) AND ($7::text IS NULL OR w.stage = $7)
            AND CASE $8::text WHEN 'late' THEN w.late WHEN 'new' THEN w.number = 1 WHEN 'answered' THEN ${ANSWERED} IS NOT NULL ELSE true END) k
        WHERE $2::boolean IS NULL OR (k.first, k.then COLLATE "C", k.id) > ($2::boolean, $3::text COLLATE "C", $4::uuid)
        ORDER BY k.first, k.then COLLATE "C", k.id LIMIT ${DOCKET_PAGE + 1}
     )
     SELECT w.shot_id AS shot, w.id AS revision, w.number, w.stage, r.state, w.handed_in_at AS "handedIn",
            r.reading_state AS readings, w.due, w.title AS exercise, w.kind, w.first, w.then,
            json_build_object('id', w.student_id, 'name', w.student) AS student,
            json_build_object('id', c.id, 'name', c.name) AS cohort,
            w.late, m.answered AS answers, m.open, ${ANSWERED} AS answered,
            CASE WHEN v.revision_id IS NOT NULL THEN ${VERDICT_COUNTS} END AS verdicts
       FROM page w
       JOIN revisions r ON r.id = w.id
       JOIN cohorts c ON c.id = w.cohort_id
       LEFT JOIN verdicts v ON v.revision_id = w.id
       JOIN LATERAL (
         SELECT count(*) FILTER (WHERE k.state = 'answered')::int AS answered,
                count(*) FILTER (WHERE k.state = 'open')::int AS open
           FROM marks k JOIN revisions q ON q.id = k.revision_id
          WHERE q.shot_id = w.shot_id AND k.archived_at IS NULL
       ) m ON true
      ORDER BY w.first, w.then COLLATE "C", w.id`,
    [personId, ...(cursor ?? [null, null, null]), cohort ?? null, exercise ?? null, stage ?? null, only ?? null],
  );
  const shown = rows.slice(0, DOCKET_PAGE);
  const last = shown.at(-1);
  return {
    ...(await findSummary(database, personId)),
    entries: shown.map(({ first: _first, then: _then, handedIn, due, answered, ...entry }) => ({
      ...entry,
      handedIn: handedIn.toISOString(),
      due: due.toISOString(),
      answered: answered?.toISOString() ?? null,
    })),
    next: rows.length > DOCKET_PAGE && last ? writeCursor([last.first, last.then, last.revision]) : null,
  };
}

/** How much waits in all, and in which exercises. */
async function findSummary(database: Database, personId: string): Promise<Summary> {
  const rows = await database.list<{ id: string; title: string; waiting: number; late: number; answered: number }>(
    `SELECT w.family AS id, max(w.title) AS title, count(*)::int AS waiting, count(*) FILTER (WHERE w.late)::int AS late,
            count(*) FILTER (WHERE ${ANSWERED} IS NOT NULL)::int AS answered
       FROM (${WAITING}) w GROUP BY w.family ORDER BY title, id`,
    [personId],
  );
  const sum = (key: 'waiting' | 'late' | 'answered'): number => rows.reduce((total, row) => total + row[key], 0);
  return {
    waiting: sum('waiting'),
    late: sum('late'),
    answered: sum('answered'),
    exercises: rows.map(({ id, title, waiting }) => ({ id, title, waiting })),
  };
}

const writeCursor = (cursor: z.infer<typeof Cursor>): string =>
  Buffer.from(JSON.stringify(cursor)).toString('base64url');

function readCursor(text: string): z.infer<typeof Cursor> {
  try {
    const cursor = Cursor.parse(JSON.parse(Buffer.from(text, 'base64url').toString('utf8')));
    if (cursor[1].includes('\0')) throw new Error('no text');
    return cursor;
  } catch {
    throw new ProblemException(400, 'invalid', 'This is no place in the docket.', undefined, [
      { field: 'after', message: 'what the page before gave as next' },
    ]);
  }
}
