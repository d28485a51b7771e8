import { Injectable } from '@nestjs/common';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import type {
  Assignment,
  AssignmentChange,
  Cohort,
  CohortChange,
  CohortPeople,
  Ledger,
  NewAssignment,
  NewCohort,
  WorksheetEntry,
} from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import type { AssignmentModel } from './course.models.ts';
import { conflict, notFound } from '../http/problem.ts';
import { OutboxService } from '../outbox/outbox.service.ts';
import { CoursePolicy } from './course.policy.ts';
import { findAssignment, findCohorts, findLedger, findPeople, findWorksheet } from './course.queries.ts';

@Injectable()
export class CourseService {
  constructor(
    private readonly database: Database,
    private readonly policy: CoursePolicy,
    private readonly outbox: OutboxService,
  ) {}

  cohorts(person: Person): Promise<Cohort[]> {
    return findCohorts(this.database, person.id);
  }

  /** Begins a course, which whoever begins it teaches. */
  async makeCohort(person: Person, { name, timeZone }: NewCohort): Promise<Cohort> {
    const { Cohort: Cohorts, Enrolment } = this.database.models;
    try {
      const { id } = await this.database.transaction(async (transaction) => {
        const made = await Cohorts.create({ name, timeZone }, { transaction });
        await Enrolment.create({ personId: person.id, cohortId: made.id, role: person.role }, { transaction });
        return made;
      });
      return { id, name, timeZone, students: 0 };
    } catch (error) {
      if (error instanceof UniqueConstraintError)
        throw conflict(`There is a cohort “${name}” already.`, 'Give this one another name.');
      throw error;
    }
  }

  async ledger(person: Person, cohortId: string): Promise<Ledger> {
    const cohort = await this.database.models.Cohort.findByPk(cohortId);
    if (!cohort) throw notFound('cohort');
    await this.policy.mustBelong(person, cohortId);
    return { cohort: { id: cohort.id, name: cohort.name }, ...(await findLedger(this.database, cohortId)) };
  }

  async assign(person: Person, { brief, cohort, due, dates = [] }: NewAssignment): Promise<Assignment> {
    await this.policy.mustBelong(person, cohort);
    const set = await this.database.models.Brief.findByPk(brief);
    if (!set) throw notFound('brief');
    if (set.archivedAt) throw conflict('This brief is put away.', 'Take it out again among the briefs, then set it.');
    refuseLateStages(dates, due);
    const id = await this.database.transaction(async (transaction) => {
      const made = await this.database.models.Assignment.create(
        { briefId: brief, cohortId: cohort, dueAt: new Date(due), createdBy: person.id },
        { transaction },
      );
      await this.setDates(made.id, dates, transaction);
      await this.record(made.id, person, 'set', { due, dates }, transaction);
      await this.outbox.tellCohort(made.id, 'set', transaction);
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
      const { due, closed, dates, brief, later } = change;
      if (due !== undefined) assignment.dueAt = new Date(due);
      if (closed !== undefined) assignment.closedAt = closed ? (assignment.closedAt ?? new Date()) : null;
      if (brief !== undefined) await this.setVersion(assignment, brief, transaction);
      if (dates) {
        refuseLateStages(dates, assignment.dueAt.toISOString());
        await this.setDates(id, dates, transaction);
      }
      if (later) await this.setLater(person, assignment, later, transaction);
      if (!assignment.changed() && !dates && !later) return;
      const newBrief = assignment.changed('briefId');
      await assignment.save({ transaction });
      await this.record(id, person, 'changed', { ...change }, transaction);
      if (newBrief) await this.outbox.tellCohort(id, 'brief changed', transaction);
    });
    return this.assignment(person, id);
  }

  private async setDates(
    id: string,
    dates: readonly { stage: string; due: string }[],
    transaction: Transaction,
  ): Promise<void> {
    await this.database.run('DELETE FROM stage_dates WHERE assignment_id = $1', [id], transaction);
    for (const { stage, due } of dates)
      await this.database.run(
        'INSERT INTO stage_dates (assignment_id, stage, due_at) VALUES ($1, $2, $3)',
        [id, stage, due],
        transaction,
      );
  }

  /** Another version of the same brief, for those who have not begun: shots keep the one they were begun with. */
  private async setVersion(assignment: AssignmentModel, brief: string, transaction: Transaction): Promise<void> {
    const { Brief } = this.database.models;
    const [now, next] = await Promise.all(
      [assignment.briefId, brief].map((key) => Brief.findByPk(key, { attributes: ['id', 'family'], transaction })),
    );
    if (!next) throw notFound('brief');
    if (next.family !== now!.family)
      throw conflict('This is another exercise.', 'Only another version of the same brief can take its place.');
    assignment.briefId = brief;
  }

  private async setLater(
    person: Person,
    { id, cohortId, dueAt }: AssignmentModel,
    { person: student, due, why = '' }: NonNullable<AssignmentChange['later']>,
    transaction: Transaction,
  ): Promise<void> {
    const { Enrolment } = this.database.models;
    if (!(await Enrolment.findOne({ where: { personId: student, cohortId, role: 'student' }, transaction })))
      throw notFound('student in this cohort');
    await this.database.run(
      'DELETE FROM later_dates WHERE assignment_id = $1 AND person_id = $2',
      [id, student],
      transaction,
    );
    if (due === null) return;
    if (new Date(due) <= dueAt) throw conflict('This date is no later than everybody’s.', 'Choose one after it.');
    await this.database.run(
      'INSERT INTO later_dates (assignment_id, person_id, due_at, why, author_id) VALUES ($1, $2, $3, $4, $5)',
      [id, student, due, why, person.id],
      transaction,
    );
  }

  async people(person: Person, cohortId: string): Promise<CohortPeople> {
    await this.policy.mustBelong(person, cohortId);
    const cohort = (await this.cohorts(person)).find(({ id }) => id === cohortId);
    if (!cohort) throw notFound('cohort');
    return { cohort, people: await findPeople(this.database, cohortId) };
  }

  async changeCohort(person: Person, cohortId: string, { timeZone }: CohortChange): Promise<CohortPeople> {
    await this.policy.mustBelong(person, cohortId);
    await this.database.models.Cohort.update({ timeZone }, { where: { id: cohortId } });
    return this.people(person, cohortId);
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
    const assignment = await findAssignment(this.database, id, person);
    if (!assignment) throw notFound('exercise');
    return assignment;
  }

  worksheet(person: Person): Promise<WorksheetEntry[]> {
    return findWorksheet(this.database, person.id);
  }
}

/** @throws ProblemException where a stage is due after the whole */
function refuseLateStages(dates: readonly { stage: string; due: string }[], due: string): void {
  const late = dates.find((date) => new Date(date.due) > new Date(due));
  if (late)
    throw conflict(`${late.stage} would be due after the exercise itself.`, 'Put it earlier, or the exercise later.');
}
