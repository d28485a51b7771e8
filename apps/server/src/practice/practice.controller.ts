import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import { Practice } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { PracticeService } from './practice.service.ts';

class PracticeDto extends createZodDto(Practice) {}

@ApiTags('practice')
@Controller()
export class PracticeController {
  constructor(private readonly practice: PracticeService) {}

  @On(ROUTES.practice, PracticeDto)
  find(@Current() person: Person): Promise<Practice> {
    return this.practice.find(person);
  }

  @On(ROUTES.makePractice, PracticeDto, 201)
  make(@Current() person: Person): Promise<Practice> {
    return this.practice.make(person);
  }

  @On(ROUTES.dropPractice, PracticeDto)
  drop(@Current() person: Person): Promise<Practice> {
    return this.practice.drop(person);
  }
}
