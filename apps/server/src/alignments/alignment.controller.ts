import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Carried } from '@ypsigraph/contract/alignments';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import { AlignmentService } from './alignment.service.ts';

@ApiTags('alignments')
@Controller()
export class AlignmentController {
  constructor(
    private readonly alignments: AlignmentService,
    private readonly policy: ShotPolicy,
  ) {}

  @On(ROUTES.carried)
  async carried(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.carried>,
  ): Promise<Carried> {
    await this.policy.revision(person, id);
    return this.alignments.carried(id);
  }

  @On(ROUTES.placeMark)
  place(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.placeMark>,
  ): Promise<Carried> {
    return this.alignments.place(person, id, body);
  }
}
