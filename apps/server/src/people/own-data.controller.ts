import { Controller, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { OwnDataService } from './own-data.service.ts';

@ApiTags('session')
@Controller()
export class OwnDataController {
  constructor(private readonly data: OwnDataService) {}

  @On(ROUTES.everythingOwn)
  everything(@Current() person: Person, @Res() response: Response): Promise<void> {
    return this.data.send(person, response);
  }
}
