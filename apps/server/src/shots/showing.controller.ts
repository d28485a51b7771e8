import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Shot } from '@ypsigraph/contract/shots';
import { Showing, ShownExemplar } from '@ypsigraph/contract/showings';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { ShotService } from './shot.service.ts';
import { ShownExemplarService } from './shown-exemplar.service.ts';
import { ShowingService } from './showing.service.ts';

@ApiTags('showings')
@Controller()
export class ShowingController {
  constructor(
    private readonly showings: ShowingService,
    private readonly shots: ShotService,
    private readonly exemplars: ShownExemplarService,
  ) {}

  @On(ROUTES.showings)
  list(@Current() person: Person): Promise<Showing[]> {
    return this.showings.list(person);
  }

  @On(ROUTES.shownExemplars)
  shownExemplars(@Current() person: Person): Promise<ShownExemplar[]> {
    return this.exemplars.list(person);
  }

  @On(ROUTES.showExemplar)
  showExemplar(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.showExemplar>,
  ): Promise<ShownExemplar> {
    return this.exemplars.show(person, id, body);
  }

  @On(ROUTES.takeExemplarBack)
  takeExemplarBack(
    @Current() person: Person,
    @Asked() { params: { id, shown } }: Asked<typeof ROUTES.takeExemplarBack>,
  ): Promise<ShownExemplar[]> {
    return this.exemplars.takeBack(person, id, shown);
  }

  @On(ROUTES.consent)
  async consent(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.consent>,
  ): Promise<Shot> {
    await this.showings.consent(person, id, body.consent);
    return this.shots.shot(person, id);
  }

  @On(ROUTES.show)
  async show(@Current() person: Person, @Asked() { params: { id }, body }: Asked<typeof ROUTES.show>): Promise<Shot> {
    await this.showings.show(person, id, body.shown, body.words);
    return this.shots.shot(person, id);
  }
}
