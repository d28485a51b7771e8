import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { ArchivedMark, Mark, MarkEvent } from '@ypsigraph/contract/marks';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { MarkService } from './mark.service.ts';

/** Marks of a revision. Every change is answered with the mark as it now is. */
@ApiTags('marks')
@Controller()
export class MarkController {
  constructor(private readonly marks: MarkService) {}

  @On(ROUTES.makeMark)
  make(
    @Current() person: Person,
    @Asked() { params: { id: revision }, body }: Asked<typeof ROUTES.makeMark>,
  ): Promise<Mark> {
    return this.marks.make(person, revision, body);
  }

  @On(ROUTES.changeMark)
  change(@Current() person: Person, @Asked() { params: { id }, body }: Asked<typeof ROUTES.changeMark>): Promise<Mark> {
    return this.marks.change(person, id, body);
  }

  @On(ROUTES.archiveMark)
  async archive(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.archiveMark>,
  ): Promise<ArchivedMark> {
    await this.marks.archive(person, id);
    return { id, archived: true };
  }

  @On(ROUTES.markHistory)
  history(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.markHistory>,
  ): Promise<MarkEvent[]> {
    return this.marks.history(person, id);
  }

  @On(ROUTES.judgeMark)
  judge(@Current() person: Person, @Asked() { params: { id }, body }: Asked<typeof ROUTES.judgeMark>): Promise<Mark> {
    return this.marks.judge(person, id, body);
  }

  @On(ROUTES.answerMark)
  answer(@Current() person: Person, @Asked() { params: { id }, body }: Asked<typeof ROUTES.answerMark>): Promise<Mark> {
    return this.marks.answer(person, id, body);
  }
}
