import { Body, Controller, Param } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { createZodDto } from 'nestjs-zod';
import { z } from 'zod';
import type { Person } from '@ypsigraph/contract/people';
import { ArchivedMark, NewPhrase, Phrase } from '@ypsigraph/contract/marks';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { PhraseService } from './phrase.service.ts';

class PhraseDto extends createZodDto(Phrase) {}
class PhrasesDto extends createZodDto(z.array(Phrase)) {}
class NewPhraseDto extends createZodDto(NewPhrase) {}
class DroppedDto extends createZodDto(ArchivedMark) {}

/** A person's own phrases: remarks kept for reuse. */
@ApiTags('phrases')
@Controller()
export class PhraseController {
  constructor(private readonly phrases: PhraseService) {}

  @On(ROUTES.phrases, PhrasesDto)
  list(@Current() person: Person): Promise<Phrase[]> {
    return this.phrases.list(person);
  }

  @On(ROUTES.keepPhrase, PhraseDto, 201)
  keep(@Current() person: Person, @Body() body: NewPhraseDto): Promise<Phrase> {
    return this.phrases.keep(person, body);
  }

  @On(ROUTES.dropPhrase, DroppedDto)
  async drop(@Current() person: Person, @Param('phrase', IdPipe) id: string): Promise<{ id: string; archived: true }> {
    await this.phrases.drop(person, id);
    return { id, archived: true };
  }
}
