import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Practice } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { PracticeService } from './practice.service.ts';

@ApiTags('practice')
@Controller()
export class PracticeController {
  constructor(private readonly practice: PracticeService) {}

  @On(ROUTES.practice)
  find(@Current() person: Person): Promise<Practice> {
    return this.practice.find(person);
  }

  @On(ROUTES.makePractice)
  make(@Current() person: Person): Promise<Practice> {
    return this.practice.make(person);
  }

  @On(ROUTES.dropPractice)
  drop(@Current() person: Person): Promise<Practice> {
    return this.practice.drop(person);
  }
}
