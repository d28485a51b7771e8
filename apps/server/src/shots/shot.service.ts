import { Injectable } from '@nestjs/common';
import type { Docket, DocketQuery } from '@ypsigraph/contract/courses';
import type { NewDismissal } from '@ypsigraph/contract/marks';
import type { Person } from '@ypsigraph/contract/people';
import type { Alike, Shot } from '@ypsigraph/contract/shots';
import { Database } from '../database/database.module.ts';
import { notFound } from '../http/problem.ts';
import { findAlike } from './alike.query.ts';
import { ShotPolicy } from './shot.policy.ts';
import { findDocket } from './docket.query.ts';
import { findShot } from './shot.queries.ts';

@Injectable()
export class ShotService {
  constructor(
    private readonly database: Database,
    private readonly policy: ShotPolicy,
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
