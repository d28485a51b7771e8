import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Outbox } from '@ypsigraph/contract/outbox';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { OutboxService } from './outbox.service.ts';

@ApiTags('outbox')
@Controller()
export class OutboxController {
  constructor(private readonly outbox: OutboxService) {}

  @On(ROUTES.outbox)
  page(@Current() person: Person, @Asked() { query: { after } }: Asked<typeof ROUTES.outbox>): Promise<Outbox> {
    return this.outbox.page(person, after);
  }
}
