import { Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import type {
  Assignment,
  AssignmentChange,
  Brief,
  Cohort,
  Ledger,
  NewAssignment,
  WorksheetEntry,
} from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import { notFound } from '../http/problem.ts';
import { CoursePolicy } from './course.policy.ts';
import { findAssignment, findCohorts, findLedger, findWorksheet } from './course.queries.ts';

@Injectable()
export class CourseService {
  constructor(
    private readonly database: Database,
    private readonly policy: CoursePolicy,
  ) {}

  cohorts(person: Person): Promise<Cohort[]> {
    return findCohorts(this.database, person.id);
  }

  async ledger(person: Person, cohortId: string): Promise<Ledger> {
    const cohort = await this.database.models.Cohort.findByPk(cohortId);
    if (!cohort) throw notFound('cohort');
    await this.policy.mustBelong(person, cohortId);
    return { cohort: { id: cohort.id, name: cohort.name }, ...(await findLedger(this.database, cohortId)) };
  }

  async briefs(): Promise<Brief[]> {
    const briefs = await this.database.models.Brief.findAll({ order: ['title', ['version', 'DESC']] });
    return briefs.map((brief) => brief.toJSON<Brief>());
  }

  async assign(person: Person, { brief, cohort, due }: NewAssignment): Promise<Assignment> {
    await this.policy.mustBelong(person, cohort);
    if (!(await this.database.models.Brief.findByPk(brief))) throw notFound('brief');
    const id = await this.database.transaction(async (transaction) => {
      const made = await this.database.models.Assignment.create(
        { briefId: brief, cohortId: cohort, dueAt: new Date(due), createdBy: person.id },
        { transaction },
      );
      await this.record(made.id, person, 'set', { due }, transaction);
      return made.id;
    });
    return this.assignment(person, id);
  }

  async change(person: Person, id: string, change: AssignmentChange): Promise<Assignment> {
    await this.policy.assignment(person, id);
    await this.database.transaction(async (transaction) => {
      const assignment = (await this.database.models.Assignment.findByPk(id, {
        transaction,
        lock: transaction.LOCK.UPDATE,
      }))!;
      if (change.due !== undefined) assignment.dueAt = new Date(change.due);
      if (change.closed !== undefined) assignment.closedAt = change.closed ? (assignment.closedAt ?? new Date()) : null;
      if (!assignment.changed()) return;
      await assignment.save({ transaction });
      await this.record(id, person, 'changed', { ...change }, transaction);
    });
    return this.assignment(person, id);
  }

  private record(id: string, person: Person, what: string, data: object, transaction: Transaction): Promise<void> {
    return this.database.run(
      'INSERT INTO assignment_events (assignment_id, author_id, what, data) VALUES ($1, $2, $3, $4)',
      [id, person.id, what, JSON.stringify(data)],
      transaction,
    );
  }

  async assignment(person: Person, id: string): Promise<Assignment> {
    await this.policy.assignment(person, id);
    const assignment = await findAssignment(this.database, id);
    if (!assignment) throw notFound('exercise');
    return assignment;
  }

  worksheet(person: Person): Promise<WorksheetEntry[]> {
    return findWorksheet(this.database, person.id);
  }
}
