import { Controller, Inject, Req } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { UniqueConstraintError } from 'sequelize';
import { Assignment, Cohort, CohortPeople, Ledger, RosterAnswer, WorksheetEntry } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { ownAddress } from '../http/own-address.ts';
import { conflict } from '../http/problem.ts';
import { RosterService } from './roster.service.ts';
import { CourseService } from './course.service.ts';

@ApiTags('courses')
@Controller()
export class CourseController {
  constructor(
    private readonly courses: CourseService,
    private readonly rosters: RosterService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  @On(ROUTES.cohorts)
  cohorts(@Current() person: Person): Promise<Cohort[]> {
    return this.courses.cohorts(person);
  }

  @On(ROUTES.makeCohort)
  makeCohort(@Current() person: Person, @Asked() { body }: Asked<typeof ROUTES.makeCohort>): Promise<Cohort> {
    return this.courses.makeCohort(person, body);
  }

  @On(ROUTES.ledger)
  ledger(@Current() person: Person, @Asked() { params: { id } }: Asked<typeof ROUTES.ledger>): Promise<Ledger> {
    return this.courses.ledger(person, id);
  }

  @On(ROUTES.cohortPeople)
  people(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.cohortPeople>,
  ): Promise<CohortPeople> {
    return this.courses.people(person, id);
  }

  @On(ROUTES.changeCohort)
  changeCohort(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.changeCohort>,
  ): Promise<CohortPeople> {
    return this.courses.changeCohort(person, id, body);
  }

  @On(ROUTES.roster)
  async takeRoster(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.roster>,
    @Req() request: Request,
  ): Promise<RosterAnswer> {
    return this.rosters.take(person, id, body, ownAddress(this.configuration, request));
  }

  @On(ROUTES.assign)
  async assign(@Current() person: Person, @Asked() { body }: Asked<typeof ROUTES.assign>): Promise<Assignment> {
    try {
      return await this.courses.assign(person, body);
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw conflict('This exercise is already set for this cohort.');
      throw error;
    }
  }

  @On(ROUTES.changeAssignment)
  change(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.changeAssignment>,
  ): Promise<Assignment> {
    return this.courses.change(person, id, body);
  }

  @On(ROUTES.assignment)
  assignment(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.assignment>,
  ): Promise<Assignment> {
    return this.courses.assignment(person, id);
  }

  @On(ROUTES.worksheet)
  worksheet(@Current() person: Person): Promise<WorksheetEntry[]> {
    return this.courses.worksheet(person);
  }
}
