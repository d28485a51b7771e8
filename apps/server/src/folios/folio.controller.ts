import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Folio, Tally } from '@ypsigraph/contract/folios';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { FolioService } from './folio.service.ts';

@ApiTags('folios')
@Controller()
export class FolioController {
  constructor(private readonly folios: FolioService) {}

  @On(ROUTES.folio)
  folio(
    @Current() person: Person,
    @Asked() { params: { id }, query: { cohort } }: Asked<typeof ROUTES.folio>,
  ): Promise<Folio> {
    return this.folios.folio(person, id, cohort);
  }

  @On(ROUTES.tally)
  tally(@Current() person: Person, @Asked() { params: { id } }: Asked<typeof ROUTES.tally>): Promise<Tally> {
    return this.folios.tally(person, id);
  }
}
