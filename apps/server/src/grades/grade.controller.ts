import { Body, Controller, Param } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import { CohortGrades, Decision, Grades } from '@ypsigraph/contract/grades';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { GradeService } from './grade.service.ts';

class GradesDto extends createZodDto(Grades) {}
class DecisionDto extends createZodDto(Decision) {}
class CohortGradesDto extends createZodDto(CohortGrades) {}

@ApiTags('grades')
@Controller()
export class GradeController {
  constructor(private readonly service: GradeService) {}

  @On(ROUTES.grades, GradesDto)
  grades(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Grades> {
    return this.service.grades(person, id);
  }

  @On(ROUTES.decideGrade, GradesDto)
  decide(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: DecisionDto): Promise<Grades> {
    return this.service.decide(person, id, body);
  }

  @On(ROUTES.cohortGrades, CohortGradesDto)
  ofCohort(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<CohortGrades> {
    return this.service.ofCohort(person, id);
  }
}
