import { Body, Controller, Param, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { createZodDto } from 'nestjs-zod';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { HandIn } from '@ypsigraph/contract/shots';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { cleanName } from '../revisions/hand-in.ts';
import { RevisionService } from '../revisions/revision.service.ts';
import { Uploads } from './uploads.ts';

class HandInDto extends createZodDto(HandIn) {}

/** Large files come in pieces, by the tus protocol, and go on after a cut; whole, they are handed in. */
@ApiTags('uploads')
@Controller()
export class UploadController {
  constructor(
    private readonly uploads: Uploads,
    private readonly revisions: RevisionService,
  ) {}

  @On(ROUTES.beginUpload, undefined, 201)
  begin(@Current() person: Person, @Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(person, request, response);
  }

  /** How much of it is there: asked for by HEAD. */
  @On(ROUTES.uploadState)
  state(
    @Current() person: Person,
    @Param('upload') upload: string,
    @Req() request: Request,
    @Res() response: Response,
  ): Promise<void> {
    return this.uploads.handle(person, request, response, upload);
  }

  @On(ROUTES.uploadPart, undefined, 204)
  part(
    @Current() person: Person,
    @Param('upload') upload: string,
    @Req() request: Request,
    @Res() response: Response,
  ): Promise<void> {
    return this.uploads.handle(person, request, response, upload);
  }

  @On(ROUTES.dropUpload, undefined, 204)
  drop(
    @Current() person: Person,
    @Param('upload') upload: string,
    @Req() request: Request,
    @Res() response: Response,
  ): Promise<void> {
    return this.uploads.handle(person, request, response, upload);
  }

  @On(ROUTES.handInUpload, undefined, 201)
  async handIn(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Param('upload') upload: string,
    @Body() fields: HandInDto,
  ): Promise<{ shot: string; revision: string }> {
    await this.revisions.openFor(person, id);
    const { file, fileName } = await this.uploads.take(person, upload);
    return this.revisions.handIn(person, id, { fields, file, fileName: cleanName(fileName) });
  }
}
