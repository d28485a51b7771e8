import { Controller, type MessageEvent, Req } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import type { Observable } from 'rxjs';
import { Docket } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Alike, Shot } from '@ypsigraph/contract/shots';
import type { ListedDemonstration } from '@ypsigraph/contract/shots';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On, Streams } from '../http/on.ts';
import { NewsStreams } from '../news/news-streams.ts';
import { ShotPolicy } from './shot.policy.ts';
import { ShotService } from './shot.service.ts';

@ApiTags('shots')
@Controller()
export class ShotController {
  constructor(
    private readonly shots: ShotService,
    private readonly policy: ShotPolicy,
    private readonly streams: NewsStreams,
  ) {}

  @On(ROUTES.docket)
  docket(@Current() person: Person, @Asked() { query }: Asked<typeof ROUTES.docket>): Promise<Docket> {
    return this.shots.docket(person, query);
  }

  @On(ROUTES.shot)
  shot(@Current() person: Person, @Asked() { params: { id } }: Asked<typeof ROUTES.shot>): Promise<Shot> {
    return this.shots.shot(person, id);
  }

  @On(ROUTES.demonstrations)
  demonstrations(
    @Current() person: Person,
    @Asked() { params: { id }, query }: Asked<typeof ROUTES.demonstrations>,
  ): Promise<ListedDemonstration[]> {
    return this.shots.demonstrations(person, id, query.shot);
  }

  @On(ROUTES.setDemonstration)
  setDemonstration(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.setDemonstration>,
  ): Promise<Shot> {
    return this.shots.setDemonstration(person, id, body);
  }

  @On(ROUTES.dropDemonstration)
  dropDemonstration(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.dropDemonstration>,
  ): Promise<Shot> {
    return this.shots.dropDemonstration(person, id);
  }

  @On(ROUTES.alike)
  alike(
    @Current() person: Person,
    @Asked() { params: { id }, query: { reading, part } }: Asked<typeof ROUTES.alike>,
  ): Promise<Alike[]> {
    // An address may say a thing twice: then it is a list.
    return this.shots.alike(person, id, String(reading), part === undefined ? null : String(part));
  }

  @Streams(ROUTES.shotEvents)
  async events(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.shotEvents>,
    @Req() request: Request,
  ): Promise<Observable<MessageEvent>> {
    await this.policy.shot(person, id, 'look');
    return this.streams.ofShot(id, person, request.sessionID);
  }

  /** Puts a finding aside for this shot, or takes that back. */
  @On(ROUTES.dismiss)
  dismiss(@Current() person: Person, @Asked() { params: { id }, body }: Asked<typeof ROUTES.dismiss>): Promise<Shot> {
    return this.shots.dismiss(person, id, body);
  }
}
