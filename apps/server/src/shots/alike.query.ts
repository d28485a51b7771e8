import { OF_A_STUDENT } from './demonstrations.sql.ts';
import type { Brief } from '@ypsigraph/contract/briefs';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { Alike, StoredReport } from '@ypsigraph/contract/shots';
import type { Stage } from '@ypsigraph/contract/vocabulary';
import { type Finding, judgeShot } from '@ypsigraph/core/gauge/findings';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { BRIEF_OBJECT } from '../briefs/brief.queries.ts';
import type { Database } from '../database/database.module.ts';

/** More shots than this are not looked through at once. */
const MOST = 60;

interface Row {
  readonly shot: string;
  readonly student: string;
  readonly revision: number;
  readonly stage: Stage;
  readonly brief: Brief;
  readonly report: StoredReport;
  readonly aside: readonly string[];
}

const sideless = (part: string | undefined | null): string => (part ?? '').replace(/\.[LR]$/, '');

/**
 * Other shots of the same brief that wait for this person and show the same finding, on either side of the body: the worst first. What was put
 * aside on a shot is not found there.
 *
 * @param part the finding's part, or null for the whole body
 */
export async function findAlike(
  database: Database,
  shot: string,
  person: string,
  reading: string,
  part: string | null,
): Promise<Alike[]> {
  const rows = await database.select<Row>(
    `SELECT DISTINCT ON (s.id) s.id AS shot, p.name AS student, r.number AS revision, r.stage, ${BRIEF_OBJECT} AS brief, d.report,
            (SELECT coalesce(json_agg(x.reading || ' ' || coalesce(x.part, '')), '[]') FROM dismissals x
              WHERE x.shot_id = s.id AND x.taken_back_at IS NULL) AS aside
       FROM shots o JOIN briefs ob ON ob.id = o.brief_id JOIN briefs b ON b.family = ob.family
       JOIN shots s ON s.brief_id = b.id AND s.id <> o.id JOIN people p ON p.id = s.student_id
       JOIN assignments a ON a.id = s.assignment_id
       JOIN enrolments e ON e.cohort_id = a.cohort_id AND e.person_id = $2
       JOIN revisions r ON r.shot_id = s.id AND r.state IN ('handed in', 'on the desk')
       JOIN readings d ON d.revision_id = r.id AND d.core_version = $3
      WHERE o.id = $1 AND ${OF_A_STUDENT} ORDER BY s.id, r.number DESC LIMIT ${MOST}`,
    [shot, person, CORE_VERSION],
  );
  const found = rows.flatMap(({ brief, report, aside, ...row }) => {
    if (brief.kind === 'any') return [];
    const { findings } = judgeShot(gaugesOf(brief), report, row.stage);
    const own = findings.find(
      (finding) =>
        finding.reading.id === reading &&
        sideless(finding.reading.part) === sideless(part) &&
        !aside.includes(`${reading} ${finding.reading.part ?? ''}`),
    );
    return own ? [{ row, own }] : [];
  });
  return found.sort((a, b) => far(b.own) - far(a.own)).map(({ row, own }) => alike(row, own));
}

const far = ({ judgement, distance }: Finding): number => (judgement === 'outside' ? 1e6 : 0) + Math.abs(distance);

const alike = (
  row: Pick<Row, 'shot' | 'student' | 'revision' | 'stage'>,
  { reading, say, judgement }: Finding,
): Alike => ({
  ...row,
  reading: reading.id,
  part: reading.part ?? null,
  say,
  judgement,
});
