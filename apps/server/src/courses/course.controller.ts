import { Body, Controller, Inject, Param, Req } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { createZodDto } from 'nestjs-zod';
import { UniqueConstraintError } from 'sequelize';
import {
  Assignment,
  AssignmentChange,
  Cohort,
  CohortChange,
  CohortPeople,
  Ledger,
  NewAssignment,
  NewCohort,
  Roster,
  RosterAnswer,
  WorksheetEntry,
} from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { ownAddress } from '../http/own-address.ts';
import { conflict } from '../http/problem.ts';
import { RosterService } from './roster.service.ts';
import { CourseService } from './course.service.ts';

class AssignmentDto extends createZodDto(Assignment) {}
class AssignmentChangeDto extends createZodDto(AssignmentChange) {}
class CohortDto extends createZodDto(Cohort) {}
class CohortChangeDto extends createZodDto(CohortChange) {}
class CohortPeopleDto extends createZodDto(CohortPeople) {}
class RosterDto extends createZodDto(Roster) {}
class RosterAnswerDto extends createZodDto(RosterAnswer) {}
class LedgerDto extends createZodDto(Ledger) {}
class NewCohortDto extends createZodDto(NewCohort) {}
class NewAssignmentDto extends createZodDto(NewAssignment) {}
class WorksheetEntryDto extends createZodDto(WorksheetEntry) {}

@ApiTags('courses')
@Controller()
export class CourseController {
  constructor(
    private readonly courses: CourseService,
    private readonly rosters: RosterService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  @On(ROUTES.cohorts, [CohortDto])
  cohorts(@Current() person: Person): Promise<Cohort[]> {
    return this.courses.cohorts(person);
  }

  @On(ROUTES.makeCohort, CohortDto, 201)
  makeCohort(@Current() person: Person, @Body() body: NewCohortDto): Promise<Cohort> {
    return this.courses.makeCohort(person, body);
  }

  @On(ROUTES.ledger, LedgerDto)
  ledger(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Ledger> {
    return this.courses.ledger(person, id);
  }

  @On(ROUTES.cohortPeople, CohortPeopleDto)
  people(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<CohortPeople> {
    return this.courses.people(person, id);
  }

  @On(ROUTES.changeCohort, CohortPeopleDto)
  changeCohort(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Body() body: CohortChangeDto,
  ): Promise<CohortPeople> {
    return this.courses.changeCohort(person, id, body);
  }

  @On(ROUTES.roster, RosterAnswerDto)
  async takeRoster(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Body() body: RosterDto,
    @Req() request: Request,
  ): Promise<RosterAnswer> {
    return this.rosters.take(person, id, body, ownAddress(this.configuration, request));
  }

  @On(ROUTES.assign, AssignmentDto, 201)
  async assign(@Current() person: Person, @Body() body: NewAssignmentDto): Promise<Assignment> {
    try {
      return await this.courses.assign(person, body);
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw conflict('This exercise is already set for this cohort.');
      throw error;
    }
  }

  @On(ROUTES.changeAssignment, AssignmentDto)
  change(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Body() body: AssignmentChangeDto,
  ): Promise<Assignment> {
    return this.courses.change(person, id, body);
  }

  @On(ROUTES.assignment, AssignmentDto)
  assignment(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Assignment> {
    return this.courses.assignment(person, id);
  }

  @On(ROUTES.worksheet, [WorksheetEntryDto])
  worksheet(@Current() person: Person): Promise<WorksheetEntry[]> {
    return this.courses.worksheet(person);
  }
}
