import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';
import { Loops } from '../loops.ts';
import { ShotAligner } from '../alignments/shot-aligner.ts';
import { type ReadingLane, ReadingQueue } from './reading-queue.ts';
import { READING } from './reading-rules.ts';
import { VerdictKeeper } from './verdict-keeper.ts';
import { ShotReader } from './shot-reader.ts';

const IDLE_MS = 500;
/** So many revisions wait at most because the core has a new version, or are found to be lost at once. */
const BATCH = 200;

/** Takes readings from the queue and looks for revisions whose reader has died. */
@Injectable()
export class ReadShotWorker implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly logger = new Logger(ReadShotWorker.name);
  private readonly loops = new Loops(ReadShotWorker.name);

  constructor(
    private readonly queue: ReadingQueue,
    private readonly reader: ShotReader,
    private readonly aligner: ShotAligner,
    private readonly verdicts: VerdictKeeper,
    private readonly database: Database,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  onApplicationBootstrap(): void {
    for (let k = 0; k < this.configuration.READERS; k++) {
      this.loops.add('the next shot', IDLE_MS, () => this.next('measuring'));
      this.loops.add('the next clip', IDLE_MS, () => this.next('decoding'));
    }
    this.loops.add('revisions that are to be aligned', IDLE_MS, () => this.aligner.next());
    this.loops.add('readings that were lost', READING.sweepSeconds * 1_000, () => this.sweep());
    this.loops.add('verdicts to be caught up with', READING.sweepSeconds * 1_000, () => this.judge());
  }

  onModuleDestroy(): Promise<void> {
    return this.loops.end();
  }

  private async next(lane: ReadingLane): Promise<boolean> {
    const claimed = await this.queue.claim(lane);
    if (!claimed) return false;
    await this.reader.read(claimed);
    return true;
  }

  /**
   * Revisions and clips whose reader has died are queued again or given up; those that have no reading of this version of the core are queued
   * anew.
   */
  private async sweep(): Promise<boolean> {
    const lost = await this.database.transaction(async (transaction) => {
      const found = await this.database.select<{ id: string }>(
        `SELECT r.id FROM revisions r WHERE r.reading_state = 'reading' AND r.reading_beat < now() - make_interval(secs => $1)
          ORDER BY r.reading_beat LIMIT $2 FOR NO KEY UPDATE OF r SKIP LOCKED`,
        [READING.lostSeconds, BATCH],
        transaction,
      );
      for (const { id } of found) {
        const revision = await this.database.models.Revision.findByPk(id, { transaction });
        this.logger.warn(`revision ${id} was being read and nobody reads it: queued again`);
        await this.reader.requeue(revision!, transaction);
      }
      return found.length;
    });
    await this.database.run(
      `UPDATE clips_beside SET claimed_at = NULL WHERE done_at IS NULL AND claimed_at < now() - make_interval(secs => $1)`,
      [READING.lostSeconds],
    );
    await this.makeAnew();
    return lost >= BATCH;
  }

  /** Readings from before verdicts were kept are judged, a few at a time. */
  private async judge(): Promise<boolean> {
    return (await this.verdicts.catchUp()) > 0;
  }

  /** Never more than a batch of them waits, so that the queue stays short. */
  private async makeAnew(): Promise<void> {
    await this.database.run(
      `UPDATE revisions SET reading_state = 'queued', reading_waited = false, reading_from = now()
        WHERE id IN (
          SELECT r.id FROM revisions r
           WHERE r.reading_state = 'read'
             AND NOT EXISTS (SELECT 1 FROM readings d WHERE d.revision_id = r.id AND d.core_version = $1)
           ORDER BY r.handed_in_at DESC
           LIMIT greatest(0, $2 - (SELECT count(*) FROM revisions q WHERE q.reading_state = 'queued' AND NOT q.reading_waited))
             FOR NO KEY UPDATE OF r SKIP LOCKED)`,
      [CORE_VERSION, BATCH],
    );
  }
}
