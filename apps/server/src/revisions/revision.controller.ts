import { Body, Controller, type MessageEvent, Param, Query, Req, Res, Sse, SetMetadata } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { createZodDto } from 'nestjs-zod';
import type { Observable } from 'rxjs';
import { Poses } from '@ypsigraph/contract/marks';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { RevisionSettings, SendBack, Shot, SignOff, StoredReport } from '@ypsigraph/contract/shots';
import { FileStore } from '../files/file-store.ts';
import { sendFile } from '../files/send-file.ts';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { AUDIENCE, On } from '../http/on.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import { ShotService } from '../shots/shot.service.ts';
import { NewsStreams } from '../news/news-streams.ts';
import { RevisionService } from './revision.service.ts';

class RevisionSettingsDto extends createZodDto(RevisionSettings) {}
class StoredReportDto extends createZodDto(StoredReport) {}
class PosesDto extends createZodDto(Poses) {}
class SendBackDto extends createZodDto(SendBack) {}
class ShotDto extends createZodDto(Shot) {}
class SignOffDto extends createZodDto(SignOff) {}

@ApiTags('revisions')
@Controller()
export class RevisionController {
  constructor(
    private readonly revisions: RevisionService,
    private readonly shots: ShotService,
    private readonly policy: ShotPolicy,
    private readonly files: FileStore,
    private readonly streams: NewsStreams,
  ) {}

  @On(ROUTES.file)
  async file(@Current() person: Person, @Param('id', IdPipe) id: string, @Res() response: Response): Promise<void> {
    const revision = await this.policy.lookAt(person, id);
    await sendFile(response, this.files, { sha256: revision.fileSha256, name: revision.fileName, kept: true });
  }

  /** What was measured, as it was stored. Asked for by the name the shot gives it, it never changes and may be kept. */
  @On(ROUTES.report, StoredReportDto)
  async report(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Query('of') of: string | undefined,
    @Res() response: Response,
  ): Promise<void> {
    const revision = await this.policy.lookAt(person, id);
    const report = await this.revisions.report(id);
    const current = `${CORE_VERSION}.${revision.settingsVersion}`;
    const kept = of === current && revision.readingState === 'read';
    response
      .type('application/json')
      .set('Cache-Control', kept ? 'private, max-age=31536000, immutable' : 'private, no-store')
      .send(report);
  }

  @Sse(ROUTES.events.path)
  @SetMetadata(AUDIENCE, ROUTES.events.audience)
  async events(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Req() request: Request,
  ): Promise<Observable<MessageEvent>> {
    await this.policy.revision(person, id);
    return this.streams.ofRevision(id, person.id, request.sessionID);
  }

  @On(ROUTES.settings, ShotDto)
  async settings(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Body() body: RevisionSettingsDto,
  ): Promise<Shot> {
    await this.revisions.change(person, id, body);
    return this.shotOf(person, id);
  }

  @On(ROUTES.setPoses, ShotDto)
  async setPoses(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: PosesDto): Promise<Shot> {
    await this.revisions.setPoses(person, id, body);
    return this.shotOf(person, id);
  }

  @On(ROUTES.readAgain, ShotDto)
  async readAgain(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Shot> {
    await this.revisions.readAgain(person, id);
    return this.shotOf(person, id);
  }

  @On(ROUTES.takeOnDesk, ShotDto)
  async takeOnDesk(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Shot> {
    await this.revisions.takeOnDesk(person, id);
    return this.shotOf(person, id);
  }

  @On(ROUTES.sendBack, ShotDto)
  async sendBack(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: SendBackDto): Promise<Shot> {
    await this.revisions.sendBack(person, id, body);
    return this.shotOf(person, id);
  }

  @On(ROUTES.signOff, ShotDto)
  async signOff(@Current() person: Person, @Param('id', IdPipe) id: string, @Body() body: SignOffDto): Promise<Shot> {
    await this.revisions.signOff(person, id, body);
    return this.shotOf(person, id);
  }

  @On(ROUTES.withdraw, ShotDto)
  async withdraw(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Shot> {
    await this.revisions.withdraw(person, id);
    return this.shotOf(person, id);
  }

  private async shotOf(person: Person, revisionId: string): Promise<Shot> {
    const revision = await this.policy.revision(person, revisionId);
    return this.shots.shot(person, revision.shotId);
  }
}
