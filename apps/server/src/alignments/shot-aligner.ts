import { readFile, rm } from 'node:fs/promises';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { AlignmentOutcome } from '@ypsigraph/contract/alignments';
import { pictureFacts, pictureOptions } from '@ypsigraph/contract/pictures';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';
import type { RevisionModel } from '../revisions/revision.models.ts';
import { keptFile } from '../revisions/kept-file.ts';
import { FileMissingError } from '../files/file-home.ts';
import { FileStore } from '../files/file-store.ts';
import { StorageFullError } from '../files/received-file.ts';
import { pictureRow, tracksOf } from '../pictures/picture.service.ts';
import { ReadingProcesses } from '../readings/process/reading-processes.ts';
import type { AlignedSide } from '../readings/process/reading-task.ts';

/** So often two revisions are tried, and after so long without a word whoever tried them is gone; seconds. */
const TRIES = 3;
const LOST_SECONDS = 120;
const GAVE_UP = 'something went wrong here while they were aligned';

interface Wanted {
  readonly from: string;
  readonly to: string;
  readonly madeOf: string;
  readonly tries: number;
}

/** Aligns the revisions that somebody has asked for, in processes of their own. The worker's side. */
@Injectable()
export class ShotAligner {
  private readonly logger = new Logger(ShotAligner.name);

  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
    private readonly processes: ReadingProcesses,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  /** Aligns the next two revisions there are. @returns whether there were any */
  async next(): Promise<boolean> {
    const wanted = await this.claim();
    if (!wanted) return false;
    let outcome: AlignmentOutcome | undefined;
    try {
      outcome = await this.align(wanted);
    } catch (error) {
      this.logger.warn({ err: error, ...wanted }, 'two revisions could not be aligned');
      if (wanted.tries >= TRIES) outcome = { why: GAVE_UP };
    }
    // Made of files that were corrected meanwhile it is dropped: who asks then has it made again.
    await this.database.run(
      `UPDATE alignments SET outcome = $4::jsonb, claimed_at = NULL
        WHERE from_revision = $1 AND to_revision = $2 AND made_of = $3 AND outcome IS NULL`,
      [wanted.from, wanted.to, wanted.madeOf, outcome ? JSON.stringify(outcome) : null],
    );
    return true;
  }

  private async claim(): Promise<Wanted | undefined> {
    const [row] = await this.database.select<Wanted>(
      `UPDATE alignments SET claimed_at = now(), tries = tries + 1
        WHERE (to_revision, from_revision) = (
          SELECT to_revision, from_revision FROM alignments
           WHERE outcome IS NULL AND (claimed_at IS NULL OR claimed_at < now() - make_interval(secs => ${LOST_SECONDS}))
           ORDER BY claimed_at NULLS FIRST LIMIT 1 FOR UPDATE SKIP LOCKED)
       RETURNING from_revision AS "from", to_revision AS "to", made_of AS "madeOf", tries`,
      [],
    );
    return row;
  }

  private async align({ from, to, tries }: Wanted): Promise<AlignmentOutcome> {
    if (tries > TRIES) return { why: GAVE_UP };
    const written = this.files.scratch();
    try {
      const [a, b] = [await this.sideOf(from), await this.sideOf(to)];
      const answer = await this.processes.read(
        'job',
        { does: 'align', a, b, to: written },
        this.configuration.READING_SECONDS,
      );
      if ('noRoom' in answer) throw new StorageFullError();
      if ('failed' in answer) throw new Error(answer.failed);
      if ('refused' in answer) return { why: answer.refused };
      return AlignmentOutcome.parse(JSON.parse(await readFile(written, 'utf8')));
    } catch (error) {
      if (error instanceof FileMissingError) return { why: error.message };
      throw error;
    } finally {
      await rm(written, { force: true });
    }
  }

  private async sideOf(id: string): Promise<AlignedSide> {
    const revision = (await this.database.models.Revision.findByPk(id))!;
    const brief = await this.briefOf(revision);
    if (revision.media === 'motion')
      return { motion: { path: await this.files.pathOf(keptFile(revision)), options: shotOptions(brief, revision) } };
    const row = await pictureRow(this.database, keptFile(revision));
    if (!row) throw new FileMissingError();
    const { facts, small } = row;
    return {
      pictures: {
        pack: await this.files.pathOf(small),
        sizes: facts.smallSizes,
        pictures: facts.pictures,
        facts: pictureFacts(facts, brief),
        tracks: await tracksOf(this.database, id),
        options: pictureOptions(brief, revision),
      },
    };
  }

  private async briefOf(revision: RevisionModel) {
    const { Shot, Brief } = this.database.models;
    const shot = (await Shot.findByPk(revision.shotId))!;
    return (await Brief.findByPk(shot.briefId))!;
  }
}
