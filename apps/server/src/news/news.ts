import { Inject, Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import pg from 'pg';
import { concatMap, filter, from, map, merge, Observable, Subject } from 'rxjs';
import type { Transaction } from 'sequelize';
import { RevisionEvent, type ShotEvent } from '@ypsigraph/contract/shots';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';

const CHANNEL = 'revision_news';
const SHOTS = 'shot_news';
const ENDED = 'session_ended';
const RECONNECT_MS = 1_000;

const EVENT = `SELECT json_build_object('revision', id, 'state', state, 'reading', reading_state, 'reason', left(reading_reason, 2000))
  AS event FROM revisions WHERE id = $1`;

/**
 * Tells every server process when something about a revision or a shot has changed, through PostgreSQL's notifications, so that a worker's
 * progress reaches the page that waits for it whichever process serves it. What is told carries the state itself: however many pages listen,
 * the database is asked once.
 */
@Injectable()
export class News implements OnModuleInit, OnModuleDestroy {
  private readonly logger = new Logger(News.name);
  private readonly changed = new Subject<RevisionEvent>();
  /** Nobody listened for a while: whatever was said meanwhile has to be asked for. */
  private readonly missed = new Subject<void>();
  private readonly shots = new Subject<string>();
  private readonly ended = new Subject<string>();
  private client: pg.Client | undefined;
  private timer: NodeJS.Timeout | undefined;
  private closed = false;

  constructor(
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
    private readonly database: Database,
  ) {}

  async onModuleInit(): Promise<void> {
    await this.listen();
  }

  async onModuleDestroy(): Promise<void> {
    this.closed = true;
    clearTimeout(this.timer);
    this.changed.complete();
    this.shots.complete();
    await this.client?.end().catch(() => undefined);
  }

  /** Says that a revision has changed; heard once the transaction has been committed. */
  async tell(revision: string, transaction?: Transaction): Promise<void> {
    await this.database.run(`SELECT pg_notify('${CHANNEL}', event::text) FROM (${EVENT}) now`, [revision], transaction);
  }

  /** Says that sessions have ended, by their hashes: what is open in them is closed, in every process. */
  async tellEnded(sessions: readonly string[]): Promise<void> {
    for (const session of sessions) await this.database.run(`SELECT pg_notify('${ENDED}', $1)`, [session]);
  }

  /** A revision's state now and each time it changes. */
  of(revision: string): Observable<RevisionEvent> {
    const ask = (): Observable<RevisionEvent> => from(this.now(revision));
    return merge(
      ask(),
      this.changed.pipe(filter((event) => event.revision === revision)),
      this.missed.pipe(concatMap(ask)),
    );
  }

  /** Says each time that something about a shot has changed, whoever changed it; the database itself tells. */
  ofShot(shot: string): Observable<ShotEvent> {
    return merge(this.shots.pipe(filter((changed) => changed === shot)), this.missed).pipe(map(() => ({ shot })));
  }

  /** Emits when the session with this hash ends. */
  endOf(session: string): Observable<true> {
    return this.ended.pipe(
      filter((ended) => ended === session),
      map(() => true as const),
    );
  }

  private async now(revision: string): Promise<RevisionEvent> {
    const [row] = await this.database.select<{ event: RevisionEvent }>(EVENT, [revision]);
    return row!.event;
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.configuration.DATABASE_URL, keepAlive: true });
    this.client = client;
    client.on('notification', ({ channel, payload }) => {
      if (channel === ENDED && payload) this.ended.next(payload);
      if (channel === SHOTS && payload) this.shots.next(payload);
      const event = channel === CHANNEL && payload ? RevisionEvent.safeParse(JSON.parse(payload)) : undefined;
      if (event?.success) this.changed.next(event.data);
    });
    client.on('error', () => this.again(client));
    client.on('end', () => this.again(client));
    try {
      await client.connect();
      await client.query(`LISTEN ${CHANNEL}; LISTEN ${SHOTS}; LISTEN ${ENDED}`);
      this.missed.next();
    } catch {
      this.again(client);
    }
  }

  private again(client: pg.Client): void {
    if (this.closed || this.client !== client) return;
    this.client = undefined;
    this.logger.warn('the connection for notifications was lost; connecting again');
    void client.end().catch(() => undefined);
    this.timer = setTimeout(() => void this.listen(), RECONNECT_MS);
  }
}
