import type {
  Assignment,
  AssignmentHead,
  Cohort,
  CohortPeople,
  Ledger,
  LedgerCell,
  WorksheetEntry,
} from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { BRIEF_HEAD, BRIEF_OBJECT, briefObject } from '../briefs/brief.queries.ts';
import type { Database } from '../database/database.module.ts';
import { NO_PASSWORD } from '../people/no-password.ts';
import { DUE, joinLater, STAGE_DUE } from './due.sql.ts';

/** Columns of an assignment with its brief and cohort, as the contract's `AssignmentHead`. */
const HEAD_COLUMNS = `
  a.id, a.closed_at AS closed, json_build_object('id', c.id, 'name', c.name) AS cohort, ${BRIEF_HEAD} AS brief`;

type HeadRow = Omit<AssignmentHead, 'due' | 'closed'> & { due: Date; closed: Date | null };

const toHead = ({ id, brief, cohort, due, closed }: HeadRow): AssignmentHead => ({
  id,
  brief,
  cohort,
  due: due.toISOString(),
  closed: closed?.toISOString() ?? null,
});

/** Cohorts someone belongs to, with the number of their students. */
export const findCohorts = (database: Database, personId: string): Promise<Cohort[]> =>
  database.select<Cohort>(
    `SELECT c.id, c.name, c.time_zone AS "timeZone", count(s.person_id)::int AS students
       FROM cohorts c
       JOIN enrolments e ON e.cohort_id = c.id AND e.person_id = $1
       LEFT JOIN enrolments s ON s.cohort_id = c.id AND s.role = 'student'
      WHERE c.practice_of IS NULL
      GROUP BY c.id
      ORDER BY c.name`,
    [personId],
  );

type AssignmentRow = Omit<Assignment, 'due' | 'closed' | 'dates' | 'later' | 'begun'> & {
  due: Date;
  closed: Date | null;
  dates: { stage: Assignment['dates'][number]['stage']; due: string }[];
  later: (Omit<Assignment['later'][number], 'due'> & { due: string })[];
  begun: { at: string; minutes: number } | null;
};

/**
 * An exercise as somebody sees it: a student with their own dates, and with the version of the brief they have begun with.
 */
export async function findAssignment(database: Database, id: string, person: Person): Promise<Assignment | null> {
  const student = person.role === 'student';
  const [row] = await database.select<AssignmentRow>(
    `SELECT a.id, a.closed_at AS closed, json_build_object('id', c.id, 'name', c.name) AS cohort, ${BRIEF_OBJECT} AS brief, ${DUE} AS due,
            (SELECT ${briefObject('o')}
               FROM briefs o WHERE o.family = b.family AND o.version < b.version ORDER BY o.version DESC LIMIT 1) AS earlier,
            (SELECT json_build_object('id', n.id, 'version', n.version) FROM briefs n
              WHERE n.family = b.family AND n.version > b.version ORDER BY n.version DESC LIMIT 1) AS newest,
            (SELECT coalesce(json_agg(json_build_object('stage', sd.stage, 'due', ${STAGE_DUE}) ORDER BY sd.due_at), '[]')
               FROM stage_dates sd WHERE sd.assignment_id = a.id) AS dates,
            (SELECT coalesce(json_agg(json_build_object('person', p.id, 'name', p.name, 'due', d.due_at, 'why', d.why) ORDER BY p.name), '[]')
               FROM later_dates d JOIN people p ON p.id = d.person_id
              WHERE d.assignment_id = a.id AND (NOT $3 OR d.person_id = $2)) AS later,
            (SELECT coalesce(json_agg(json_build_object('title', q.title, 'done', CASE WHEN $3 THEN EXISTS (
                 SELECT 1 FROM shots z JOIN briefs y ON y.id = z.brief_id AND y.family = q.family
                   JOIN revisions r ON r.shot_id = z.id AND r.state = 'signed off' WHERE z.student_id = $2) END) ORDER BY q.title), '[]')
               FROM (SELECT DISTINCT ON (x.family) x.family, x.title FROM briefs x
                      WHERE b.before ? x.family::text ORDER BY x.family, x.version DESC) q) AS before,
            (SELECT json_build_object('at', g.at, 'minutes', b.clock_minutes) FROM drills_begun g
              WHERE g.assignment_id = a.id AND g.person_id = $2 AND b.clock_minutes IS NOT NULL) AS begun
       FROM assignments a JOIN cohorts c ON c.id = a.cohort_id
       LEFT JOIN shots s ON s.assignment_id = a.id AND s.student_id = $2
       JOIN briefs b ON b.id = coalesce(s.brief_id, a.brief_id)
       ${joinLater('$2::uuid')}
      WHERE a.id = $1`,
    [id, person.id, student],
  );
  if (!row) return null;
  const iso = (text: string): string => new Date(text).toISOString();
  const { due, closed, dates, later, begun, ...rest } = row;
  return {
    ...rest,
    due: due.toISOString(),
    closed: closed?.toISOString() ?? null,
    dates: dates.map((date) => ({ ...date, due: iso(date.due) })),
    later: later.map((date) => ({ ...date, due: iso(date.due) })),
    begun: begun && {
      at: iso(begun.at),
      until: new Date(new Date(begun.at).getTime() + begun.minutes * 60_000).toISOString(),
    },
  };
}

/** Everybody of a cohort: those who teach first. */
export async function findPeople(database: Database, cohort: string): Promise<CohortPeople['people']> {
  return database.select(
    `SELECT p.id, p.name, p.email, e.role, p.archived_at IS NOT NULL AS left, p.password_hash = $2 AS invited
       FROM enrolments e JOIN people p ON p.id = e.person_id WHERE e.cohort_id = $1
      ORDER BY array_position(ARRAY['instructor', 'assistant', 'student'], e.role), p.name, p.id`,
    [cohort, NO_PASSWORD],
  );
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
  due: Date | null;
}

/**
 * The ledger of a cohort in two statements, however many students and exercises there are: one for the exercises, one for every
 * student × exercise with the newest revision (a withdrawn one only where there is no other) and the counts of its shot's marks.
 */
export async function findLedger(database: Database, cohortId: string): Promise<Omit<Ledger, 'cohort'>> {
  const assignments = await database.list<HeadRow>(
    `SELECT ${HEAD_COLUMNS}, a.due_at AS due FROM assignments a JOIN briefs b ON b.id = a.brief_id JOIN cohorts c ON c.id = a.cohort_id
      WHERE a.cohort_id = $1 ORDER BY a.due_at, b.title`,
    [cohortId],
  );
  const cells = await database.list<CellRow>(
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
            coalesce(n.first_at, now()) > ${DUE} AND n.state IS DISTINCT FROM 'signed off' AS late, l.due_at AS due
       FROM enrolments e
       JOIN people p ON p.id = e.person_id
       LEFT JOIN assignments a ON a.cohort_id = e.cohort_id
       LEFT JOIN briefs b ON b.id = a.brief_id
       LEFT JOIN shots s ON s.assignment_id = a.id AND s.student_id = p.id
       ${joinLater('p.id')}
       LEFT JOIN newest n ON n.shot_id = s.id
       LEFT JOIN counts k ON k.shot_id = s.id
      WHERE e.cohort_id = $1 AND e.role = 'student' AND (p.archived_at IS NULL OR s.id IS NOT NULL OR a.id IS NULL)
      ORDER BY p.name, p.id, a.due_at, b.title`,
    [cohortId],
  );
  const rows = new Map<string, Ledger['rows'][number]>();
  for (const { student, name, assignment, revision, due, ...rest } of cells) {
    const row = rows.get(student) ?? { student: { id: student, name }, cells: [] };
    rows.set(student, row);
    if (!assignment) continue;
    const at = revision && new Date(revision.at).toISOString();
    row.cells.push({
      assignment,
      revision: revision && { ...revision, at },
      due: due?.toISOString() ?? null,
      ...rest,
    } as LedgerCell);
  }
  return { assignments: assignments.map(toHead), rows: [...rows.values()] };
}

type WorksheetRow = HeadRow &
  Omit<WorksheetEntry, 'assignment' | 'marks' | 'askedBy'> & {
    marks: Partial<WorksheetEntry['marks']>;
    askedBy: Date | null;
  };

/** Everything that is set for a student, what was handed in for it, and what came back. */
export async function findWorksheet(database: Database, studentId: string): Promise<WorksheetEntry[]> {
  const rows = await database.select<WorksheetRow>(
    `SELECT ${HEAD_COLUMNS}, ${DUE} AS due, s.id AS shot,
            CASE WHEN n.id IS NULL THEN NULL ELSE
              json_build_object('id', n.id, 'number', n.number, 'state', n.state, 'at', n.handed_in_at) END AS revision,
            coalesce(m.counts, '{}') AS marks, back.words, back.asked, back.asked_by AS "askedBy",
            (SELECT json_build_object('stage', z.stage, 'due', z.due) FROM (
               SELECT sd.stage, ${STAGE_DUE} AS due FROM stage_dates sd WHERE sd.assignment_id = a.id) z
              WHERE z.due > now() ORDER BY z.due LIMIT 1) AS next,
            w.consent_at IS NOT NULL AS consents, w.shown_at IS NOT NULL AS shown
       FROM enrolments e
       JOIN assignments a ON a.cohort_id = e.cohort_id
       JOIN cohorts c ON c.id = a.cohort_id
       LEFT JOIN shots s ON s.assignment_id = a.id AND s.student_id = $1
       JOIN briefs b ON b.id = coalesce(s.brief_id, a.brief_id)
       LEFT JOIN showings w ON w.shot_id = s.id
       ${joinLater('$1::uuid')}
       LEFT JOIN LATERAL (
         SELECT r.* FROM revisions r WHERE r.shot_id = s.id ORDER BY r.state = 'withdrawn', r.number DESC LIMIT 1
       ) n ON true
       LEFT JOIN LATERAL (
         SELECT r.words, r.asked, r.asked_by FROM revisions r WHERE r.shot_id = s.id AND r.judged_at IS NOT NULL ORDER BY r.number DESC LIMIT 1
       ) back ON true
       LEFT JOIN LATERAL (
         SELECT json_object_agg(state, n) AS counts FROM (
           SELECT k.state, count(*)::int AS n FROM marks k JOIN revisions r ON r.id = k.revision_id
            WHERE r.shot_id = s.id AND k.sent_at IS NOT NULL AND k.archived_at IS NULL GROUP BY k.state) per_state
       ) m ON true
      WHERE e.person_id = $1 AND e.role = 'student'
      ORDER BY due, b.title`,
    [studentId],
  );
  return rows.map(({ shot, revision, marks, words, asked, askedBy, next, consents, shown, ...assignment }) => ({
    assignment: toHead(assignment),
    shot,
    revision: revision && { ...revision, at: new Date(revision.at).toISOString() },
    marks: { open: 0, answered: 0, cleared: 0, waived: 0, ...marks },
    words,
    asked,
    askedBy: askedBy?.toISOString() ?? null,
    next: next && { ...next, due: new Date(next.due).toISOString() },
    consents,
    shown,
  }));
}
