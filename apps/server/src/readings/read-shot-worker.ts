import { Injectable, Logger, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { Database } from '../database/database.module.ts';
import { JobQueue } from '../jobs/jobs.module.ts';
import { ShotAligner } from '../alignments/shot-aligner.ts';
import { READING } from './reading-rules.ts';
import { VerdictKeeper } from './verdict-keeper.ts';
import { ShotReader } from './shot-reader.ts';

const IDLE_MS = 500;
const LARGEST_PAUSE_MS = 10_000;
/** Revisions that are queued anew in one transaction when the core has a new version. */
const BATCH = 200;

/**
 * Takes readings from the queue and looks for revisions whose reader has died. Whatever the database does, it waits
 * and goes on.
 */
@Injectable()
export class ReadShotWorker implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly logger = new Logger(ReadShotWorker.name);
  private readonly loops: Promise<void>[] = [];
  private wake: () => void = () => undefined;
  private ended = false;

  constructor(
    private readonly queue: JobQueue,
    private readonly reader: ShotReader,
    private readonly aligner: ShotAligner,
    private readonly verdicts: VerdictKeeper,
    private readonly database: Database,
  ) {}

  onApplicationBootstrap(): void {
    this.loops.push(
      // Two, so that what is short is not kept waiting by a clip that is decoded.
      ...[1, 2].map(() => this.forever('the next job', IDLE_MS, () => this.nextJob())),
      this.forever('revisions that are to be aligned', IDLE_MS, () => this.aligner.next()),
      this.forever('readings that were lost', READING.sweepSeconds * 1_000, () => this.sweep()),
      this.forever('verdicts to be caught up with', READING.sweepSeconds * 1_000, () => this.judge()),
    );
  }

  async onModuleDestroy(): Promise<void> {
    this.ended = true;
    this.wake();
    await Promise.race([Promise.all(this.loops), new Promise((resolve) => setTimeout(resolve, 3_000).unref())]);
  }

  /** Does something again and again, more slowly while it fails. `work` says whether there is more at once. */
  private async forever(what: string, pause: number, work: () => Promise<boolean>): Promise<void> {
    let failures = 0;
    while (!this.ended) {
      try {
        const more = await work();
        failures = 0;
        if (!more) await this.sleep(pause);
      } catch (error) {
        if (this.ended) return;
        failures++;
        this.logger.warn(`${what}: ${error instanceof Error ? error.message : String(error)}`);
        await this.sleep(Math.min(LARGEST_PAUSE_MS, pause * 2 ** Math.min(failures, 6)));
      }
    }
  }

  private async sleep(milliseconds: number): Promise<void> {
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, milliseconds);
      const before = this.wake;
      this.wake = () => {
        before();
        clearTimeout(timer);
        resolve();
      };
    });
  }

  private async nextJob(): Promise<boolean> {
    const job = await this.queue.next();
    if (!job) return false;
    try {
      await this.reader.read(job.data);
    } finally {
      // The job has done its part: whatever came of it is the revision's own state, and a lost one is found by that.
      await this.queue
        .done(job.id)
        .catch((error: unknown) => this.logger.warn(`a job could not be ended: ${String(error)}`));
    }
    return true;
  }

  /**
   * Revisions whose reader has died, or whose job was lost, are queued again or given up; those that have no reading of this version of the
   * core are queued anew.
   */
  private async sweep(): Promise<boolean> {
    const lost = await this.database.transaction(async (transaction) => {
      const found = await this.database.select<{ id: string }>(
        `SELECT r.id FROM revisions r
          WHERE r.reading_state IN ('queued', 'reading') AND r.reading_beat < now() - make_interval(secs => $1)
            AND (r.reading_state = 'reading' OR NOT EXISTS (
              SELECT 1 FROM pgboss.job j WHERE j.name = 'read-shot' AND j.state IN ('created', 'retry')
                 AND j.data ->> 'revision' = r.id::text AND (j.data ->> 'settings')::int = r.settings_version))
          ORDER BY r.reading_beat LIMIT $2 FOR UPDATE OF r SKIP LOCKED`,
        [READING.lostSeconds, BATCH],
        transaction,
      );
      for (const { id } of found) {
        const revision = await this.database.models.Revision.findByPk(id, { transaction });
        this.logger.warn(`revision ${id} was ${revision!.readingState} and nobody read it: queued again`);
        await this.reader.requeue(revision!, transaction);
      }
      return found.length;
    });
    return (await this.makeAnew()) + lost >= BATCH;
  }

  /** Readings from before verdicts were kept are judged, a few at a time. */
  private async judge(): Promise<boolean> {
    return (await this.verdicts.catchUp()) > 0;
  }

  private makeAnew(): Promise<number> {
    return this.database.transaction(async (transaction) => {
      const behind = await this.database.select<{ id: string; settings: number }>(
        `SELECT r.id, r.settings_version AS settings FROM revisions r
          WHERE r.reading_state = 'read'
            AND NOT EXISTS (SELECT 1 FROM readings d WHERE d.revision_id = r.id AND d.core_version = $1)
          ORDER BY r.handed_in_at DESC LIMIT $2 FOR UPDATE OF r SKIP LOCKED`,
        [CORE_VERSION, BATCH],
        transaction,
      );
      for (const { id, settings } of behind) {
        await this.database.models.Revision.update(
          { readingState: 'queued', readingBeat: new Date() },
          { where: { id }, transaction },
        );
        await this.queue.readShot({ revision: id, settings }, transaction);
      }
      return behind.length;
    });
  }
}
