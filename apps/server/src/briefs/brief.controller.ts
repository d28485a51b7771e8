import { Controller, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { briefJsonSchema, courseJsonSchema } from '@ypsigraph/contract/brief-schema';
import type { CourseTaken } from '@ypsigraph/contract/course-file';
import { BriefFileFormat, BriefVersions, ListedBrief, ReadingValues } from '@ypsigraph/contract/briefs';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { FileStore } from '../files/file-store.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { receiveForm } from '../files/receive-form.ts';
import { sendFile } from '../files/send-file.ts';
import { refusedFile } from '../http/problem.ts';
import { BriefService } from './brief.service.ts';
import { CourseFileService, MOST_BYTES as MOST_OF_COURSE } from './course-file.service.ts';

/** Largest file to start from. */
const MOST_BYTES = 256 * 1024 * 1024;

@ApiTags('briefs')
@Controller()
export class BriefController {
  constructor(
    private readonly briefs: BriefService,
    private readonly courses: CourseFileService,
    private readonly files: FileStore,
  ) {}

  @On(ROUTES.briefs)
  list(): Promise<ListedBrief[]> {
    return this.briefs.list();
  }

  @On(ROUTES.makeBrief)
  make(@Current() person: Person, @Asked() { body }: Asked<typeof ROUTES.makeBrief>): Promise<BriefVersions> {
    return this.briefs.make(person, body);
  }

  @On(ROUTES.briefSchema)
  schema(): { readonly $id: string } {
    return briefJsonSchema();
  }

  @On(ROUTES.courseSchema)
  courseSchema(): { readonly $id: string } {
    return courseJsonSchema();
  }

  @On(ROUTES.exportCourse)
  course(
    @Current() person: Person,
    @Asked() { query: { brief } }: Asked<typeof ROUTES.exportCourse>,
    @Res() response: Response,
  ): Promise<void> {
    return this.courses.send(person, response, brief);
  }

  @On(ROUTES.importCourse)
  async takeCourse(@Current() person: Person, @Req() request: Request): Promise<CourseTaken> {
    const { file } = await receiveForm(
      request,
      this.files,
      MOST_OF_COURSE,
      () => refusedFile('The archive is larger than 256 MB.', 'Bring its briefs in one by one.', 413),
      () => refusedFile('There is no file in this request.'),
    );
    return this.courses.take(person, file);
  }

  @On(ROUTES.importBrief)
  take(@Current() person: Person, @Asked() { body }: Asked<typeof ROUTES.importBrief>): Promise<BriefVersions> {
    return this.briefs.take(person, body);
  }

  @On(ROUTES.brief)
  show(@Asked() { params: { brief: id } }: Asked<typeof ROUTES.brief>): Promise<BriefVersions> {
    return this.briefs.versions(id);
  }

  @On(ROUTES.changeBrief)
  change(
    @Current() person: Person,
    @Asked() { params: { brief: id }, body }: Asked<typeof ROUTES.changeBrief>,
  ): Promise<BriefVersions> {
    return this.briefs.change(person, id, body);
  }

  @On(ROUTES.archiveBrief)
  archive(@Asked() { params: { brief: id }, body }: Asked<typeof ROUTES.archiveBrief>): Promise<BriefVersions> {
    return this.briefs.archive(id, body.archived);
  }

  @On(ROUTES.exportBrief)
  file(@Asked() { params: { brief: id } }: Asked<typeof ROUTES.exportBrief>): Promise<BriefFileFormat> {
    return this.briefs.file(id);
  }

  @On(ROUTES.readingValues)
  values(
    @Current() person: Person,
    @Asked() { params: { brief: id } }: Asked<typeof ROUTES.readingValues>,
  ): Promise<ReadingValues> {
    return this.briefs.values(person, id);
  }

  @On(ROUTES.addBriefFile)
  async addFile(
    @Current() person: Person,
    @Asked() { params: { brief: id } }: Asked<typeof ROUTES.addBriefFile>,
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

  @On(ROUTES.hearBriefFile)
  hear(
    @Current() person: Person,
    @Asked() { params: { brief: id, file }, body }: Asked<typeof ROUTES.hearBriefFile>,
  ): Promise<BriefVersions> {
    return this.briefs.hear(person, id, file, body.heard);
  }

  @On(ROUTES.dropBriefFile)
  dropFile(
    @Current() person: Person,
    @Asked() { params: { brief: id, file } }: Asked<typeof ROUTES.dropBriefFile>,
  ): Promise<BriefVersions> {
    return this.briefs.dropFile(person, id, file);
  }

  /** Whatever it is, it is saved and never shown: nobody's file becomes a page of ours. */
  @On(ROUTES.briefFile)
  async giveFile(
    @Current() person: Person,
    @Asked() { params: { brief: id, file } }: Asked<typeof ROUTES.briefFile>,
    @Res() response: Response,
  ): Promise<void> {
    const { sha256, name } = await this.briefs.fileFor(person, id, file);
    await sendFile(response, this.files, { sha256, name });
  }
}
