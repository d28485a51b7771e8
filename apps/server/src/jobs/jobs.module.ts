import { Global, Inject, Injectable, Logger, Module, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import PgBoss from 'pg-boss';
import type { Transaction } from 'sequelize';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { LIMITS_OF_WAITING } from '../database/limits.ts';
import { whenThere } from '../database/when-there.ts';
import { withAdvisoryLock } from '../database/advisory-lock.ts';

/** Reading one revision's file. */
export const READ_SHOT = 'read-shot';

/** What a job carries: settings of another version than these are not read for it. */
export interface ReadShotJob {
  readonly revision: string;
  readonly settings: number;
}

type Query = { query(text: string, values?: unknown[]): Promise<{ rows: unknown[] }> };

/**
 * The queue of jobs, kept in the same database as everything else. It only says that a revision is to be read: whether it has been, and how
 * often that was tried, is the revision's own state, so that nothing hangs on a job that is lost.
 */
@Injectable()
export class JobQueue implements OnModuleInit, OnModuleDestroy {
  private readonly logger = new Logger(JobQueue.name);
  private boss!: PgBoss;

  constructor(@Inject(CONFIGURATION) private readonly configuration: Configuration) {}

  async onModuleInit(): Promise<void> {
    await whenThere(() => this.start());
  }

  /** One that failed to start can't be started again: each try is a queue of its own. */
  private async start(): Promise<void> {
    const options = { connectionString: this.configuration.DATABASE_URL, max: 4, ...LIMITS_OF_WAITING };
    const boss = new PgBoss(options);
    boss.on('error', (error) => this.logger.warn(`the queue lost the database: ${error.message}`));
    // Of processes that start together on an empty database one makes the queue's tables.
    await withAdvisoryLock(this.configuration.DATABASE_URL, 'queue', async () => {
      await boss.start();
      await boss.createQueue(READ_SHOT);
    });
    this.boss = boss;
  }

  async onModuleDestroy(): Promise<void> {
    await this.boss.stop({ graceful: true, timeout: 5_000 }).catch(() => undefined);
  }

  /**
   * Queues the reading of a revision in the transaction that stores it: both happen or neither does.
   * @param options.after seconds from now at the earliest
   * @param options.somebodyWaits it is read before what nobody waits for
   */
  async readShot(
    job: ReadShotJob,
    transaction: Transaction,
    { after = 0, somebodyWaits = false }: { after?: number; somebodyWaits?: boolean } = {},
  ): Promise<void> {
    // Sequelize hands out the connection of a transaction under no public name.
    const { connection } = transaction as unknown as { connection: Query };
    const db = {
      executeSql: async (text: string, values: unknown[]) => ({ rows: (await connection.query(text, values)).rows }),
    };
    // Tried again by the revision's own state, not by the queue.
    const options = {
      retryLimit: 0,
      expireInSeconds: 3_600,
      ...(after > 0 && { startAfter: after }),
      priority: somebodyWaits ? 1 : 0,
      db,
    };
    await this.boss.send(READ_SHOT, job, options as PgBoss.SendOptions);
  }

  /** The next job there is, taken by this process alone. */
  async next(): Promise<{ id: string; data: ReadShotJob } | undefined> {
    const [job] = (await this.boss.fetch<ReadShotJob>(READ_SHOT, { batchSize: 1 })) ?? [];
    return job && { id: job.id, data: job.data };
  }

  async done(id: string): Promise<void> {
    await this.boss.complete(READ_SHOT, id);
  }
}

@Global()
@Module({ providers: [JobQueue], exports: [JobQueue] })
export class JobsModule {}
