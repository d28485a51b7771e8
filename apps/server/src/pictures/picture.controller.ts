import { Controller, Res, StreamableFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { Tracks } from '@ypsigraph/contract/pictures';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import type { SmallPicture } from '@ypsigraph/contract/small-pictures';
import { Shot } from '@ypsigraph/contract/shots';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { notFound, ProblemException } from '../http/problem.ts';
import { RevisionService } from '../revisions/revision.service.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import { ShotService } from '../shots/shot.service.ts';
import { PictureService } from './picture.service.ts';

/** A clip's bytes never change: whoever may see them keeps them. */
const KEPT = 'private, max-age=31536000, immutable';

@ApiTags('pictures')
@Controller()
export class PictureController {
  constructor(
    private readonly pictures: PictureService,
    private readonly policy: ShotPolicy,
    private readonly shots: ShotService,
    private readonly revisions: RevisionService,
  ) {}

  @On(ROUTES.pictures)
  async facts(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.pictures>,
    @Res() response: Response,
  ): Promise<void> {
    const revision = await this.policy.lookAt(person, id);
    const facts = await this.pictures.facts(await this.pictures.fileOf(revision));
    response.type('application/json').set('Cache-Control', 'private, max-age=60').send(facts);
  }

  /** Stored pictures from one to another, one behind the other: JPEGs whose sizes the facts tell. */
  @On(ROUTES.pictureFrames)
  async frames(
    @Current() person: Person,
    @Asked() { params: { id, size }, query: { from, to } }: Asked<typeof ROUTES.pictureFrames>,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const revision = await this.policy.lookAt(person, id);
    const file = await this.pictures.fileOf(revision);
    const { stream, bytes } = await this.pictures.frames(file, size, Number(from), Number(to));
    response.set({
      'Content-Type': 'application/octet-stream',
      'Content-Length': String(bytes),
      'X-Content-Type-Options': 'nosniff',
      'Cache-Control': KEPT,
    });
    return new StreamableFile(stream);
  }

  /** The sound of a clip, or a range of its bytes. */
  @On(ROUTES.sound)
  async sound(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.sound>,
    @Res() response: Response,
  ): Promise<void> {
    const revision = await this.policy.lookAt(person, id);
    const path = await this.pictures.sound(await this.pictures.fileOf(revision));
    const headers = { 'Content-Type': 'audio/webm', 'X-Content-Type-Options': 'nosniff', 'Cache-Control': KEPT };
    await new Promise<void>((resolve, reject) =>
      response.sendFile(
        path,
        { headers, lastModified: false, dotfiles: 'allow' },
        (error?: Error & { status?: number }) => {
          // Who goes away in the middle has nothing more to be told.
          if (!error || response.headersSent) resolve();
          else if (error.status === 416) reject(new ProblemException(416, 'invalid', 'The sound has no such part.'));
          else reject(notFound('sound'));
        },
      ),
    );
  }

  /** What lists show of a revision. Its poses and pictures do not change: it is kept by whoever has seen it, once it is there. */
  @On(ROUTES.smallPicture)
  async small(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.smallPicture>,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SmallPicture> {
    const small = await this.pictures.small(await this.policy.lookAt(person, id));
    if (small.kind !== 'none') response.set('Cache-Control', 'private, max-age=604800');
    return small;
  }

  @On(ROUTES.placeClip)
  async placeClip(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.placeClip>,
  ): Promise<Shot> {
    await this.revisions.placeClip(person, id, body);
    const { shotId } = await this.policy.revision(person, id);
    return this.shots.shot(person, shotId);
  }

  @On(ROUTES.tracks)
  async tracks(@Current() person: Person, @Asked() { params: { id } }: Asked<typeof ROUTES.tracks>): Promise<Tracks> {
    await this.policy.lookAt(person, id);
    return this.pictures.tracksOf(id);
  }

  @On(ROUTES.setTracks)
  async setTracks(
    @Current() person: Person,
    @Asked() { params: { id }, body }: Asked<typeof ROUTES.setTracks>,
  ): Promise<Shot> {
    await this.pictures.setTracks(person, id, body);
    const { shotId } = await this.policy.revision(person, id);
    return this.shots.shot(person, shotId);
  }
}
