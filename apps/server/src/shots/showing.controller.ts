import { Body, Controller, Param } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Consent, Shot, Show } from '@ypsigraph/contract/shots';
import { Showing } from '@ypsigraph/contract/showings';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { ShotService } from './shot.service.ts';
import { ShowingService } from './showing.service.ts';

class ConsentDto extends createZodDto(Consent) {}
class ShowDto extends createZodDto(Show) {}
class ShotDto extends createZodDto(Shot) {}
class ShowingDto extends createZodDto(Showing) {}

@ApiTags('showings')
@Controller()
export class ShowingController {
  constructor(
    private readonly showings: ShowingService,
    private readonly shots: ShotService,
  ) {}

  @On(ROUTES.showings, [ShowingDto])
  list(@Current() person: Person): Promise<Showing[]> {
    return this.showings.list(person);
  }

  @On(ROUTES.consent, ShotDto)
  async consent(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: ConsentDto): Promise<Shot> {
    await this.showings.consent(person, id, body.consent);
    return this.shots.shot(person, id);
  }

  @On(ROUTES.show, ShotDto)
  async show(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: ShowDto): Promise<Shot> {
    await this.showings.show(person, id, body.shown, body.words);
    return this.shots.shot(person, id);
  }
}
