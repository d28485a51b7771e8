import { Injectable } from '@nestjs/common';
import type { Docket } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import type { Shot } from '@ypsigraph/contract/shots';
import { Database } from '../database/database.module.ts';
import { notFound } from '../http/problem.ts';
import { ShotPolicy } from './shot.policy.ts';
import { findDocket } from './docket.query.ts';
import { findShot } from './shot.queries.ts';

@Injectable()
export class ShotService {
  constructor(
    private readonly database: Database,
    private readonly policy: ShotPolicy,
  ) {}

  docket(person: Person, after?: string): Promise<Docket> {
    return findDocket(this.database, person.id, after);
  }

  async shot(person: Person, id: string): Promise<Shot> {
    await this.policy.shot(person, id);
    const shot = await findShot(this.database, id, person.role === 'student');
    if (!shot) throw notFound('shot');
    return shot;
  }
}
