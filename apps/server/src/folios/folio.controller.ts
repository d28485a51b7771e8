import { Controller, Param, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import { Folio, Tally } from '@ypsigraph/contract/folios';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Current } from '../http/current-person.ts';
import { IdPipe, MaybeIdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { FolioService } from './folio.service.ts';

class FolioDto extends createZodDto(Folio) {}
class TallyDto extends createZodDto(Tally) {}

@ApiTags('folios')
@Controller()
export class FolioController {
  constructor(private readonly folios: FolioService) {}

  @On(ROUTES.folio, FolioDto)
  folio(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Query('cohort', MaybeIdPipe) cohort: string | undefined,
  ): Promise<Folio> {
    return this.folios.folio(person, id, cohort);
  }

  @On(ROUTES.tally, TallyDto)
  tally(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Tally> {
    return this.folios.tally(person, id);
  }
}
