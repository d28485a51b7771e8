import { readFile, rm } from 'node:fs/promises';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { againstTheBrief } from '@ypsigraph/contract/against-the-brief';
import { pictureFacts, pictureOptions } from '@ypsigraph/contract/pictures';
import type { StoredReport } from '@ypsigraph/contract/shots';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import { CONFIGURATION, type Configuration } from '../config.ts';
import type { BriefModel, RevisionModel } from '../database/models.ts';
import { Database } from '../database/database.module.ts';
import { FileMissingError, FileStore } from '../files/file-store.ts';
import { JobQueue, type ReadShotJob } from '../jobs/jobs.module.ts';
import { News } from '../news/news.ts';
import { clipBeside } from '../pictures/clips-beside.ts';
import { PictureMaker, tracksOf } from '../pictures/picture.service.ts';
import { ReadingInterrupted, ReadingProcesses } from './process/reading-processes.ts';
import { READING } from './reading-rules.ts';
import { VerdictKeeper } from './verdict-keeper.ts';

/** Reads a revision's file and stores what was measured. Doing it twice leaves the same readings as doing it once. */
@Injectable()
export class ShotReader {
  private readonly logger = new Logger(ShotReader.name);

  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
    private readonly news: News,
    private readonly processes: ReadingProcesses,
    private readonly queue: JobQueue,
    private readonly pictures: PictureMaker,
    private readonly verdicts: VerdictKeeper,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  /**
   * Carries a job out, if it still stands: its revision waits to be read with the settings the job was made for.
   * @throws what the database says when it can't be asked
   */
  async read(job: ReadShotJob): Promise<void> {
    const revision = await this.take(job);
    if (!revision) return;
    const beat = setInterval(() => void this.beat(job).catch(() => undefined), READING.beatSeconds * 1_000);
    try {
      const outcome = await this.measure(revision);
      await this.patiently(() => this.store(job, outcome));
    } catch (error) {
      this.logger.error({ err: error, revision: job.revision }, 'a shot could not be read');
      await this.patiently(() => this.giveBack(job));
    } finally {
      clearInterval(beat);
    }
  }

  /** Claims a revision that waits; nothing where it has been read, is being read, or was corrected since. */
  private async take({ revision, settings }: ReadShotJob): Promise<RevisionModel | undefined> {
    return this.database.transaction(async (transaction) => {
      const [, rows] = await this.database.models.Revision.update(
        {
          readingState: 'reading',
          readingReason: null,
          readingBeat: new Date(),
          readingTries: this.database.literal('reading_tries + 1'),
        },
        { where: { id: revision, settingsVersion: settings, readingState: 'queued' }, returning: true, transaction },
      );
      if (rows.length > 0) await this.news.tell(revision, transaction);
      return rows[0];
    });
  }

  private async beat({ revision, settings }: ReadShotJob): Promise<void> {
    await this.database.models.Revision.update(
      { readingBeat: new Date() },
      { where: { id: revision, settingsVersion: settings, readingState: 'reading' } },
    );
  }

  /** What a file gives: the report as JSON text, or why it is refused. */
  private async measure(revision: RevisionModel): Promise<{ report: string } | { refused: string }> {
    const shot = await this.database.models.Shot.findByPk(revision.shotId);
    const brief = (await this.database.models.Brief.findByPk(shot!.briefId))!;
    const to = this.files.scratch();
    try {
      if (revision.media === 'pictures') {
        const { fileSha256, fileName } = revision;
        const { CLIP_SECONDS: seconds } = this.configuration;
        const made = await this.pictures.of(fileSha256, { fileName, fps: brief.fps, seconds });
        if ('refused' in made) return made;
        const { format, warnings } = made.facts;
        const facts = pictureFacts(made.facts, brief);
        const tracks = await tracksOf(this.database, revision.id);
        const points = { to, fileName, format, facts, tracks, options: pictureOptions(brief, revision), warnings };
        const answer = await this.processes.read('job', { path: '', points }, this.configuration.READING_SECONDS);
        if ('failed' in answer) throw new Error(answer.failed);
        return 'refused' in answer ? answer : ofLength(brief, { report: await readFile(to, 'utf8') });
      }
      await this.makeBeside(revision, brief.fps);
      const path = await this.files.pathOf(revision.fileSha256);
      const measure = { to, fileName: revision.fileName, options: shotOptions(brief, revision) };
      const answer = await this.processes.read('job', { path, measure }, this.configuration.READING_SECONDS);
      if ('failed' in answer) throw new Error(answer.failed);
      return 'refused' in answer ? answer : ofLength(brief, { report: await readFile(to, 'utf8') });
    } catch (error) {
      if (error instanceof FileMissingError) return { refused: error.message };
      throw error;
    } finally {
      await rm(to, { force: true });
    }
  }

  /** The pictures of a clip that came with a motion. One that can't be read says why, and keeps nobody from measuring the motion. */
  private async makeBeside({ id, readingTries }: RevisionModel, fps: number): Promise<void> {
    const clip = await clipBeside(this.database, id);
    if (!clip) return;
    const { CLIP_SECONDS: seconds } = this.configuration;
    const refusal = async (): Promise<string | null> => {
      try {
        const made = await this.pictures.of(clip.sha256, { fileName: clip.fileName, fps, seconds });
        return 'refused' in made ? made.refused : null;
      } catch (error) {
        if (error instanceof FileMissingError) return error.message;
        // What goes wrong here is tried again with the motion; the last time the motion is measured without it.
        if (error instanceof ReadingInterrupted || readingTries < READING.tries) throw error;
        this.logger.error({ err: error, revision: id }, 'the clip of a motion could not be read');
        return READING.gaveUp;
      }
    };
    await this.database.run('UPDATE clips_beside SET refused = $2 WHERE revision_id = $1', [id, await refusal()]);
  }

  /** Stores what came out, unless the revision was corrected meanwhile. */
  private async store(job: ReadShotJob, outcome: { report: string } | { refused: string }): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const state = 'refused' in outcome ? 'failed' : 'read';
      const reason = 'refused' in outcome ? outcome.refused : null;
      const [count] = await this.database.models.Revision.update(
        { readingState: state, readingReason: reason, readingTries: 0 },
        {
          where: { id: job.revision, settingsVersion: job.settings, readingState: ['reading', 'queued'] },
          transaction,
        },
      );
      if (count === 0) return;
      if ('report' in outcome) {
        await this.database.run(
          `INSERT INTO readings (revision_id, core_version, report) VALUES ($1, $2, $3::jsonb)
           ON CONFLICT (revision_id, core_version) DO UPDATE SET report = excluded.report, made_at = now()`,
          [job.revision, CORE_VERSION, outcome.report],
          transaction,
        );
        await this.verdicts.keep(job.revision, JSON.parse(outcome.report) as StoredReport, transaction);
      }
      await this.news.tell(job.revision, transaction);
    });
  }

  /** Something went wrong here and not with the file: it is tried again, a few times. */
  private async giveBack({ revision: id, settings }: ReadShotJob): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const where = { id, settingsVersion: settings, readingState: 'reading' as const };
      const revision = await this.database.models.Revision.findOne({
        where,
        transaction,
        lock: transaction.LOCK.UPDATE,
      });
      if (revision) await this.requeue(revision, transaction, READING.pauseSeconds * revision.readingTries);
    });
  }

  /** Queues a revision again, or says that it can't be read once that was tried often enough. */
  async requeue(revision: RevisionModel, transaction: Parameters<JobQueue['readShot']>[1], after = 0): Promise<void> {
    if (revision.readingTries >= READING.tries) {
      await revision.update({ readingState: 'failed', readingReason: READING.gaveUp }, { transaction });
    } else {
      await revision.update({ readingState: 'queued', readingBeat: new Date(), readingReason: null }, { transaction });
      await this.queue.readShot({ revision: revision.id, settings: revision.settingsVersion }, transaction, { after });
    }
    await this.news.tell(revision.id, transaction);
  }

  /** Tries again while the database is away. What is not stored in the end is read again by whoever sweeps. */
  private async patiently(work: () => Promise<void>): Promise<void> {
    for (let round = 0; ; round++) {
      try {
        return await work();
      } catch (error) {
        if (round >= READING.storingTries) throw error;
        await new Promise((resolve) => setTimeout(resolve, Math.min(8_000, 500 * 2 ** round)));
      }
    }
  }
}

/** What a brief that insists on its length says of a shot that was too large to be looked at when it was handed in, or is pictures. */
function ofLength(brief: BriefModel, measured: { report: string }): { report: string } | { refused: string } {
  if (brief.frames === null || brief.rules.length !== 'refuse') return measured;
  const { frames, fps, loop } = JSON.parse(measured.report) as StoredReport;
  const against = againstTheBrief({ frames, fps, habit: loop }, brief).find(({ rule }) => rule === 'length');
  return against ? { refused: against.say } : measured;
}
