import { Body, Controller, Param, Req, Res } from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { createZodDto } from 'nestjs-zod';
import { Assignment, Room } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { HandIn } from '@ypsigraph/contract/shots';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { CourseService } from '../courses/course.service.ts';
import { FileStore } from '../files/file-store.ts';
import { cleanName, type NamedFile } from '../files/receive-form.ts';
import { type ReceivedHandIn, receiveHandIn } from '../revisions/hand-in.ts';
import { HandInService } from '../revisions/hand-in.service.ts';
import { Uploads } from './uploads.ts';

class AssignmentDto extends createZodDto(Assignment) {}
class RoomDto extends createZodDto(Room) {}
class HandInDto extends createZodDto(HandIn) {}

/** Hand-ins: small files whole; large ones, and clips that go with a motion, in pieces by the tus protocol, which go on after a cut. */
@ApiTags('uploads')
@Controller()
export class UploadController {
  constructor(
    private readonly uploads: Uploads,
    private readonly handIns: HandInService,
    private readonly courses: CourseService,
    private readonly files: FileStore,
  ) {}

  @On(ROUTES.handIn, undefined, 201)
  @ApiConsumes('multipart/form-data')
  @ApiBody({
    schema: {
      type: 'object',
      required: ['stage', 'file'],
      properties: { stage: { type: 'string' }, note: { type: 'string' }, file: { type: 'string', format: 'binary' } },
    },
  })
  async handIn(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Req() request: Request,
  ): Promise<{ shot: string; revision: string }> {
    await this.handIns.openFor(person, id);
    const room = await this.handIns.roomLeft(person);
    return this.store(person, id, await receiveHandIn(request, this.files, room));
  }

  /** Starts the clock of a timed drill. */
  @On(ROUTES.beginDrill, AssignmentDto)
  async beginDrill(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Assignment> {
    await this.handIns.beginDrill(person, id);
    return this.courses.assignment(person, id);
  }

  @On(ROUTES.room, RoomDto)
  room(@Current() person: Person): Promise<Room> {
    return this.handIns.roomOf(person.id);
  }

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
  async handInUpload(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Param('upload') upload: string,
    @Body() fields: HandInDto,
  ): Promise<{ shot: string; revision: string }> {
    await this.handIns.openFor(person, id);
    return this.store(person, id, { fields, ...(await this.taken(person, upload)) });
  }

  /** Hands in what has come, with the clip that goes with it. */
  private async store(
    person: Person,
    assignment: string,
    received: ReceivedHandIn,
  ): Promise<{ shot: string; revision: string }> {
    const { clip: upload } = received.fields;
    if (upload === undefined) return this.handIns.handIn(person, assignment, received);
    try {
      const clip = await this.taken(person, upload);
      return await this.handIns.handIn(person, assignment, { ...received, clip });
    } catch (error) {
      await received.file.discard();
      throw error;
    }
  }

  private async taken(person: Person, upload: string): Promise<NamedFile> {
    const { file, fileName } = await this.uploads.take(person, upload);
    return { file, fileName: cleanName(fileName) };
  }
}
