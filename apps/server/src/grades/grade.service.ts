import { Injectable } from '@nestjs/common';
import type { RubricLine } from '@ypsigraph/contract/briefs';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { CohortGrades, Decision, GradeLine, Grades } from '@ypsigraph/contract/grades';
import type { Person } from '@ypsigraph/contract/people';
import type { StoredReport } from '@ypsigraph/contract/shots';
import type { Stage } from '@ypsigraph/contract/vocabulary';
import { verdicts } from '@ypsigraph/core/gauge/gauge';
import { STAGES } from '@ypsigraph/core/trade/stages';
import { type GradedMark, proposePoints } from '@ypsigraph/core/grade/propose';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { CoursePolicy } from '../courses/course.policy.ts';
import { Database } from '../database/database.module.ts';
import { notFound, ProblemException } from '../http/problem.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';

interface DecidedRow {
  readonly line: string;
  readonly points: number;
  readonly words: string;
  readonly by: string;
  readonly at: Date;
}

/** Grades by the rubric of a brief: proposed from verdicts and marks, decided by an instructor. */
@Injectable()
export class GradeService {
  constructor(
    private readonly database: Database,
    private readonly policy: ShotPolicy,
    private readonly courses: CoursePolicy,
  ) {}

  /** A student sees what was decided, and none of what was proposed; and that only when the newest revision has come back. */
  async grades(person: Person, id: string): Promise<Grades> {
    const shot = await this.policy.shot(person, id);
    const brief = (await this.database.models.Brief.findByPk(shot.briefId))!;
    const decided = await this.database.select<DecidedRow>(
      `SELECT g.line, g.points, g.words, p.name AS by, g.at FROM grades g JOIN people p ON p.id = g.author_id WHERE g.shot_id = $1`,
      [id],
    );
    const [newest] = await this.database.select<{
      number: number;
      stage: Stage;
      judged: boolean;
      report: StoredReport | null;
    }>(
      `SELECT r.number, r.stage, r.judged_at IS NOT NULL AS judged, d.report FROM revisions r
         LEFT JOIN readings d ON d.revision_id = r.id AND d.core_version = $2
        WHERE r.shot_id = $1 AND r.state <> 'withdrawn' ORDER BY r.number DESC LIMIT 1`,
      [id, CORE_VERSION],
    );
    const student = person.role === 'student';
    const known = new Map(decided.map((own) => [own.line, own]));
    const propose = student || !newest ? () => null : await this.proposer(id, brief, newest);
    const lines = brief.rubric.map((line): GradeLine => {
      const own = student && !newest?.judged ? undefined : known.get(line.id);
      return {
        line,
        proposed: propose(line),
        decided: own ? { points: own.points, words: own.words, by: own.by, at: own.at.toISOString() } : null,
      };
    });
    return { shot: id, revision: newest?.number ?? null, lines };
  }

  /** What is proposed for a line: nothing for a stage that is still to come. */
  private async proposer(
    shot: string,
    brief: Parameters<typeof gaugesOf>[0],
    { stage, report }: { stage: Stage; report: StoredReport | null },
  ): Promise<(line: RubricLine) => GradeLine['proposed']> {
    const marks = await this.database.select<GradedMark>(
      `SELECT m.payload -> 'quote' ->> 'reading' AS reading, m.state, m.weight FROM marks m JOIN revisions r ON r.id = m.revision_id
        WHERE r.shot_id = $1 AND m.archived_at IS NULL`,
      [shot],
    );
    const told = report
      ? verdicts(gaugesOf(brief), report, stage).map(({ gauge, judgement }) => ({
          reading: gauge.reading,
          weight: gauge.weight,
          judgement,
        }))
      : [];
    return (line) =>
      STAGES.indexOf(line.stage) > STAGES.indexOf(stage) ? null : (proposePoints(line, told, marks) ?? null);
  }

  /** Decides on a line, or takes a decision back. Who decided what, and when, stays written down. */
  async decide(person: Person, id: string, { line: name, points, words = '' }: Decision): Promise<Grades> {
    const shot = await this.policy.shot(person, id);
    const brief = (await this.database.models.Brief.findByPk(shot.briefId))!;
    const line = brief.rubric.find((own) => own.id === name);
    if (!line) throw notFound('line in the rubric');
    if (points !== null && points > line.points)
      throw new ProblemException(400, 'invalid', `This line has ${line.points} points at most.`, undefined, [
        { field: 'points', message: `at most ${line.points}` },
      ]);
    await this.database.transaction(async (transaction) => {
      if (points === null)
        await this.database.run('DELETE FROM grades WHERE shot_id = $1 AND line = $2', [id, name], transaction);
      else
        await this.database.run(
          `INSERT INTO grades (shot_id, line, points, words, author_id) VALUES ($1, $2, $3, $4, $5)
           ON CONFLICT (shot_id, line) DO UPDATE SET points = excluded.points, words = excluded.words, author_id = excluded.author_id, at = now()`,
          [id, name, points, words, person.id],
          transaction,
        );
      await this.database.run(
        'INSERT INTO grade_events (shot_id, line, points, words, author_id) VALUES ($1, $2, $3, $4, $5)',
        [id, name, points, words, person.id],
        transaction,
      );
    });
    return this.grades(person, id);
  }

  /** Everything that was decided in a cohort, for a table. */
  async ofCohort(person: Person, cohort: string): Promise<CohortGrades> {
    await this.courses.mustBelong(person, cohort);
    type Row = Omit<CohortGrades['rows'][number], 'at'> & { at: Date };
    const rows = await this.database.list<Row>(
      `SELECT p.name AS student, b.title AS exercise, b.version, x.value ->> 'stage' AS stage, x.value ->> 'title' AS line,
              g.points, (x.value ->> 'points')::int AS of, g.words, t.name AS by, g.at
         FROM assignments a JOIN shots s ON s.assignment_id = a.id JOIN briefs b ON b.id = s.brief_id
         JOIN people p ON p.id = s.student_id JOIN grades g ON g.shot_id = s.id JOIN people t ON t.id = g.author_id
         JOIN LATERAL jsonb_array_elements(b.rubric) WITH ORDINALITY x ON x.value ->> 'id' = g.line
        WHERE a.cohort_id = $1 ORDER BY p.name, p.id, a.due_at, b.title, x.ordinality`,
      [cohort],
    );
    return { rows: rows.map(({ at, ...row }) => ({ ...row, at: at.toISOString() })) };
  }
}
