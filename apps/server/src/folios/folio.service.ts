import { Injectable } from '@nestjs/common';
import type { Folio, Tally } from '@ypsigraph/contract/folios';
import type { Person } from '@ypsigraph/contract/people';
import { CoursePolicy } from '../courses/course.policy.ts';
import { Database } from '../database/database.module.ts';
import { notAllowed, notFound } from '../http/problem.ts';
import { cohortOfFolio, findFolio } from './folio.query.ts';
import { findTally } from './tally.query.ts';

/** What a term comes to: of one student, and of a cohort. */
@Injectable()
export class FolioService {
  constructor(
    private readonly database: Database,
    private readonly courses: CoursePolicy,
  ) {}

  /** A student's own folio is theirs; that of another is for those who teach them. */
  async folio(person: Person, id: string, cohort: string | undefined): Promise<Folio> {
    if (person.role === 'student' && person.id !== id) throw notAllowed('This folio belongs to another student.');
    const about = await cohortOfFolio(this.database, person.id, id, cohort);
    if (!about) throw notAllowed('This student is in no cohort of yours.');
    const exercises = await findFolio(this.database, id, about.cohort.id, person.role === 'student');
    return { ...about, exercises };
  }

  async tally(person: Person, id: string): Promise<Tally> {
    const cohort = await this.database.models.Cohort.findByPk(id);
    if (!cohort) throw notFound('cohort');
    await this.courses.mustBelong(person, id);
    return { cohort: { id, name: cohort.name }, ...(await findTally(this.database, id)) };
  }
}
