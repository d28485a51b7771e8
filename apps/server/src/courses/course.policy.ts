import { Injectable } from '@nestjs/common';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import type { AssignmentModel } from './course.models.ts';
import { notAllowed, notFound } from '../http/problem.ts';

/** Who has to do with a cohort and with what is set for it. */
@Injectable()
export class CoursePolicy {
  constructor(private readonly database: Database) {}

  /** Whether someone belongs to a cohort, in whatever role. */
  async belongs(person: Person, cohortId: string): Promise<boolean> {
    return (await this.database.models.Enrolment.count({ where: { personId: person.id, cohortId } })) > 0;
  }

  async mustBelong(person: Person, cohortId: string): Promise<void> {
    if (!(await this.belongs(person, cohortId))) throw notAllowed('This belongs to a cohort that is not yours.');
  }

  /** The assignment, for someone of its cohort. */
  async assignment(person: Person, id: string): Promise<AssignmentModel> {
    const assignment = await this.database.models.Assignment.findByPk(id);
    if (!assignment) throw notFound('exercise');
    await this.mustBelong(person, assignment.cohortId);
    return assignment;
  }
}
