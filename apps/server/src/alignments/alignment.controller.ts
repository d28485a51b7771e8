import { Body, Controller, Param } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import { Carried, MarkPlacing } from '@ypsigraph/contract/alignments';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import { AlignmentService } from './alignment.service.ts';

class CarriedDto extends createZodDto(Carried) {}
class MarkPlacingDto extends createZodDto(MarkPlacing) {}

@ApiTags('alignments')
@Controller()
export class AlignmentController {
  constructor(
    private readonly alignments: AlignmentService,
    private readonly policy: ShotPolicy,
  ) {}

  @On(ROUTES.carried, CarriedDto)
  async carried(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Carried> {
    await this.policy.revision(person, id);
    return this.alignments.carried(id);
  }

  @On(ROUTES.placeMark, CarriedDto)
  place(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: MarkPlacingDto): Promise<Carried> {
    return this.alignments.place(person, id, body);
  }
}
