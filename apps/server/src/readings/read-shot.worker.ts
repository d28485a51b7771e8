import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { JobQueue, READ_SHOT } from '../jobs/jobs.module.ts';
import { ShotReader } from './shot-reader.ts';

/** Takes readings from the queue, a few at a time, and does them one after the other. */
@Injectable()
export class ReadShotWorker implements OnApplicationBootstrap {
  constructor(
    private readonly queue: JobQueue,
    private readonly reader: ShotReader,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const options = { includeMetadata: true as const, pollingIntervalSeconds: 0.5, batchSize: 10 };
    await this.queue.boss.work<{ revision: string }>(READ_SHOT, options, async (jobs) => {
      // One that fails sends the whole batch back to the queue: reading the others again does no harm.
      for (const job of jobs) await this.reader.read(job.data.revision, job.retryCount >= job.retryLimit);
    });
  }
}
