import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { CohortGrades, Grades } from '@ypsigraph/contract/grades';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { GradeService } from './grade.service.ts';

@ApiTags('grades')
@Controller()
export class GradeController {
  constructor(private readonly service: GradeService) {}

  @On(ROUTES.grades)
  grades(@Current() person: Person, @Asked() { params: { id } }: Asked<typeof ROUTES.grades>): Promise<Grades> {
    return this.service.grades(person, id);
  }

  @On(ROUTES.decideGrade)
  decide(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.decideGrade>,
  ): Promise<Grades> {
    return this.service.decide(person, id, body);
  }

  @On(ROUTES.cohortGrades)
  ofCohort(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.cohortGrades>,
  ): Promise<CohortGrades> {
    return this.service.ofCohort(person, id);
  }
}
