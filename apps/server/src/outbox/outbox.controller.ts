import { Controller, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import { Outbox } from '@ypsigraph/contract/outbox';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { OutboxService } from './outbox.service.ts';

class OutboxDto extends createZodDto(Outbox) {}

@ApiTags('outbox')
@Controller()
export class OutboxController {
  constructor(private readonly outbox: OutboxService) {}

  @On(ROUTES.outbox, OutboxDto)
  page(@Current() person: Person, @Query('after') after: string | undefined): Promise<Outbox> {
    return this.outbox.page(person, after);
  }
}
