import { readFile, rm } from 'node:fs/promises';
import { Inject, Injectable, Logger } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import type { SmallFigure } from '@ypsigraph/core/small/small-figure';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { againstTheBrief } from '@ypsigraph/contract/against-the-brief';
import { pictureFacts, pictureOptions } from '@ypsigraph/contract/pictures';
import type { StoredReport } from '@ypsigraph/contract/shots';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import { CONFIGURATION, type Configuration } from '../config.ts';
import type { BriefModel } from '../briefs/brief.model.ts';
import { keptFile } from '../revisions/kept-file.ts';
import type { RevisionModel } from '../revisions/revision.models.ts';
import { Database } from '../database/database.module.ts';
import { FileMissingError } from '../files/file-home.ts';
import { FileStore } from '../files/file-store.ts';
import { StorageFullError } from '../files/received-file.ts';
import { ChangeFeed } from '../news/change-feed.ts';
import { PictureMaker, tracksOf } from '../pictures/picture.service.ts';
import { ReadingProcesses } from './process/reading-processes.ts';
import type { Failed } from './process/reading-task.ts';
import type { Claimed } from './reading-queue.ts';
import { Metrics } from '../watch/metrics.ts';
import { traced } from '../watch/tracing.ts';
import { gaveUp, isNoFault, pauseAfter, READING } from './reading-rules.ts';
import { VerdictKeeper } from './verdict-keeper.ts';

type Measured = { readonly report: string; readonly small: SmallFigure | undefined };
type Outcome = Measured | { readonly refused: string };

/** Reads a revision's file and stores what was measured. Doing it twice leaves the same readings as doing it once. */
@Injectable()
export class ShotReader {
  private readonly logger = new Logger(ShotReader.name);

  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
    private readonly news: ChangeFeed,
    private readonly processes: ReadingProcesses,
    private readonly pictures: PictureMaker,
    private readonly metrics: Metrics,
    private readonly verdicts: VerdictKeeper,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  /**
   * Reads what was taken from the queue.
   * @throws what the database says when it can't be asked
   */
  async read(claimed: Claimed): Promise<void> {
    let progress: number | null = null;
    const onProgress = (share: number): void => void (progress = share);
    const heartbeat = setInterval(
      () => void this.heartbeat(claimed, progress).catch(() => undefined),
      READING.beatSeconds * 1_000,
    );
    const began = performance.now();
    try {
      const kind = claimed.beside ? 'clip beside' : 'motion';
      const work = (): Promise<void> =>
        claimed.beside ? this.readClipBeside(claimed.revision, onProgress) : this.readShot(claimed, onProgress);
      // The request by which it was handed in: so its trace is found by whoever has the other.
      const about = { 'ypsigraph.revision': claimed.revision, 'ypsigraph.request': claimed.request ?? '' };
      await this.metrics.reading(kind, () => traced(`read a ${kind}`, about, work));
      const milliseconds = Math.round(performance.now() - began);
      this.logger.log({ revision: claimed.revision, request: claimed.request, milliseconds }, 'read');
    } finally {
      clearInterval(heartbeat);
    }
  }

  private async readShot(claimed: Claimed & { beside: false }, onProgress: (share: number) => void): Promise<void> {
    try {
      const revision = (await this.database.models.Revision.findByPk(claimed.revision))!;
      const outcome = await this.measure(revision, onProgress);
      await this.withRetry(() => this.store(claimed, outcome));
    } catch (error) {
      this.logger.error(
        { err: error, revision: claimed.revision, request: claimed.request },
        'a shot could not be read',
      );
      await this.withRetry(() => this.giveBack(claimed, error));
    }
  }

  private async heartbeat(claimed: Claimed, progress: number | null): Promise<void> {
    await (claimed.beside
      ? this.database.run('UPDATE clips_beside SET claimed_at = now() WHERE revision_id = $1 AND done_at IS NULL', [
          claimed.revision,
        ])
      : this.database.models.Revision.update(
          { readingBeat: new Date(), readingProgress: progress },
          { where: { id: claimed.revision, settingsVersion: claimed.settings, readingState: 'reading' } },
        ));
  }

  /** What a file gives: the report as JSON text, or why it is refused. */
  private async measure(revision: RevisionModel, onProgress: (share: number) => void): Promise<Outcome> {
    const shot = await this.database.models.Shot.findByPk(revision.shotId);
    const brief = (await this.database.models.Brief.findByPk(shot!.briefId))!;
    const to = this.files.scratch();
    try {
      if (revision.media === 'pictures') {
        const { fileName } = revision;
        const { CLIP_SECONDS: seconds } = this.configuration;
        const made = await this.pictures.of(keptFile(revision), { fileName, fps: brief.fps, seconds, onProgress });
        if ('refused' in made) return made;
        const { format, warnings } = made.facts;
        const facts = pictureFacts(made.facts, brief);
        const tracks = await tracksOf(this.database, revision.id);
        const options = pictureOptions(brief, revision);
        const task = { does: 'measure points', to, fileName, format, facts, tracks, options, warnings } as const;
        const answer = await this.processes.read('job', task, this.configuration.READING_SECONDS);
        return 'refused' in answer ? answer : ofLength(brief, await reportIn(to, answer));
      }
      const path = await this.files.pathOf(keptFile(revision));
      const { fileName } = revision;
      const task = { does: 'measure', path, to, fileName, options: shotOptions(brief, revision) } as const;
      const answer = await this.processes.read('job', task, this.configuration.READING_SECONDS);
      return 'refused' in answer ? answer : ofLength(brief, await reportIn(to, answer));
    } catch (error) {
      if (error instanceof FileMissingError) return { refused: error.message };
      throw error;
    } finally {
      await rm(to, { force: true });
    }
  }

  /** The pictures of a clip that came with a motion, which has been measured without waiting for them. One that can't be read says why. */
  private async readClipBeside(revision: string, onProgress: (share: number) => void): Promise<void> {
    const [clip] = await this.database.select<{ sha256: string; fileName: string; tries: number; fps: number }>(
      `SELECT k.file_sha256 AS sha256, k.file_name AS "fileName", k.tries, b.fps FROM clips_beside k
         JOIN revisions r ON r.id = k.revision_id JOIN shots s ON s.id = r.shot_id JOIN briefs b ON b.id = s.brief_id
        WHERE k.revision_id = $1`,
      [revision],
    );
    if (!clip) return;
    const end = (refused: string | null): Promise<void> =>
      this.withRetry(() =>
        this.database.run(
          'UPDATE clips_beside SET refused = $2, claimed_at = NULL, done_at = now() WHERE revision_id = $1',
          [revision, refused],
        ),
      );
    try {
      const { sha256, fileName, fps } = clip;
      const made = await this.pictures.of(sha256, {
        fileName,
        fps,
        seconds: this.configuration.CLIP_SECONDS,
        onProgress,
      });
      await end('refused' in made ? made.refused : null);
    } catch (error) {
      if (error instanceof FileMissingError) return end(error.message);
      this.logger.error({ err: error, revision }, 'the clip of a motion could not be read');
      const counts = Number(!isNoFault(error));
      if (clip.tries >= READING.tries && counts > 0) return end(gaveUp(error));
      await this.withRetry(() =>
        this.database.run(
          `UPDATE clips_beside SET claimed_at = NULL, tries = tries - $3, not_before = now() + make_interval(secs => $2) WHERE revision_id = $1`,
          [revision, pauseAfter(error, clip.tries), 1 - counts],
        ),
      );
    }
  }

  /** Stores what came out, unless the revision was corrected meanwhile. */
  private async store(claimed: Claimed & { beside: false }, outcome: Outcome): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const state = 'refused' in outcome ? 'failed' : 'read';
      const reason = 'refused' in outcome ? outcome.refused : null;
      const [count] = await this.database.models.Revision.update(
        { readingState: state, readingReason: reason, readingTries: 0, readingProgress: null },
        {
          where: { id: claimed.revision, settingsVersion: claimed.settings, readingState: ['reading', 'queued'] },
          transaction,
        },
      );
      if (count === 0) return;
      if ('report' in outcome) {
        await this.database.run(
          `INSERT INTO readings (revision_id, core_version, report, small) VALUES ($1, $2, $3::jsonb, $4::jsonb)
           ON CONFLICT (revision_id, core_version)
           DO UPDATE SET report = excluded.report, small = excluded.small, made_at = now()`,
          [claimed.revision, CORE_VERSION, outcome.report, outcome.small ? JSON.stringify(outcome.small) : null],
          transaction,
        );
        await this.verdicts.keep(claimed.revision, JSON.parse(outcome.report) as StoredReport, transaction);
      }
      await this.news.tell(claimed.revision, transaction);
    });
  }

  /** Something went wrong here and not with the file: it is tried again, a few times. */
  private async giveBack({ revision: id, settings }: Claimed & { beside: false }, error: unknown): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const where = { id, settingsVersion: settings, readingState: 'reading' as const };
      const revision = await this.database.models.Revision.findOne({
        where,
        transaction,
        lock: transaction.LOCK.UPDATE,
      });
      if (revision) await this.requeue(revision, transaction, error);
    });
  }

  /** Queues a revision again, or says that it can't be read once that was tried often enough. */
  async requeue(revision: RevisionModel, transaction: Transaction, error?: unknown): Promise<void> {
    const after = error === undefined ? 0 : pauseAfter(error, revision.readingTries);
    const counts = !isNoFault(error);
    await revision.update(
      revision.readingTries >= READING.tries && counts
        ? { readingState: 'failed', readingReason: gaveUp(error), readingProgress: null }
        : {
            readingState: 'queued',
            readingReason: null,
            readingProgress: null,
            readingTries: revision.readingTries - Number(!counts),
            readingFrom: new Date(Date.now() + after * 1_000),
          },
      { transaction },
    );
    await this.news.tell(revision.id, transaction);
  }

  /** Tries again while the database is away. What is not stored in the end is read again by whoever sweeps. */
  private async withRetry(work: () => Promise<void>): Promise<void> {
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

/** What came of measuring; of points there is no small picture. */
type Measurement = { readonly gives: { readonly small?: SmallFigure } } | Failed;

/** What a process has written. @throws StorageFullError, or what went wrong there */
async function reportIn(path: string, answer: Measurement): Promise<Measured> {
  if ('noRoom' in answer) throw new StorageFullError();
  if ('failed' in answer) throw new Error(answer.failed);
  return { report: await readFile(path, 'utf8'), small: answer.gives.small };
}

/** What a brief that insists on its length says of a shot that was too large to be looked at when it was handed in, or is pictures. */
function ofLength(brief: BriefModel, measured: Measured): Outcome {
  if (brief.frames === null || brief.rules.length !== 'refuse') return measured;
  const { frames, fps, loop } = JSON.parse(measured.report) as StoredReport;
  const against = againstTheBrief({ frames, fps, habit: loop }, brief).find(({ rule }) => rule === 'length');
  return against ? { refused: against.say } : measured;
}
