import { createReadStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import { type Pictures, Tracks } from '@ypsigraph/contract/pictures';
import type { Person } from '@ypsigraph/contract/people';
import type { SmallPicture } from '@ypsigraph/contract/small-pictures';
import type { SmallFigure } from '@ypsigraph/core/small/small-figure';
import { NO_TRACKS } from '@ypsigraph/core/track/picture-shot';
import { PACK, SMALL_PACK, SOUND } from '@ypsigraph/pictures/clip-index';
import type { RevisionModel } from '../revisions/revision.models.ts';
import { clipBeside } from './clips-beside.ts';
import { Database } from '../database/database.module.ts';
import { FileMissingError } from '../files/file-home.ts';
import { FileStore } from '../files/file-store.ts';
import { StorageFullError } from '../files/received-file.ts';
import { lockFile } from '../files/file-sweeper.ts';
import { conflict, notAllowed, notFound, ProblemException } from '../http/problem.ts';
import { ReadingProcesses } from '../readings/process/reading-processes.ts';
import { keptFile } from '../revisions/kept-file.ts';
import { RevisionService } from '../revisions/revision.service.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';

/** So many pictures of a clip stand for it in a list. */
const SMALL_PICTURES = 12;
/** Frames that are asked for at once, at most. */
const MOST_AT_ONCE = 120;

export interface PictureRow {
  readonly facts: Pictures;
  readonly pack: string;
  readonly small: string;
  readonly sound: string | null;
}

/** The pictures of clips, made once for each file, and the points that people put on them. */
@Injectable()
export class PictureService {
  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
    private readonly shots: ShotPolicy,
    private readonly revisions: RevisionService,
  ) {}

  /**
   * The file whose pictures a revision shows: its own, or that of the clip which came with a motion.
   * @throws ProblemException where it has none
   */
  async fileOf(revision: Pick<RevisionModel, 'id' | 'media' | 'fileSha256'>): Promise<string> {
    const { id, media } = revision;
    if (media === 'pictures') return keptFile(revision);
    const clip = await clipBeside(this.database, id);
    if (!clip) throw notFound('picture');
    return clip.sha256;
  }

  /** What lists show of a revision: poses of a motion as lines, or some of its pictures. */
  async small({ id, media, fileSha256 }: RevisionModel): Promise<SmallPicture> {
    if (media === 'motion') {
      const [row] = await this.database.select<{ small: SmallFigure | null }>(
        'SELECT small FROM readings WHERE revision_id = $1 AND small IS NOT NULL ORDER BY made_at DESC LIMIT 1',
        [id],
      );
      return row?.small ? ({ kind: 'figure', ...row.small } as SmallPicture) : { kind: 'none' };
    }
    const [row] = await this.database.select<{ pictures: number }>(
      "SELECT jsonb_array_length(facts -> 'smallSizes') AS pictures FROM pictures WHERE file_sha256 = $1",
      [fileSha256],
    );
    if (!row || row.pictures === 0) return { kind: 'none' };
    const count = Math.min(SMALL_PICTURES, row.pictures);
    const pictures = Array.from({ length: count }, (_, k) => Math.floor((k * row.pictures) / count));
    return { kind: 'pictures', pictures, key: Math.floor(count / 2) };
  }

  /**
   * What is known of a revision's pictures, as JSON text.
   * @throws ProblemException where they are not made yet, or it is a motion
   */
  async facts(sha256: string): Promise<string> {
    const [row] = await this.database.select<{ facts: string }>(
      'SELECT facts::text AS facts FROM pictures WHERE file_sha256 = $1',
      [sha256],
    );
    if (!row) throw notFound('picture');
    return row.facts;
  }

  /**
   * The bytes of some stored pictures, one behind the other.
   * @param from first, counted from 0; `to` is the last
   * @throws ProblemException where there are none such
   */
  async frames(sha256: string, size: string, from: number, to: number): Promise<{ stream: Readable; bytes: number }> {
    const row = await pictureRow(this.database, sha256);
    const small = size === 'small';
    if (!row || (!small && size !== 'shown')) throw notFound('picture');
    const sizes = small ? row.facts.smallSizes : row.facts.sizes;
    if (!(Number.isInteger(from) && Number.isInteger(to) && from >= 0 && from <= to && to < sizes.length))
      throw notFound('frame');
    if (to - from >= MOST_AT_ONCE)
      throw new ProblemException(400, 'invalid', `At most ${MOST_AT_ONCE} frames can be asked for at once.`);
    const start = sum(sizes, 0, from);
    const bytes = sum(sizes, from, to + 1);
    return { stream: await this.files.range(small ? row.small : row.pack, start, start + bytes - 1), bytes };
  }

  /**
   * Where a clip's sound is kept.
   * @throws ProblemException where it has none
   */
  async sound(sha256: string): Promise<string> {
    const row = await pictureRow(this.database, sha256);
    if (!row?.sound) throw notFound('sound');
    return this.files.pathOf(row.sound);
  }

  /** The points of a revision's pictures; of one that has none yet none, at version 0. */
  tracksOf(revisionId: string, transaction?: Transaction): Promise<Tracks> {
    return tracksOf(this.database, revisionId, transaction);
  }

  /**
   * Puts points in place of those they were made from, and has the shot measured again. Its student may until it is reviewed, and whoever reviews it.
   * @throws ProblemException 409 where somebody else has changed them meanwhile
   */
  async setTracks(person: Person, id: string, { version, ...tracks }: Tracks): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const revision = await this.shots.revision(person, id, { transaction, revision: 'change' });
      if (revision.media !== 'pictures') throw notFound('picture');
      if (person.role === 'student' && revision.state !== 'handed in')
        throw notAllowed('It is being reviewed; ask your instructor to change its points.');
      const stands = await this.tracksOf(id, transaction);
      if (stands.version !== version) {
        // The same once more is no conflict: an answer was lost on its way.
        if (
          stands.version === version + 1 &&
          JSON.stringify({ ...stands, version: 0 }) === JSON.stringify(Tracks.parse({ ...tracks, version: 0 }))
        )
          return;
        throw conflict(
          'Somebody else has changed these points.',
          'Load the page again to see them; yours are kept in this one.',
        );
      }
      await this.database.run(
        `INSERT INTO tracks (revision_id, version, tracks, author_id) VALUES ($1, $2, $3::jsonb, $4)
         ON CONFLICT (revision_id) DO UPDATE SET version = excluded.version, tracks = excluded.tracks, author_id = excluded.author_id, at = now()`,
        [id, version + 1, JSON.stringify(tracks), person.id],
        transaction,
      );
      await this.revisions.pointsChanged(
        revision,
        person,
        { points: tracks.points.length, version: version + 1 },
        transaction,
      );
    });
  }
}

/** The points of a revision's pictures; of one that has none yet none, at version 0. */
export async function tracksOf(database: Database, revisionId: string, transaction?: Transaction): Promise<Tracks> {
  const [row] = await database.select<{ version: number; tracks: Omit<Tracks, 'version'> }>(
    'SELECT version, tracks FROM tracks WHERE revision_id = $1',
    [revisionId],
    transaction,
  );
  return Tracks.parse(row ? { ...row.tracks, version: row.version } : { ...NO_TRACKS, version: 0 });
}

/** What was made of a clip, and where its pictures are stored. */
export const pictureRow = async (database: Database, sha256: string): Promise<PictureRow | undefined> => {
  const [row] = await database.select<PictureRow>(
    'SELECT facts, pack_sha256 AS pack, small_sha256 AS small, sound_sha256 AS sound FROM pictures WHERE file_sha256 = $1',
    [sha256],
  );
  return row;
};

const sum = (sizes: readonly number[], from: number, to: number): number => {
  let bytes = 0;
  for (let k = from; k < to; k++) bytes += sizes[k]!;
  return bytes;
};

interface Making {
  readonly fileName: string;
  readonly fps: number;
  /** After which it is given up. */
  readonly seconds: number;
  readonly onProgress: (share: number) => void;
}

/** Makes the pictures of clips, in processes of their own. The worker's side. */
@Injectable()
export class PictureMaker {
  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
    private readonly processes: ReadingProcesses,
  ) {}

  /**
   * The pictures of a clip: as they were made, or made now.
   * @throws FileMissingError where the clip is not there; StorageFullError where there is no room for its pictures; Error where it went wrong here
   */
  async of(
    sha256: string,
    { fileName, fps, seconds, onProgress }: Making,
  ): Promise<{ facts: Pictures } | { refused: string }> {
    const known = await pictureRow(this.database, sha256);
    if (known && (await this.isThere(known))) return { facts: known.facts };
    const path = await this.files.pathOf(sha256);
    const folder = this.files.scratch();
    await mkdir(folder);
    try {
      const task = { does: 'decode', path, folder, fileName, fps } as const;
      const answer = await this.processes.read('clip', task, seconds, onProgress);
      if ('refused' in answer) return answer;
      if ('noRoom' in answer) throw new StorageFullError();
      if ('failed' in answer) throw new Error(answer.failed);
      const facts = answer.gives;
      const receive = (name: string) => this.files.receive(createReadStream(join(folder, name)), Infinity);
      const [pack, small] = [await receive(PACK), await receive(SMALL_PACK)];
      const sound = facts.sound && (await receive(SOUND));
      const files = [pack, small, ...(sound ? [sound] : [])];
      for (const file of files) await file.send();
      await this.database.transaction(async (transaction) => {
        for (const file of files.toSorted((a, b) => a.sha256.localeCompare(b.sha256)))
          await lockFile(this.database, file.sha256, transaction);
        for (const file of files) await file.keep();
        await this.database.run(
          `INSERT INTO pictures (file_sha256, facts, pack_sha256, small_sha256, sound_sha256) VALUES ($1, $2::jsonb, $3, $4, $5)
           ON CONFLICT (file_sha256) DO UPDATE
             SET facts = excluded.facts, pack_sha256 = excluded.pack_sha256, small_sha256 = excluded.small_sha256,
                 sound_sha256 = excluded.sound_sha256, made_at = now()`,
          [sha256, JSON.stringify(facts), pack.sha256, small.sha256, sound?.sha256 ?? null],
          transaction,
        );
      });
      return { facts };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  private async isThere({ pack, small, sound }: PictureRow): Promise<boolean> {
    try {
      await Promise.all([pack, small, ...(sound === null ? [] : [sound])].map((file) => this.files.pathOf(file)));
      return true;
    } catch (error) {
      if (error instanceof FileMissingError) return false;
      throw error;
    }
  }
}
