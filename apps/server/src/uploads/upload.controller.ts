import { Controller, Logger, Req, Res } from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { Assignment, Room } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { CourseService } from '../courses/course.service.ts';
import { FileStore } from '../files/file-store.ts';
import { UploadStore } from '../files/upload-store.ts';
import { refusedFile } from '../http/problem.ts';
import { type ReceivedHandIn, receiveHandIn } from '../revisions/hand-in.ts';
import { type HandedIn, HandInService } from '../revisions/hand-in.service.ts';
import { Uploads } from './uploads.ts';

/** Hand-ins: small files whole; large ones, and clips that go with a motion, in pieces by the tus protocol, which go on after a cut. */
@ApiTags('uploads')
@Controller()
export class UploadController {
  private readonly logger = new Logger(UploadController.name);

  constructor(
    private readonly uploads: Uploads,
    private readonly uploaded: UploadStore,
    private readonly handIns: HandInService,
    private readonly courses: CourseService,
    private readonly files: FileStore,
  ) {}

  @On(ROUTES.handIn)
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
    @Asked() { params: { id } }: Asked<typeof ROUTES.handIn>,
    @Req() request: Request,
  ): Promise<HandedIn> {
    await this.handIns.openFor(person, id);
    const room = await this.handIns.roomLeft(person);
    const received = await receiveHandIn(request, this.files, room);
    return this.once(person, id, received.fields.clip, () => this.store(person, id, received)).finally(() =>
      received.file.discard(),
    );
  }

  /** Starts the clock of a timed drill. */
  @On(ROUTES.beginDrill)
  async beginDrill(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.beginDrill>,
  ): Promise<Assignment> {
    await this.handIns.beginDrill(person, id);
    return this.courses.assignment(person, id);
  }

  @On(ROUTES.room)
  room(@Current() person: Person): Promise<Room> {
    return this.handIns.roomOf(person.id);
  }

  @On(ROUTES.beginUpload)
  begin(@Current() person: Person, @Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.begin(person, request, response);
  }

  /** How much of it is there: asked for by HEAD. */
  @On(ROUTES.uploadState)
  state(
    @Current() person: Person,
    @Asked() { params: { upload } }: Asked<typeof ROUTES.uploadState>,
    @Req() request: Request,
    @Res() response: Response,
  ): Promise<void> {
    return this.uploads.handle(person, request, response, upload);
  }

  @On(ROUTES.uploadPart)
  part(
    @Current() person: Person,
    @Asked() { params: { upload } }: Asked<typeof ROUTES.uploadPart>,
    @Req() request: Request,
    @Res() response: Response,
  ): Promise<void> {
    return this.uploads.handle(person, request, response, upload);
  }

  @On(ROUTES.dropUpload)
  drop(
    @Current() person: Person,
    @Asked() { params: { upload } }: Asked<typeof ROUTES.dropUpload>,
    @Req() request: Request,
    @Res() response: Response,
  ): Promise<void> {
    return this.uploads.handle(person, request, response, upload);
  }

  @On(ROUTES.handInUpload)
  async handInUpload(
    @Current() person: Person,
    @Asked() { params: { id, upload }, body: fields }: Asked<typeof ROUTES.handInUpload>,
  ): Promise<HandedIn> {
    this.uploads.refuseOthers(person, upload);
    return this.once(person, id, upload, async () => {
      await this.handIns.openFor(person, id);
      if (fields.clip === upload)
        throw refusedFile('The motion and its clip are one file.', 'Choose the motion, and the clip of it.');
      const own = await this.uploaded.copyOf(upload);
      return this.store(person, id, { fields, ...own, upload }).finally(() => own.file.discard());
    });
  }

  /** Hands in what has come, with the clip that goes with it; then, and only then, the uploads it was made of are let go. */
  private async store(person: Person, assignment: string, received: ReceivedHandIn): Promise<HandedIn> {
    const { upload, fields } = received;
    if (fields.clip !== undefined) this.uploads.refuseOthers(person, fields.clip);
    const clip = fields.clip === undefined ? undefined : await this.uploaded.copyOf(fields.clip);
    const made = await this.handIns.handIn(person, assignment, { ...received, ...(clip && { clip }) });
    for (const name of [upload, fields.clip])
      if (name !== undefined)
        await this.uploaded
          .letGo(name)
          .catch((error: unknown) => this.logger.warn(`an upload was left behind: ${String(error)}`));
    return made;
  }

  /** Does what makes an upload a revision, unless it has become one: before, or at this moment by another request. */
  private async once(
    person: Person,
    assignment: string,
    upload: string | undefined,
    work: () => Promise<HandedIn>,
  ): Promise<HandedIn> {
    const known = (): Promise<HandedIn | undefined> | undefined =>
      upload === undefined ? undefined : this.handIns.handedIn(person, assignment, upload);
    const before = await known();
    if (before) return before;
    try {
      return await work();
    } catch (error) {
      const meanwhile = await known();
      if (meanwhile) return meanwhile;
      throw error;
    }
  }
}
