import type { Assignment, Cohort, Ledger, LedgerCell, WorksheetEntry } from '@ypsigraph/contract/courses';
import type { Database } from '../database/database.module.ts';

/** A brief `b`, as the contract's `Brief`. */
export const BRIEF_OBJECT = `
  json_build_object('id', b.id, 'title', b.title, 'kind', b.kind, 'text', b.text, 'version', b.version, 'fps', b.fps,
    'firstFrame', b.first_frame, 'loop', b.loop, 'frames', b.frames, 'ground', b.ground, 'still', b.still, 'groups', b.groups)`;
/** Columns of an assignment with its brief and cohort, as the contract's `Assignment`. */
const ASSIGNMENT_COLUMNS = `
  a.id, a.due_at AS due, a.closed_at AS closed,
  json_build_object('id', c.id, 'name', c.name) AS cohort, ${BRIEF_OBJECT} AS brief`;

type AssignmentRow = Omit<Assignment, 'due' | 'closed'> & { due: Date; closed: Date | null };

const toAssignment = ({ id, brief, cohort, due, closed }: AssignmentRow): Assignment => ({
  id,
  brief,
  cohort,
  due: due.toISOString(),
  closed: closed?.toISOString() ?? null,
});

/** Cohorts someone belongs to, with the number of their students. */
export const findCohorts = (database: Database, personId: string): Promise<Cohort[]> =>
  database.select<Cohort>(
    `SELECT c.id, c.name, count(s.person_id)::int AS students
       FROM cohorts c
       JOIN enrolments e ON e.cohort_id = c.id AND e.person_id = $1
       LEFT JOIN enrolments s ON s.cohort_id = c.id AND s.role = 'student'
      GROUP BY c.id
      ORDER BY c.name`,
    [personId],
  );

export async function findAssignment(database: Database, id: string): Promise<Assignment | null> {
  const [row] = await database.select<AssignmentRow>(
    `SELECT ${ASSIGNMENT_COLUMNS} FROM assignments a JOIN briefs b ON b.id = a.brief_id JOIN cohorts c ON c.id = a.cohort_id
      WHERE a.id = $1`,
    [id],
  );
  return row ? toAssignment(row) : null;
}

interface CellRow {
  student: string;
  name: string;
  assignment: string | null;
  shot: string | null;
  revision: { id: string; number: number; state: string; stage: string; at: string } | null;
  openMarks: number;
  answeredMarks: number;
  late: boolean;
}

/**
 * The ledger of a cohort in two statements, however many students and exercises there are: one for the exercises, one for every
 * student × exercise with the newest revision (a withdrawn one only where there is no other) and the counts of its shot's marks.
 */
export async function findLedger(database: Database, cohortId: string): Promise<Omit<Ledger, 'cohort'>> {
  const assignments = await database.select<AssignmentRow>(
    `SELECT ${ASSIGNMENT_COLUMNS} FROM assignments a JOIN briefs b ON b.id = a.brief_id JOIN cohorts c ON c.id = a.cohort_id
      WHERE a.cohort_id = $1 ORDER BY a.due_at, b.title`,
    [cohortId],
  );
  const cells = await database.select<CellRow>(
    `WITH newest AS (
       SELECT DISTINCT ON (r.shot_id) r.shot_id, r.id, r.number, r.state, r.stage, r.handed_in_at,
              min(r.handed_in_at) FILTER (WHERE r.state <> 'withdrawn') OVER (PARTITION BY r.shot_id) AS first_at
         FROM revisions r JOIN shots s ON s.id = r.shot_id JOIN assignments a ON a.id = s.assignment_id
        WHERE a.cohort_id = $1
        ORDER BY r.shot_id, r.state = 'withdrawn', r.number DESC
     ), counts AS (
       SELECT r.shot_id,
              count(*) FILTER (WHERE m.state = 'open')::int AS open,
              count(*) FILTER (WHERE m.state = 'answered')::int AS answered
         FROM marks m JOIN revisions r ON r.id = m.revision_id JOIN shots s ON s.id = r.shot_id
         JOIN assignments a ON a.id = s.assignment_id
        WHERE a.cohort_id = $1 AND m.archived_at IS NULL
        GROUP BY r.shot_id
     )
     SELECT p.id AS student, p.name, a.id AS assignment, s.id AS shot,
            CASE WHEN n.id IS NULL THEN NULL ELSE
              json_build_object('id', n.id, 'number', n.number, 'state', n.state, 'stage', n.stage, 'at', n.handed_in_at)
            END AS revision,
            coalesce(k.open, 0) AS "openMarks", coalesce(k.answered, 0) AS "answeredMarks",
            coalesce(n.first_at, now()) > a.due_at AND n.state IS DISTINCT FROM 'signed off' AS late
       FROM enrolments e
       JOIN people p ON p.id = e.person_id
       LEFT JOIN assignments a ON a.cohort_id = e.cohort_id
       LEFT JOIN briefs b ON b.id = a.brief_id
       LEFT JOIN shots s ON s.assignment_id = a.id AND s.student_id = p.id
       LEFT JOIN newest n ON n.shot_id = s.id
       LEFT JOIN counts k ON k.shot_id = s.id
      WHERE e.cohort_id = $1 AND e.role = 'student'
      ORDER BY p.name, p.id, a.due_at, b.title`,
    [cohortId],
  );
  const rows = new Map<string, Ledger['rows'][number]>();
  for (const { student, name, assignment, revision, ...rest } of cells) {
    const row = rows.get(student) ?? { student: { id: student, name }, cells: [] };
    rows.set(student, row);
    if (!assignment) continue;
    const at = revision && new Date(revision.at).toISOString();
    row.cells.push({ assignment, revision: revision && { ...revision, at }, ...rest } as LedgerCell);
  }
  return { assignments: assignments.map(toAssignment), rows: [...rows.values()] };
}

type WorksheetRow = AssignmentRow &
  Omit<WorksheetEntry, 'assignment' | 'marks'> & { marks: Partial<WorksheetEntry['marks']> };

/** Everything that is set for a student, what was handed in for it, and what came back. */
export async function findWorksheet(database: Database, studentId: string): Promise<WorksheetEntry[]> {
  const rows = await database.select<WorksheetRow>(
    `SELECT ${ASSIGNMENT_COLUMNS}, s.id AS shot,
            CASE WHEN n.id IS NULL THEN NULL ELSE
              json_build_object('id', n.id, 'number', n.number, 'state', n.state, 'at', n.handed_in_at) END AS revision,
            coalesce(m.counts, '{}') AS marks, back.words, back.asked
       FROM enrolments e
       JOIN assignments a ON a.cohort_id = e.cohort_id
       JOIN briefs b ON b.id = a.brief_id
       JOIN cohorts c ON c.id = a.cohort_id
       LEFT JOIN shots s ON s.assignment_id = a.id AND s.student_id = $1
       LEFT JOIN LATERAL (
         SELECT r.* FROM revisions r WHERE r.shot_id = s.id ORDER BY r.state = 'withdrawn', r.number DESC LIMIT 1
       ) n ON true
       LEFT JOIN LATERAL (
         SELECT r.words, r.asked FROM revisions r WHERE r.shot_id = s.id AND r.judged_at IS NOT NULL ORDER BY r.number DESC LIMIT 1
       ) back ON true
       LEFT JOIN LATERAL (
         SELECT json_object_agg(state, n) AS counts FROM (
           SELECT k.state, count(*)::int AS n FROM marks k JOIN revisions r ON r.id = k.revision_id
            WHERE r.shot_id = s.id AND k.sent_at IS NOT NULL AND k.archived_at IS NULL GROUP BY k.state) per_state
       ) m ON true
      WHERE e.person_id = $1 AND e.role = 'student'
      ORDER BY a.due_at, b.title`,
    [studentId],
  );
  return rows.map(({ shot, revision, marks, words, asked, ...assignment }) => ({
    assignment: toAssignment(assignment),
    shot,
    revision: revision && { ...revision, at: new Date(revision.at).toISOString() },
    marks: { open: 0, answered: 0, cleared: 0, waived: 0, ...marks },
    words,
    asked,
  }));
}
