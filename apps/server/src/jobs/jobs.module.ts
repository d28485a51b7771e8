import { Global, Inject, Injectable, Logger, Module, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import PgBoss from 'pg-boss';
import type { Transaction } from 'sequelize';
import { CONFIGURATION, type Configuration } from '../config.ts';

/** Reading one revision's file. */
export const READ_SHOT = 'read-shot';

/** How often and how patiently a job is tried again. */
const RETRIES = Object.freeze({ retryLimit: 3, retryDelay: 2, retryBackoff: true, expireInSeconds: 600 });

type Query = { query(text: string, values?: unknown[]): Promise<{ rows: unknown[] }> };

/** The queue of jobs, kept in the same database as everything else. */
@Injectable()
export class JobQueue implements OnModuleInit, OnModuleDestroy {
  readonly boss: PgBoss;
  private readonly logger = new Logger(JobQueue.name);

  constructor(@Inject(CONFIGURATION) configuration: Configuration) {
    this.boss = new PgBoss({ connectionString: configuration.DATABASE_URL, max: 4 });
    this.boss.on('error', (error) => this.logger.warn(`the queue lost the database: ${error.message}`));
  }

  async onModuleInit(): Promise<void> {
    await this.boss.start();
    await this.boss.createQueue(READ_SHOT);
  }

  async onModuleDestroy(): Promise<void> {
    await this.boss.stop({ graceful: true, timeout: 5_000 });
  }

  /** Queues the reading of a revision in the transaction that stores it: both happen or neither does. */
  async readShot(revision: string, transaction: Transaction): Promise<void> {
    // Sequelize hands out the connection of a transaction under no public name.
    const { connection } = transaction as unknown as { connection: Query };
    const db = {
      executeSql: async (text: string, values: unknown[]) => ({ rows: (await connection.query(text, values)).rows }),
    };
    await this.boss.send(READ_SHOT, { revision }, { ...RETRIES, db } as PgBoss.SendOptions);
  }
}

@Global()
@Module({ providers: [JobQueue], exports: [JobQueue] })
export class JobsModule {}
