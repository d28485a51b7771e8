import { Controller, type MessageEvent, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import type { Observable } from 'rxjs';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { Shot } from '@ypsigraph/contract/shots';
import { FileStore } from '../files/file-store.ts';
import { sendFile } from '../files/send-file.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On, Streams } from '../http/on.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import { ShotService } from '../shots/shot.service.ts';
import { NewsStreams } from '../news/news-streams.ts';
import { keptFile } from './kept-file.ts';
import { RevisionService } from './revision.service.ts';

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
  async file(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.file>,
    @Res() response: Response,
  ): Promise<void> {
    const revision = await this.policy.lookAt(person, id);
    await sendFile(response, this.files, { sha256: keptFile(revision), name: revision.fileName, kept: true });
  }

  /** What was measured, as it was stored. Asked for by the name the shot gives it, it never changes and may be kept. */
  @On(ROUTES.report)
  async report(
    @Current() person: Person,
    @Asked() { params: { id }, query: { of } }: Asked<typeof ROUTES.report>,
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

  @Streams(ROUTES.events)
  async events(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.events>,
    @Req() request: Request,
  ): Promise<Observable<MessageEvent>> {
    await this.policy.revision(person, id);
    return this.streams.ofRevision(id, person.id, request.sessionID);
  }

  @On(ROUTES.settings)
  async settings(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.settings>,
  ): Promise<Shot> {
    await this.revisions.change(person, id, body);
    return this.shotOf(person, id);
  }

  @On(ROUTES.setPoses)
  async setPoses(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.setPoses>,
  ): Promise<Shot> {
    await this.revisions.setPoses(person, id, body);
    return this.shotOf(person, id);
  }

  @On(ROUTES.readAgain)
  async readAgain(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.readAgain>,
  ): Promise<Shot> {
    await this.revisions.readAgain(person, id);
    return this.shotOf(person, id);
  }

  @On(ROUTES.takeOnDesk)
  async takeOnDesk(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.takeOnDesk>,
  ): Promise<Shot> {
    await this.revisions.takeOnDesk(person, id);
    return this.shotOf(person, id);
  }

  @On(ROUTES.sendBack)
  async sendBack(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.sendBack>,
  ): Promise<Shot> {
    await this.revisions.sendBack(person, id, body);
    return this.shotOf(person, id);
  }

  @On(ROUTES.signOff)
  async signOff(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.signOff>,
  ): Promise<Shot> {
    await this.revisions.signOff(person, id, body);
    return this.shotOf(person, id);
  }

  @On(ROUTES.withdraw)
  async withdraw(@Current() person: Person, @Asked() { params: { id } }: Asked<typeof ROUTES.withdraw>): Promise<Shot> {
    await this.revisions.withdraw(person, id);
    return this.shotOf(person, id);
  }

  private async shotOf(person: Person, revisionId: string): Promise<Shot> {
    const revision = await this.policy.revision(person, revisionId);
    return this.shots.shot(person, revision.shotId);
  }
}
