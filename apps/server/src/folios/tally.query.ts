import { OF_A_STUDENT } from '../shots/demonstrations.sql.ts';
import type { Tally, TallyEntry } from '@ypsigraph/contract/folios';
import { BRIEF_HEAD } from '../briefs/brief.queries.ts';
import type { Database } from '../database/database.module.ts';

type AssignmentRow = Omit<Tally['assignments'][number], 'due'> & { due: Date };

/** Students still in a cohort, so many. */
const STUDENTS = `SELECT count(*)::int AS n FROM enrolments e JOIN people p ON p.id = e.person_id AND p.archived_at IS NULL
  WHERE e.cohort_id = $1 AND e.role = 'student'`;

/** Revisions of a cohort ($1) that count: every one but withdrawn, with its place from the newest on. */
const OWN = `
  SELECT r.id, r.shot_id, s.assignment_id, s.student_id, r.number, r.state,
         row_number() OVER (PARTITION BY r.shot_id ORDER BY r.number DESC) AS back
    FROM assignments a JOIN shots s ON s.assignment_id = a.id JOIN revisions r ON r.shot_id = s.id AND r.state <> 'withdrawn'
   WHERE a.cohort_id = $1 AND ${OF_A_STUDENT}`;

/**
 * The faults a cohort shares, in four statements: how far each exercise is; what the newest revisions show and earlier ones showed; the marks that were
 * made of it. What was put aside on a shot does not count there.
 */
export async function findTally(database: Database, cohort: string): Promise<Omit<Tally, 'cohort'>> {
  const [[students], assignments, faults, marks] = await Promise.all([
    database.list<{ n: number }>(STUDENTS, [cohort]),
    database.list<AssignmentRow>(
      `WITH own AS (${OWN})
       SELECT a.id, ${BRIEF_HEAD} AS brief, a.due_at AS due, coalesce(k.shots, 0)::int AS shots, coalesce(k.measured, 0)::int AS measured,
              coalesce(k.done, 0)::int AS "signedOff"
         FROM assignments a JOIN briefs b ON b.id = a.brief_id
         LEFT JOIN (
           SELECT o.assignment_id, count(*) AS shots, count(v.revision_id) AS measured, count(*) FILTER (WHERE o.state = 'signed off') AS done
             FROM own o LEFT JOIN verdicts v ON v.revision_id = o.id WHERE o.back = 1 GROUP BY o.assignment_id
         ) k ON k.assignment_id = a.id
        WHERE a.cohort_id = $1 ORDER BY a.due_at, b.title, a.id`,
      [cohort],
    ),
    database.list<Pick<TallyEntry, 'reading' | 'assignment' | 'mended'> & { shots: TallyEntry['shots'] | null }>(
      `WITH own AS (${OWN}), shown AS (
         -- Of a reading with several parts the worst speaks for the shot.
         SELECT DISTINCT ON (o.id, f.reading) o.*, f.reading, f.judgement, f.say, f.rank
           -- One look into the index for each revision: the school's other findings are not gone through, however many there are.
           FROM own o JOIN LATERAL (SELECT * FROM findings g WHERE g.revision_id = o.id OFFSET 0) f ON true
          WHERE NOT EXISTS (SELECT 1 FROM dismissals x WHERE x.shot_id = o.shot_id AND x.taken_back_at IS NULL
                              AND x.reading = f.reading AND x.part IS NOT DISTINCT FROM f.part)
          ORDER BY o.id, f.reading, f.rank
       ), by_shot AS (
         SELECT assignment_id, reading, shot_id, min(student_id::text)::uuid AS student_id, min(back) AS back,
                (array_agg(number ORDER BY back))[1] AS number, (array_agg(id ORDER BY back))[1] AS revision, (array_agg(judgement ORDER BY back))[1] AS judgement,
                (array_agg(say ORDER BY back))[1] AS say, (array_agg(rank ORDER BY back))[1] AS rank
           FROM shown GROUP BY assignment_id, reading, shot_id
       )
       SELECT t.assignment_id AS assignment, t.reading, count(*) FILTER (WHERE t.back > 1)::int AS mended,
              json_agg(json_build_object('shot', t.shot_id, 'student', json_build_object('id', p.id, 'name', p.name), 'revision', json_build_object('id', t.revision, 'number', t.number),
                'judgement', t.judgement, 'say', t.say) ORDER BY t.judgement = 'near', t.rank, p.name) FILTER (WHERE t.back = 1) AS shots
         FROM by_shot t JOIN people p ON p.id = t.student_id
        GROUP BY t.assignment_id, t.reading ORDER BY t.reading, t.assignment_id`,
      [cohort],
    ),
    database.list<{
      assignment: string;
      kind: Tally['kinds'][number]['kind'];
      reading: string | null;
      raised: number;
      cleared: number;
    }>(
      `SELECT s.assignment_id AS assignment, m.kind, m.payload -> 'quote' ->> 'reading' AS reading, count(*)::int AS raised,
              count(*) FILTER (WHERE m.state = 'cleared')::int AS cleared
         FROM assignments a JOIN shots s ON s.assignment_id = a.id JOIN revisions r ON r.shot_id = s.id
         JOIN marks m ON m.revision_id = r.id AND m.archived_at IS NULL
        WHERE a.cohort_id = $1 AND ${OF_A_STUDENT} GROUP BY 1, 2, 3 ORDER BY 1, 2, 3`,
      [cohort],
    ),
  ]);
  const kinds = new Map<string, Tally['kinds'][number]>();
  const quoted = new Map<string, number>();
  for (const { assignment, kind, reading, raised, cleared } of marks) {
    const key = `${assignment} ${kind}`;
    const sum = kinds.get(key) ?? { assignment, kind, raised: 0, cleared: 0 };
    kinds.set(key, { ...sum, raised: sum.raised + raised, cleared: sum.cleared + cleared });
    if (reading) quoted.set(`${assignment} ${reading}`, (quoted.get(`${assignment} ${reading}`) ?? 0) + raised);
  }
  return {
    students: students?.n ?? 0,
    assignments: assignments.map(({ due, ...row }) => ({ ...row, due: due.toISOString() })),
    entries: faults.map(({ shots, ...row }) => ({
      ...row,
      shots: shots ?? [],
      marks: quoted.get(`${row.assignment} ${row.reading}`) ?? 0,
    })),
    kinds: [...kinds.values()],
  };
}
