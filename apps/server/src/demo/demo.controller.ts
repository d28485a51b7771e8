import { Controller, Req } from '@nestjs/common';
import type { Request } from 'express';
import { DemoPerson, Session } from '@ypsigraph/contract/people';
import { DEMO_ROUTES } from '@ypsigraph/contract/routes';
import { Database } from '../database/database.module.ts';
import { Asked } from '../http/asked.ts';
import { On } from '../http/on.ts';
import { notFound } from '../http/problem.ts';
import { SessionService } from '../people/session.service.ts';
import { personLine } from './people.ts';

/** Signing in as one of the invented people in one click. This controller is part of the application in the demo only. */
@Controller()
export class DemoController {
  constructor(
    private readonly database: Database,
    private readonly sessions: SessionService,
  ) {}

  @On(DEMO_ROUTES.demoPeople)
  async people(): Promise<DemoPerson[]> {
    const people = await this.database.select<Omit<DemoPerson, 'line'> & { email: string }>(
      `SELECT p.id, p.name, p.role, p.email, coalesce(array_agg(c.name ORDER BY c.name) FILTER (WHERE c.id IS NOT NULL), '{}') AS cohorts
         FROM people p
         LEFT JOIN enrolments e ON e.person_id = p.id
         LEFT JOIN cohorts c ON c.id = e.cohort_id
        WHERE p.archived_at IS NULL
        GROUP BY p.id
        ORDER BY array_position(ARRAY['instructor', 'assistant', 'student'], p.role), p.name`,
      [],
    );
    return people.map(({ email, ...person }) => ({ ...person, line: personLine(email) }));
  }

  @On(DEMO_ROUTES.demoSignIn)
  async signIn(@Asked() { body }: Asked<typeof DEMO_ROUTES.demoSignIn>, @Req() request: Request): Promise<Session> {
    const person = await this.database.models.Person.findByPk(body.person);
    if (!person || person.archivedAt) throw notFound('person');
    await this.sessions.begin(request, person.id);
    return this.sessions.told({ id: person.id, name: person.name, role: person.role });
  }
}
