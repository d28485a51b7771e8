import type { Folio, FolioExercise, FolioRevision } from '@ypsigraph/contract/folios';
import { BRIEF_HEAD } from '../briefs/brief.queries.ts';
import { DUE, joinLater } from '../courses/due.sql.ts';
import type { Database } from '../database/database.module.ts';
import { VERDICT_COUNTS } from '../readings/verdict-counts.sql.ts';

type ExerciseRow = Omit<FolioExercise, 'due' | 'revisions'> & { due: Date };

type RevisionRow = Omit<FolioRevision, 'at' | 'judged' | 'marks' | 'faults'> & {
  shot: string;
  at: Date;
  judged: Date | null;
  faults: FolioRevision['faults'] | null;
  marks: Partial<FolioRevision['marks']> | null;
};

/**
 * One student's course in a cohort, in two statements: the exercises, and every revision with what the gauges said of it and what became of its marks.
 * @param student what the student themself may see: marks that were sent, and verdicts of what came back
 */
export async function findFolio(
  database: Database,
  person: string,
  cohort: string,
  student: boolean,
): Promise<FolioExercise[]> {
  const exercises = await database.list<ExerciseRow>(
    `SELECT a.id AS assignment, ${BRIEF_HEAD} AS brief, ${DUE} AS due, s.id AS shot
       FROM assignments a
       LEFT JOIN shots s ON s.assignment_id = a.id AND s.student_id = $1
       JOIN briefs b ON b.id = coalesce(s.brief_id, a.brief_id) ${joinLater('$1::uuid')}
      WHERE a.cohort_id = $2 ORDER BY a.due_at, b.title, a.id`,
    [person, cohort],
  );
  const revisions = await database.list<RevisionRow>(
    `SELECT s.id AS shot, r.id, r.number, r.stage, r.state, r.handed_in_at AS at, r.judged_at AS judged,
            r.handed_in_at > ${DUE} AS late,
            CASE WHEN v.revision_id IS NULL OR ($3 AND r.judged_at IS NULL) THEN NULL ELSE
              ${VERDICT_COUNTS} END AS verdicts,
            CASE WHEN $3 AND r.judged_at IS NULL THEN NULL ELSE f.faults END AS faults, k.marks
       FROM shots s JOIN assignments a ON a.id = s.assignment_id ${joinLater('s.student_id')}
       JOIN revisions r ON r.shot_id = s.id AND r.state <> 'withdrawn'
       LEFT JOIN verdicts v ON v.revision_id = r.id
       LEFT JOIN LATERAL (
         SELECT json_agg(json_build_object('reading', f.reading, 'part', f.part, 'judgement', f.judgement, 'say', f.say) ORDER BY f.rank) AS faults
           FROM findings f WHERE f.revision_id = r.id
            AND NOT EXISTS (SELECT 1 FROM dismissals x WHERE x.shot_id = s.id AND x.taken_back_at IS NULL
                              AND x.reading = f.reading AND x.part IS NOT DISTINCT FROM f.part)
       ) f ON true
       LEFT JOIN LATERAL (
         SELECT json_object_agg(m.state, m.n) AS marks FROM (
           SELECT m.state, count(*)::int AS n FROM marks m
            WHERE m.revision_id = r.id AND m.archived_at IS NULL AND (NOT $3 OR m.sent_at IS NOT NULL) GROUP BY m.state) m
       ) k ON true
      WHERE s.student_id = $1 AND a.cohort_id = $2
      ORDER BY s.id, r.number`,
    [person, cohort, student],
  );
  const byShot = new Map<string, FolioRevision[]>();
  for (const { shot, at, judged, faults, marks, ...row } of revisions) {
    const list = byShot.get(shot) ?? [];
    byShot.set(shot, list);
    list.push({
      ...row,
      at: at.toISOString(),
      judged: judged?.toISOString() ?? null,
      faults: faults ?? [],
      marks: { open: 0, answered: 0, cleared: 0, waived: 0, ...marks },
    });
  }
  return exercises.map(({ due, shot, ...row }) => ({
    ...row,
    shot,
    due: due.toISOString(),
    revisions: (shot && byShot.get(shot)) || [],
  }));
}

/** The cohort a folio is about: the one that is asked for, or the first somebody and the student have in common. */
export async function cohortOfFolio(
  database: Database,
  asks: string,
  person: string,
  cohort: string | undefined,
): Promise<{ person: Folio['person']; cohort: Folio['cohort'] } | undefined> {
  const [row] = await database.list<{ person: Folio['person']; cohort: Folio['cohort'] }>(
    `SELECT json_build_object('id', p.id, 'name', p.name) AS person, json_build_object('id', c.id, 'name', c.name) AS cohort
       FROM people p JOIN enrolments e ON e.person_id = p.id AND e.role = 'student' JOIN cohorts c ON c.id = e.cohort_id
       JOIN enrolments o ON o.cohort_id = c.id AND o.person_id = $1
      WHERE p.id = $2 AND ($3::uuid IS NULL OR c.id = $3) ORDER BY c.name LIMIT 1`,
    [asks, person, cohort ?? null],
  );
  return row;
}
