import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Person } from '@ypsigraph/contract/people';
import { Phrase } from '@ypsigraph/contract/marks';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { PhraseService } from './phrase.service.ts';

/** A person's own phrases: remarks kept for reuse. */
@ApiTags('phrases')
@Controller()
export class PhraseController {
  constructor(private readonly phrases: PhraseService) {}

  @On(ROUTES.phrases)
  list(@Current() person: Person): Promise<Phrase[]> {
    return this.phrases.list(person);
  }

  @On(ROUTES.keepPhrase)
  keep(@Current() person: Person, @Asked() { body }: Asked<typeof ROUTES.keepPhrase>): Promise<Phrase> {
    return this.phrases.keep(person, body);
  }

  @On(ROUTES.dropPhrase)
  async drop(
    @Current() person: Person,
    @Asked() { params: { phrase: id } }: Asked<typeof ROUTES.dropPhrase>,
  ): Promise<{ id: string; archived: true }> {
    await this.phrases.drop(person, id);
    return { id, archived: true };
  }
}
