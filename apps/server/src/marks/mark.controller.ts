import { Body, Controller, Param } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { ArchivedMark, Mark, MarkChange, MarkEvent, MarkVerdict, NewMark, NewReply } from '@ypsigraph/contract/marks';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { MarkService } from './mark.service.ts';

class NewMarkDto extends createZodDto(NewMark) {}
class MarkChangeDto extends createZodDto(MarkChange) {}
class MarkVerdictDto extends createZodDto(MarkVerdict) {}
class NewReplyDto extends createZodDto(NewReply) {}
class MarkEventDto extends createZodDto(MarkEvent) {}
class MarkDto extends createZodDto(Mark) {}
class ArchivedMarkDto extends createZodDto(ArchivedMark) {}

/** Marks of a revision. Every change is answered with the mark as it now is. */
@ApiTags('marks')
@Controller()
export class MarkController {
  constructor(private readonly marks: MarkService) {}

  @On(ROUTES.makeMark, MarkDto, 201)
  make(@Current() person: Person, @Param('id', IdPipe) revision: string, @Body() body: NewMarkDto): Promise<Mark> {
    return this.marks.make(person, revision, body);
  }

  @On(ROUTES.changeMark, MarkDto)
  change(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: MarkChangeDto): Promise<Mark> {
    return this.marks.change(person, id, body);
  }

  @On(ROUTES.archiveMark, ArchivedMarkDto)
  async archive(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<ArchivedMark> {
    await this.marks.archive(person, id);
    return { id, archived: true };
  }

  @On(ROUTES.markHistory, [MarkEventDto])
  history(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<MarkEvent[]> {
    return this.marks.history(person, id);
  }

  @On(ROUTES.judgeMark, MarkDto)
  judge(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: MarkVerdictDto): Promise<Mark> {
    return this.marks.judge(person, id, body);
  }

  @On(ROUTES.answerMark, MarkDto, 201)
  answer(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: NewReplyDto): Promise<Mark> {
    return this.marks.answer(person, id, body);
  }
}
