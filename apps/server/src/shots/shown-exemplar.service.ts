import { Injectable } from '@nestjs/common';
import type { z } from 'zod';
import type { Person } from '@ypsigraph/contract/people';
import type { FaultyExemplar, ShownExemplar } from '@ypsigraph/contract/showings';
import { CoursePolicy } from '../courses/course.policy.ts';
import { Database } from '../database/database.module.ts';

type Row = Omit<ShownExemplar, 'at'> & { at: Date };

/** Showing a cohort an exemplar with a fault, and one way to do it: nobody's shot, so nobody is asked. */
@Injectable()
export class ShownExemplarService {
  constructor(
    private readonly database: Database,
    private readonly policy: CoursePolicy,
  ) {}

  /** Shown once more with the same fault, it is the newer one that is there. */
  async show(
    person: Person,
    cohort: string,
    { exemplar, fault, size, words }: z.output<typeof FaultyExemplar>,
  ): Promise<ShownExemplar> {
    await this.policy.mustBelong(person, cohort);
    await this.database.transaction(async (transaction) => {
      await this.database.run(
        'DELETE FROM shown_exemplars WHERE cohort_id = $1 AND exemplar = $2 AND fault = $3',
        [cohort, exemplar, fault],
        transaction,
      );
      await this.database.run(
        'INSERT INTO shown_exemplars (cohort_id, exemplar, fault, size, words, shown_by) VALUES ($1, $2, $3, $4, $5, $6)',
        [cohort, exemplar, fault, size, words, person.id],
        transaction,
      );
    });
    const all = await this.list(person);
    return all.find((own) => own.cohort.id === cohort && own.exemplar === exemplar && own.fault === fault)!;
  }

  /** What is shown to the cohorts somebody belongs to, the newest first. */
  async list(person: Person): Promise<ShownExemplar[]> {
    const rows = await this.database.select<Row>(
      `SELECT x.id, json_build_object('id', c.id, 'name', c.name) AS cohort, x.exemplar, x.fault, x.size, x.words, p.name AS by, x.shown_at AS at
         FROM shown_exemplars x JOIN enrolments e ON e.cohort_id = x.cohort_id AND e.person_id = $1
         JOIN cohorts c ON c.id = x.cohort_id JOIN people p ON p.id = x.shown_by
        ORDER BY x.shown_at DESC, x.id LIMIT 200`,
      [person.id],
    );
    return rows.map(({ at, ...row }) => ({ ...row, at: at.toISOString() }));
  }

  /** It is shown no more; what is left. */
  async takeBack(person: Person, cohort: string, shown: string): Promise<ShownExemplar[]> {
    await this.policy.mustBelong(person, cohort);
    await this.database.run('DELETE FROM shown_exemplars WHERE id = $1 AND cohort_id = $2', [shown, cohort]);
    return this.list(person);
  }
}
