import { Inject, Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import pg from 'pg';
import { filter, Observable, Subject } from 'rxjs';
import type { Transaction } from 'sequelize';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';

const CHANNEL = 'revision_news';
const RECONNECT_MS = 1_000;

/**
 * Tells every server process when something about a revision has changed, through PostgreSQL's notifications, so that a worker's
 * progress reaches the page that waits for it whichever process serves it.
 */
@Injectable()
export class RevisionNews implements OnModuleInit, OnModuleDestroy {
  private readonly logger = new Logger(RevisionNews.name);
  private readonly changed = new Subject<string>();
  private client: pg.Client | undefined;
  private timer: NodeJS.Timeout | undefined;
  private ended = false;

  constructor(
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
    private readonly database: Database,
  ) {}

  async onModuleInit(): Promise<void> {
    await this.listen();
  }

  async onModuleDestroy(): Promise<void> {
    this.ended = true;
    clearTimeout(this.timer);
    this.changed.complete();
    await this.client?.end().catch(() => undefined);
  }

  /** Says that a revision has changed; heard once the transaction has been committed. */
  async tell(revision: string, transaction?: Transaction): Promise<void> {
    await this.database.sequelize.query(`SELECT pg_notify('${CHANNEL}', $1)`, {
      bind: [revision],
      transaction: transaction ?? null,
    });
  }

  /** Emits each time the revision has changed. */
  of(revision: string): Observable<string> {
    return this.changed.pipe(filter((id) => id === revision || id === '*'));
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.configuration.DATABASE_URL });
    this.client = client;
    client.on('notification', ({ payload }) => payload && this.changed.next(payload));
    client.on('error', () => this.again(client));
    client.on('end', () => this.again(client));
    try {
      await client.connect();
      await client.query(`LISTEN ${CHANNEL}`);
      // Whatever was said while nobody listened is made up for.
      this.changed.next('*');
    } catch {
      this.again(client);
    }
  }

  private again(client: pg.Client): void {
    if (this.ended || this.client !== client) return;
    this.client = undefined;
    this.logger.warn('the connection for notifications was lost; connecting again');
    void client.end().catch(() => undefined);
    this.timer = setTimeout(() => void this.listen(), RECONNECT_MS);
  }
}
