import { Body, Controller, Param, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import { Docket } from '@ypsigraph/contract/courses';
import { NewDismissal } from '@ypsigraph/contract/marks';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Shot } from '@ypsigraph/contract/shots';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { ShotService } from './shot.service.ts';

class DocketDto extends createZodDto(Docket) {}
class ShotDto extends createZodDto(Shot) {}
class NewDismissalDto extends createZodDto(NewDismissal) {}

@ApiTags('shots')
@Controller()
export class ShotController {
  constructor(private readonly shots: ShotService) {}

  @On(ROUTES.docket, DocketDto)
  docket(@Current() person: Person, @Query('after') after?: string): Promise<Docket> {
    return this.shots.docket(person, after);
  }

  @On(ROUTES.shot, ShotDto)
  shot(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Shot> {
    return this.shots.shot(person, id);
  }

  /** Puts a finding aside for this shot, or takes that back. */
  @On(ROUTES.dismiss, ShotDto)
  dismiss(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: NewDismissalDto): Promise<Shot> {
    return this.shots.dismiss(person, id, body);
  }
}
