import { Body, Controller, Param, Query, Res, StreamableFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { createZodDto } from 'nestjs-zod';
import { NewTracks, Pictures, Tracks } from '@ypsigraph/contract/pictures';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { ClipPlace, Shot } from '@ypsigraph/contract/shots';
import { Current } from '../http/current-person.ts';
import { IdPipe } from '../http/id.pipe.ts';
import { On } from '../http/on.ts';
import { RevisionService } from '../revisions/revision.service.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import { ShotService } from '../shots/shot.service.ts';
import { PictureService } from './picture.service.ts';

class ClipPlaceDto extends createZodDto(ClipPlace) {}
class NewTracksDto extends createZodDto(NewTracks) {}
class PicturesDto extends createZodDto(Pictures) {}
class ShotDto extends createZodDto(Shot) {}
class TracksDto extends createZodDto(Tracks) {}

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

  @On(ROUTES.pictures, PicturesDto)
  async facts(@Current() person: Person, @Param('id', IdPipe) id: string, @Res() response: Response): Promise<void> {
    const revision = await this.policy.lookAt(person, id);
    const facts = await this.pictures.facts(await this.pictures.fileOf(revision));
    response.type('application/json').set('Cache-Control', 'private, max-age=60').send(facts);
  }

  /** Stored pictures from one to another, one behind the other: JPEGs whose sizes the facts tell. */
  @On(ROUTES.pictureFrames)
  async frames(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Param('size') size: string,
    @Query('from') from: string,
    @Query('to') to: string,
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

  @On(ROUTES.placeClip, ShotDto)
  async placeClip(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Body() body: ClipPlaceDto,
  ): Promise<Shot> {
    await this.revisions.placeClip(person, id, body);
    const { shotId } = await this.policy.revision(person, id);
    return this.shots.shot(person, shotId);
  }

  @On(ROUTES.tracks, TracksDto)
  async tracks(@Current() person: Person, @Param('id', IdPipe) id: string): Promise<Tracks> {
    await this.policy.lookAt(person, id);
    return this.pictures.tracksOf(id);
  }

  @On(ROUTES.setTracks, ShotDto)
  async setTracks(
    @Current() person: Person,
    @Param('id', IdPipe) id: string,
    @Body() body: NewTracksDto,
  ): Promise<Shot> {
    await this.pictures.setTracks(person, id, body);
    const { shotId } = await this.policy.revision(person, id);
    return this.shots.shot(person, shotId);
  }
}
