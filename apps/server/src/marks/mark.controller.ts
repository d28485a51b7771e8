import { Body, Controller, Param } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { MarkChange, MarkVerdict, NewMark, NewReply, Shot } from '@ypsigraph/contract/shots';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import { ShotService } from '../shots/shot.service.ts';
import { MarkService } from './mark.service.ts';

class NewMarkDto extends createZodDto(NewMark) {}
class MarkChangeDto extends createZodDto(MarkChange) {}
class MarkVerdictDto extends createZodDto(MarkVerdict) {}
class NewReplyDto extends createZodDto(NewReply) {}
class ShotDto extends createZodDto(Shot) {}

/** Marks of a revision. Every change is answered with the shot as it now is. */
@ApiTags('marks')
@Controller()
export class MarkController {
  constructor(
    private readonly marks: MarkService,
    private readonly shots: ShotService,
    private readonly policy: ShotPolicy,
  ) {}

  @On(ROUTES.makeMark, ShotDto, 201)
  async make(
    @Current() person: Person,
    @Param('id', IdPipe) revision: string,
    @Body() body: NewMarkDto,
  ): Promise<Shot> {
    await this.marks.make(person, revision, body);
    return this.shotOf(person, revision);
  }

  @On(ROUTES.changeMark, ShotDto)
  async change(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: MarkChangeDto): Promise<Shot> {
    const { revisionId } = await this.policy.mark(person, id);
    await this.marks.change(person, id, body);
    return this.shotOf(person, revisionId);
  }

  @On(ROUTES.archiveMark, ShotDto)
  async archive(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Shot> {
    const { revisionId } = await this.policy.mark(person, id);
    await this.marks.archive(person, id);
    return this.shotOf(person, revisionId);
  }

  @On(ROUTES.judgeMark, ShotDto)
  async judge(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: MarkVerdictDto): Promise<Shot> {
    const { revisionId } = await this.policy.mark(person, id);
    await this.marks.judge(person, id, body);
    return this.shotOf(person, revisionId);
  }

  @On(ROUTES.answerMark, ShotDto, 201)
  async answer(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: NewReplyDto): Promise<Shot> {
    const { revisionId } = await this.policy.mark(person, id);
    await this.marks.answer(person, id, body);
    return this.shotOf(person, revisionId);
  }

  private async shotOf(person: Person, revisionId: string): Promise<Shot> {
    const revision = await this.policy.revision(person, revisionId);
    return this.shots.shot(person, revision.shotId);
  }
}
