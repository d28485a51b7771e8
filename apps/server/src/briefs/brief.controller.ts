import { Body, Controller, Param, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { createZodDto } from 'nestjs-zod';
import { z } from 'zod';
import { briefJsonSchema } from '@ypsigraph/contract/brief-schema';
import {
  BriefChange,
  BriefContent,
  BriefFileFormat,
  BriefVersions,
  ListedBrief,
  ReadingValues,
} from '@ypsigraph/contract/briefs';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { FileStore } from '../files/file-store.ts';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { receiveForm } from '../files/receive-form.ts';
import { sendFile } from '../files/send-file.ts';
import { refusedFile } from '../http/problem.ts';
import { BriefService } from './brief.service.ts';

class BriefVersionsDto extends createZodDto(BriefVersions) {}
class ListedBriefDto extends createZodDto(ListedBrief) {}
class BriefContentDto extends createZodDto(BriefContent) {}
class BriefChangeDto extends createZodDto(BriefChange) {}
class BriefFileFormatDto extends createZodDto(BriefFileFormat) {}
class ReadingValuesDto extends createZodDto(ReadingValues) {}
class ArchiveDto extends createZodDto(z.object({ archived: z.boolean() })) {}

/** Largest file to start from. */
const MOST_BYTES = 256 * 1024 * 1024;

@ApiTags('briefs')
@Controller()
export class BriefController {
  constructor(
    private readonly briefs: BriefService,
    private readonly files: FileStore,
  ) {}

  @On(ROUTES.briefs, [ListedBriefDto])
  list(): Promise<ListedBrief[]> {
    return this.briefs.list();
  }

  @On(ROUTES.makeBrief, BriefVersionsDto, 201)
  make(@Current() person: Person, @Body() body: BriefContentDto): Promise<BriefVersions> {
    return this.briefs.make(person, body);
  }

  @On(ROUTES.briefSchema)
  schema(): object {
    return briefJsonSchema();
  }

  @On(ROUTES.importBrief, BriefVersionsDto, 201)
  take(@Current() person: Person, @Body() body: BriefFileFormatDto): Promise<BriefVersions> {
    return this.briefs.take(person, body);
  }

  @On(ROUTES.brief, BriefVersionsDto)
  show(@Param('brief', IdPipe) id: string): Promise<BriefVersions> {
    return this.briefs.versions(id);
  }

  @On(ROUTES.changeBrief, BriefVersionsDto)
  change(
    @Current() person: Person,
    @Param('brief', IdPipe) id: string,
    @Body() body: BriefChangeDto,
  ): Promise<BriefVersions> {
    return this.briefs.change(person, id, body);
  }

  @On(ROUTES.archiveBrief, BriefVersionsDto)
  archive(@Param('brief', IdPipe) id: string, @Body() body: ArchiveDto): Promise<BriefVersions> {
    return this.briefs.archive(id, body.archived);
  }

  @On(ROUTES.exportBrief, BriefFileFormatDto)
  file(@Param('brief', IdPipe) id: string): Promise<BriefFileFormat> {
    return this.briefs.file(id);
  }

  @On(ROUTES.readingValues, ReadingValuesDto)
  values(@Current() person: Person, @Param('brief', IdPipe) id: string): Promise<ReadingValues> {
    return this.briefs.values(person, id);
  }

  @On(ROUTES.addBriefFile, BriefVersionsDto)
  async addFile(
    @Current() person: Person,
    @Param('brief', IdPipe) id: string,
    @Req() request: Request,
  ): Promise<BriefVersions> {
    await this.briefs.versions(id);
    const form = await receiveForm(
      request,
      this.files,
      MOST_BYTES,
      () => refusedFile('The file is larger than 256 MB.', 'Leave out what nobody needs to start from.', 413),
      () => refusedFile('There is no file in this request.'),
    );
    return this.briefs.addFile(person, id, form);
  }

  @On(ROUTES.dropBriefFile, BriefVersionsDto)
  dropFile(
    @Current() person: Person,
    @Param('brief', IdPipe) id: string,
    @Param('file', IdPipe) file: string,
  ): Promise<BriefVersions> {
    return this.briefs.dropFile(person, id, file);
  }

  /** Whatever it is, it is saved and never shown: nobody's file becomes a page of ours. */
  @On(ROUTES.briefFile)
  async giveFile(
    @Current() person: Person,
    @Param('brief', IdPipe) id: string,
    @Param('file', IdPipe) file: string,
    @Res() response: Response,
  ): Promise<void> {
    const { sha256, name } = await this.briefs.fileFor(person, id, file);
    await sendFile(response, this.files, { sha256, name });
  }
}
