import { Injectable } from '@nestjs/common';
import { type Model, type ModelStatic, QueryTypes, type Transaction } from 'sequelize';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import type { MarkModel } from '../marks/mark.models.ts';
import type { RevisionModel } from '../revisions/revision.models.ts';
import type { ShotModel } from './shot.model.ts';
import { notAllowed, notFound } from '../http/problem.ts';

/** How a row is held until the transaction ends. */
export interface Hold {
  readonly transaction: Transaction;
  /** `change`: nobody else changes it; `keep`: nobody changes it, but others may look at it as well. */
  readonly revision?: 'change' | 'keep';
  readonly mark?: 'change';
}

/** What is known of a row besides itself: whose shot it belongs to, and whether who asks belongs to the shot's cohort. */
const ACCESS = `s.student_id AS "accessStudent",
  EXISTS (SELECT 1 FROM enrolments e WHERE e.cohort_id = a.cohort_id AND e.person_id = $2) AS "accessBelongs",
  EXISTS (SELECT 1 FROM showings w WHERE w.shot_id = s.id AND w.shown_at IS NOT NULL)
    OR EXISTS (SELECT 1 FROM demonstrations w WHERE w.shot_id = s.id)
      AND (s.shown_beside IS NULL OR EXISTS (SELECT 1 FROM shots o WHERE o.id = s.shown_beside AND o.student_id = $2)) AS "accessShown"`;

/** What somebody does with it: looking at a shot that is shown is free to its cohort, everything else is not. */
type Doing = 'look' | 'work';

/**
 * Who may see a shot, and through it its revisions and marks: its student, and the instructors and assistants of its cohort; and while it is shown,
 * the other students of the cohort may look at its revisions. One statement finds the row and decides, and holds it where it is to be changed.
 */
@Injectable()
export class ShotPolicy {
  constructor(private readonly database: Database) {}

  shot(person: Person, id: string, doing: Doing = 'work'): Promise<ShotModel> {
    const sql = `SELECT s.*, ${ACCESS} FROM shots s JOIN assignments a ON a.id = s.assignment_id WHERE s.id = $1`;
    return this.find(this.database.models.Shot, 'shot', person, sql, id, doing);
  }

  /** A revision, to be looked at. Withdrawn ones are nobody's business but their student's and those who teach. */
  async lookAt(person: Person, id: string): Promise<RevisionModel> {
    const revision = await this.revision(person, id, undefined, 'look');
    const { accessStudent } = revision.dataValues as unknown as Access;
    if (revision.state === 'withdrawn' && person.role === 'student' && accessStudent !== person.id)
      throw notFound('revision');
    return revision;
  }

  revision(person: Person, id: string, hold?: Hold, doing: Doing = 'work'): Promise<RevisionModel> {
    const sql = `SELECT r.*, ${ACCESS} FROM revisions r JOIN shots s ON s.id = r.shot_id
      JOIN assignments a ON a.id = s.assignment_id WHERE r.id = $1 ${holding(hold)}`;
    return this.find(this.database.models.Revision, 'revision', person, sql, id, doing, hold?.transaction);
  }

  /** A mark that is not archived; for its student only once it was sent. */
  async mark(person: Person, id: string, hold?: Hold): Promise<MarkModel> {
    const sql = `SELECT m.*, ${ACCESS} FROM marks m JOIN revisions r ON r.id = m.revision_id JOIN shots s ON s.id = r.shot_id
      JOIN assignments a ON a.id = s.assignment_id WHERE m.id = $1 AND m.archived_at IS NULL ${holding(hold)}`;
    const mark = await this.find(this.database.models.Mark, 'mark', person, sql, id, 'work', hold?.transaction);
    if (person.role === 'student' && !mark.sentAt) throw notFound('mark');
    return mark;
  }

  private async find<M extends Model>(
    model: ModelStatic<M>,
    what: string,
    person: Person,
    sql: string,
    id: string,
    doing: Doing,
    transaction?: Transaction,
  ): Promise<M> {
    const [row] = await this.database.sequelize.query<M>(sql, {
      type: QueryTypes.SELECT,
      model,
      mapToModel: true,
      bind: [id, person.id],
      transaction: transaction ?? null,
    });
    if (!row) throw notFound(what);
    const { accessStudent, accessBelongs, accessShown } = row.dataValues as unknown as Access;
    if (person.role === 'student') {
      const shownTo = doing === 'look' && accessShown && accessBelongs;
      if (accessStudent !== person.id && !shownTo) throw notAllowed('This shot belongs to another student.');
    } else if (!accessBelongs) throw notAllowed('This belongs to a cohort that is not yours.');
    return row;
  }
}

interface Access {
  readonly accessStudent: string;
  readonly accessBelongs: boolean;
  readonly accessShown: boolean;
}

function holding(hold: Hold | undefined): string {
  if (!hold) return '';
  const revision = hold.revision && `FOR ${hold.revision === 'change' ? 'NO KEY UPDATE' : 'SHARE'} OF r`;
  const mark = hold.mark && 'FOR NO KEY UPDATE OF m';
  return [revision, mark].filter(Boolean).join(' ');
}
