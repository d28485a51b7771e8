import { Injectable } from '@nestjs/common';
import type { Docket, DocketQuery } from '@ypsigraph/contract/courses';
import type { NewDismissal } from '@ypsigraph/contract/marks';
import type { Person } from '@ypsigraph/contract/people';
import type { Alike, Demonstration, ListedDemonstration, Shot } from '@ypsigraph/contract/shots';
import { Database } from '../database/database.module.ts';
import { CoursePolicy } from '../courses/course.policy.ts';
import { conflict, notFound } from '../http/problem.ts';
import { findAlike } from './alike.query.ts';
import { withdrawAll } from '../revisions/withdraw-all.ts';
import { ShotPolicy } from './shot.policy.ts';
import { findDocket } from './docket.query.ts';
import { findShot } from './shot.queries.ts';

@Injectable()
export class ShotService {
  constructor(
    private readonly database: Database,
    private readonly policy: ShotPolicy,
    private readonly courses: CoursePolicy,
  ) {}

  docket(person: Person, query: DocketQuery): Promise<Docket> {
    return findDocket(this.database, person.id, query);
  }

  async shot(person: Person, id: string): Promise<Shot> {
    const { studentId } = await this.policy.shot(person, id, 'look');
    const onlooker = person.role !== 'student' ? 'staff' : studentId === person.id ? 'student' : 'cohort';
    const shot = await findShot(this.database, id, onlooker);
    if (!shot) throw notFound('shot');
    return shot;
  }

  /** What those who teach have made of an exercise to show how it is done; with a shot also what they made for that one alone. */
  async demonstrations(person: Person, assignment: string, shot?: string): Promise<ListedDemonstration[]> {
    await this.courses.assignment(person, assignment);
    if (shot !== undefined) await this.policy.shot(person, shot);
    return this.database.select<ListedDemonstration>(
      `SELECT DISTINCT ON (s.id) s.id AS shot, p.name AS by, r.id AS revision, r.number, dm.plays, dm.stills, s.shown_beside IS NOT NULL AS alone
         FROM demonstrations dm JOIN shots s ON s.id = dm.shot_id JOIN people p ON p.id = s.student_id
         JOIN revisions r ON r.shot_id = s.id AND r.state <> 'withdrawn'
        WHERE s.assignment_id = $1 AND (s.shown_beside IS NULL OR s.shown_beside = $2) ORDER BY s.id, r.number DESC`,
      [assignment, shot ?? null],
    );
  }

  /** How something that shows how may be looked at. @throws ProblemException where the shot is a student's */
  async setDemonstration(person: Person, id: string, { plays, stills }: Demonstration): Promise<Shot> {
    await this.policy.shot(person, id);
    await this.mustDemonstrate(id);
    await this.database.run('UPDATE demonstrations SET plays = $2, stills = $3 WHERE shot_id = $1', [
      id,
      plays,
      stills,
    ]);
    return this.shot(person, id);
  }

  /** Nobody sees it beside their shot any more; another take brings it back. @throws ProblemException where the shot is a student's */
  async dropDemonstration(person: Person, id: string): Promise<Shot> {
    await this.policy.shot(person, id);
    await this.mustDemonstrate(id);
    const { Revision, Shot } = this.database.models;
    await this.database.transaction(async (transaction) => {
      await Shot.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
      await withdrawAll(
        this.database,
        await Revision.findAll({ where: { shotId: id }, transaction }),
        person,
        transaction,
      );
    });
    return this.shot(person, id);
  }

  private async mustDemonstrate(id: string): Promise<void> {
    const found = await this.database.select('SELECT 1 FROM demonstrations WHERE shot_id = $1', [id]);
    if (found.length === 0)
      throw conflict('This is a student’s shot.', 'Only what those who teach have made shows how.');
  }

  /** Other shots that wait and show the same finding. */
  async alike(person: Person, id: string, reading: string, part: string | null): Promise<Alike[]> {
    await this.policy.shot(person, id);
    return findAlike(this.database, id, person.id, reading, part);
  }

  /** A finding has one reason at most: a second one takes the place of the first, which stays written down. */
  async dismiss(person: Person, id: string, { reading, part, reason }: NewDismissal): Promise<Shot> {
    const { Dismissal, Shot } = this.database.models;
    await this.policy.shot(person, id);
    await this.database.transaction(async (transaction) => {
      // Two at once wait for each other.
      await Shot.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
      const standing = await Dismissal.findOne({
        where: { shotId: id, reading, part, takenBackAt: null },
        transaction,
      });
      if (standing?.reason === reason) return;
      await standing?.update({ takenBackAt: new Date() }, { transaction });
      if (reason !== null)
        await Dismissal.create({ shotId: id, reading, part, reason, authorId: person.id }, { transaction });
    });
    return this.shot(person, id);
  }
}
