import { OF_A_STUDENT } from '../shots/demonstrations.sql.ts';
import type { Brief, BriefVersions, ListedBrief, ReadingValues } from '@ypsigraph/contract/briefs';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import type { Database } from '../database/database.module.ts';
import { contentArguments } from './brief.model.ts';

/** A brief `b`, as the contract's `BriefHead`. */
export const BRIEF_HEAD = `
  json_build_object('id', b.id, 'family', b.family, 'version', b.version, 'title', b.title, 'kind', b.kind, 'text', b.text,
    'clockMinutes', b.clock_minutes)`;

/**
 * A row of `briefs`, as the contract's `Brief`.
 * @param b the row's name in the statement
 */
export const briefObject = (b: string): string => `
  json_build_object('id', ${b}.id, 'family', ${b}.family, 'version', ${b}.version, ${contentArguments(b)},
    'files', (SELECT coalesce(json_agg(json_build_object('id', bf.id, 'name', bf.file_name, 'bytes', ff.bytes, 'heard', bf.is_heard) ORDER BY bf.at, bf.id), '[]')
                FROM brief_files bf JOIN files ff ON ff.sha256 = bf.file_sha256 WHERE bf.brief_id = ${b}.id))`;

/** A brief `b`, as the contract's `Brief`. */
export const BRIEF_OBJECT = briefObject('b');

type ListedRow = Omit<ListedBrief, 'at' | 'archived'> & { at: Date; archived: Date | null };

/** Every brief by its newest version; what is archived last. */
export async function findBriefs(database: Database): Promise<ListedBrief[]> {
  const rows = await database.select<ListedRow>(
    `SELECT b.id, b.family, b.version, b.title, b.kind, b.text, b.clock_minutes AS "clockMinutes", b.frames, b.fps, b.loop,
            b.created_at AS at, b.archived_at AS archived, coalesce(u.cohorts, '[]') AS cohorts, coalesce(u.shots, 0)::int AS shots,
            (SELECT count(*)::int FROM brief_files bf WHERE bf.brief_id = b.id) AS files
       FROM (SELECT DISTINCT ON (family) * FROM briefs ORDER BY family, version DESC) b
       LEFT JOIN (
         SELECT v.family, json_agg(DISTINCT c.name) FILTER (WHERE c.id IS NOT NULL) AS cohorts, sum(n.shots) AS shots
           FROM briefs v
           LEFT JOIN assignments a ON a.brief_id = v.id LEFT JOIN cohorts c ON c.id = a.cohort_id
           LEFT JOIN LATERAL (SELECT count(*) AS shots FROM shots s WHERE s.assignment_id = a.id AND ${OF_A_STUDENT}) n ON true
          GROUP BY v.family
       ) u ON u.family = b.family
      WHERE NOT EXISTS (SELECT 1 FROM assignments p JOIN cohorts q ON q.id = p.cohort_id
                         WHERE p.brief_id = b.id AND q.practice_of IS NOT NULL)
      ORDER BY b.archived_at IS NOT NULL, lower(b.title), b.family`,
    [],
  );
  return rows.map(({ at, archived, ...row }) => ({
    ...row,
    at: at.toISOString(),
    archived: archived?.toISOString() ?? null,
  }));
}

interface VersionRow {
  readonly brief: Brief;
  readonly at: Date;
  readonly author: string | null;
  readonly shots: number;
  readonly archived: Date | null;
}

/** Every version of a brief's family, the newest first. */
export async function findVersions(database: Database, family: string): Promise<BriefVersions['versions']> {
  const rows = await database.select<VersionRow>(
    `SELECT ${BRIEF_OBJECT} AS brief, b.created_at AS at, p.name AS author, b.archived_at AS archived,
            (SELECT count(*)::int FROM shots s WHERE s.brief_id = b.id) AS shots
       FROM briefs b LEFT JOIN people p ON p.id = b.created_by WHERE b.family = $1 ORDER BY b.version DESC`,
    [family],
  );
  return rows.map(({ brief, at, author, shots, archived }) => ({
    ...brief,
    at: at.toISOString(),
    author,
    shots,
    archived: archived?.toISOString() ?? null,
  }));
}

/** Values on more shots than these are not looked through. */
const MOST_SHOTS = 300;

/**
 * What the newest measured revisions of a kind's shots have of every reading, as far as a gauge can judge it, in the cohorts somebody teaches.
 * @param kind the kind of exercise: shots of other briefs of the kind are measured alike
 */
export async function findValues(database: Database, person: string, kind: string): Promise<ReadingValues> {
  const shots = await database.select<ReadingValues['shots'][number]>(
    `WITH newest AS (
       SELECT DISTINCT ON (s.id) s.id, p.name AS student, d.report, r.handed_in_at
         FROM enrolments e JOIN assignments a ON a.cohort_id = e.cohort_id
         JOIN shots s ON s.assignment_id = a.id JOIN briefs b ON b.id = s.brief_id AND b.kind = $2
         JOIN people p ON p.id = s.student_id
         JOIN revisions r ON r.shot_id = s.id AND r.state <> 'withdrawn'
         JOIN readings d ON d.revision_id = r.id AND d.core_version = $3
        WHERE e.person_id = $1 AND e.role <> 'student' AND ${OF_A_STUDENT} ORDER BY s.id, r.number DESC
     )
     SELECT n.id AS shot, n.student,
            (SELECT coalesce(json_agg(json_strip_nulls(json_build_object('id', x ->> 'id', 'part', x ->> 'part', 'value', x -> 'value',
                      'detail', (SELECT coalesce(json_object_agg(key, value), '{}') FROM jsonb_each(coalesce(x -> 'detail', '{}'))
                                  WHERE jsonb_typeof(value) IN ('number', 'boolean'))))), '[]')
               FROM jsonb_array_elements(n.report -> 'readings') x
              WHERE jsonb_typeof(x -> 'value') IN ('number', 'string', 'boolean')) AS readings
       FROM newest n ORDER BY n.handed_in_at DESC LIMIT ${MOST_SHOTS}`,
    [person, kind, CORE_VERSION],
  );
  return { shots };
}
