import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { Database } from '../database/database.module.ts';
import { RevisionModel } from '../database/models.ts';
import { JobQueue, READ_SHOT } from '../jobs/jobs.module.ts';
import { ShotReader } from './shot-reader.ts';

/** Takes readings from the queue, a few at a time, and does them one after the other. */
@Injectable()
export class ReadShotWorker implements OnApplicationBootstrap {
  constructor(
    private readonly queue: JobQueue,
    private readonly reader: ShotReader,
    private readonly database: Database,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    await this.makeAnew();
    const options = { includeMetadata: true as const, pollingIntervalSeconds: 0.5, batchSize: 10 };
    await this.queue.boss.work<{ revision: string }>(READ_SHOT, options, async (jobs) => {
      // One that fails sends the whole batch back to the queue: reading the others again does no harm.
      for (const job of jobs) await this.reader.read(job.data.revision, job.retryCount >= job.retryLimit);
    });
  }

  /** Readings of another version of the core are made again: revisions that have none of this version are queued. */
  private async makeAnew(): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const behind = await this.database.select<{ id: string }>(
        `SELECT r.id FROM revisions r
          WHERE r.reading_state = 'read'
            AND NOT EXISTS (SELECT 1 FROM readings d WHERE d.revision_id = r.id AND d.core_version = $1)
          ORDER BY r.handed_in_at DESC
            FOR UPDATE OF r SKIP LOCKED`,
        [CORE_VERSION],
        transaction,
      );
      for (const { id } of behind) {
        await RevisionModel.update({ readingState: 'queued' }, { where: { id }, transaction });
        await this.queue.readShot(id, transaction);
      }
    });
  }
}
