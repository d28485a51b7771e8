import { Body, Controller, type MessageEvent, Param, Query, Req, SetMetadata, Sse } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { createZodDto } from 'nestjs-zod';
import type { Observable } from 'rxjs';
import { Docket, DocketQuery } from '@ypsigraph/contract/courses';
import { NewDismissal } from '@ypsigraph/contract/marks';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Alike, Shot } from '@ypsigraph/contract/shots';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { AUDIENCE, On } from '../http/on.ts';
import { NewsStreams } from '../news/news-streams.ts';
import { ShotPolicy } from './shot.policy.ts';
import { ShotService } from './shot.service.ts';

class DocketDto extends createZodDto(Docket) {}
class DocketQueryDto extends createZodDto(DocketQuery) {}
class AlikeDto extends createZodDto(Alike) {}
class ShotDto extends createZodDto(Shot) {}
class NewDismissalDto extends createZodDto(NewDismissal) {}

@ApiTags('shots')
@Controller()
export class ShotController {
  constructor(
    private readonly shots: ShotService,
    private readonly policy: ShotPolicy,
    private readonly streams: NewsStreams,
  ) {}

  @On(ROUTES.docket, DocketDto)
  docket(@Current() person: Person, @Query() query: DocketQueryDto): Promise<Docket> {
    return this.shots.docket(person, query);
  }

  @On(ROUTES.shot, ShotDto)
  shot(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Shot> {
    return this.shots.shot(person, id);
  }

  @On(ROUTES.alike, [AlikeDto])
  alike(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Query('reading') reading = '',
    @Query('part') part?: string,
  ): Promise<Alike[]> {
    // An address may say a thing twice: then it is a list.
    return this.shots.alike(person, id, String(reading), part === undefined ? null : String(part));
  }

  @Sse(ROUTES.shotEvents.path)
  @SetMetadata(AUDIENCE, ROUTES.shotEvents.audience)
  async events(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Req() request: Request,
  ): Promise<Observable<MessageEvent>> {
    await this.policy.shot(person, id, 'look');
    return this.streams.ofShot(id, person, request.sessionID);
  }

  /** Puts a finding aside for this shot, or takes that back. */
  @On(ROUTES.dismiss, ShotDto)
  dismiss(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: NewDismissalDto): Promise<Shot> {
    return this.shots.dismiss(person, id, body);
  }
}
