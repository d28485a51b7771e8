import { Inject, Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import pg from 'pg';
import { concatMap, defer, filter, finalize, from, map, merge, type Observable, Subject, tap } from 'rxjs';
import type { Transaction } from 'sequelize';
import { RevisionEvent, type ShotEvent } from '@ypsigraph/contract/shots';
import { CONFIGURATION, type Configuration, directUrl } from '../config.ts';
import { Database } from '../database/database.module.ts';

const CHANNEL = 'revision_news';
const SHOTS = 'shot_news';
const ENDED = 'session_ended';
const RECONNECT_MS = 500;
/** A database that does not answer here for so long is away, whatever the network says. */
const ANSWER_MS = 3_000;

/** How many are read before a revision r; null where it does not wait. */
export const AHEAD = `CASE WHEN r.reading_state = 'queued' THEN
  (SELECT q.place - 1 FROM reading_queue q WHERE q.revision_id = r.id AND NOT q.beside) END`;

const EVENT = `SELECT json_build_object('revision', r.id, 'state', r.state, 'reading', r.reading_state,
    'reason', left(r.reading_reason, 2000), 'ahead', ${AHEAD}, 'progress', r.reading_progress) AS event FROM revisions r`;
/** The same of many, for which the queue is put in order once. */
const EVENTS = `SELECT json_build_object('revision', r.id, 'state', r.state, 'reading', r.reading_state,
    'reason', left(r.reading_reason, 2000), 'ahead', q.place - 1, 'progress', r.reading_progress) AS event
  FROM revisions r LEFT JOIN reading_queue q ON q.revision_id = r.id AND NOT q.beside AND r.reading_state = 'queued'
 WHERE r.id = ANY($1::uuid[])`;
/** So often those who wait are told how far it has come: what was said and not heard is said again then. */
const WATCH_MS = 3_000;

/**
 * Tells every server process when something about a revision or a shot has changed, through PostgreSQL's notifications, so that a worker's
 * progress reaches the page that waits for it whichever process serves it. What is told carries the state itself: however many pages listen,
 * the database is asked once.
 */
@Injectable()
export class ChangeFeed implements OnModuleInit, OnModuleDestroy {
  private readonly logger = new Logger(ChangeFeed.name);
  private readonly changed = new Subject<RevisionEvent>();
  /** Nobody listened for a while: whatever was said meanwhile has to be asked for. */
  private readonly missed = new Subject<void>();
  private readonly shots = new Subject<{ shot: string; staffOnly: boolean }>();
  /** How many listen to each revision, and what each was told last. */
  private readonly watched = new Map<string, { listeners: number; last: RevisionEvent | undefined }>();
  private watching: NodeJS.Timeout | undefined;
  private readonly ended = new Subject<string>();
  private client: pg.Client | undefined;
  /** The connection while it waits for an answer. */
  private asked: pg.Client | undefined;
  private timer: NodeJS.Timeout | undefined;
  private closed = false;
  private hearing = Promise.resolve();

  constructor(
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
    private readonly database: Database,
  ) {}

  async onModuleInit(): Promise<void> {
    await this.listen();
    this.watching = setInterval(() => {
      void this.look().catch(() => undefined);
      void this.isThere();
    }, WATCH_MS);
    this.watching.unref();
  }

  async onModuleDestroy(): Promise<void> {
    this.closed = true;
    clearTimeout(this.timer);
    clearInterval(this.watching);
    this.changed.complete();
    this.shots.complete();
    await this.client?.end().catch(() => undefined);
  }

  /** Says that a revision has changed; heard once the transaction has been committed. */
  async tell(revision: string, transaction?: Transaction): Promise<void> {
    await this.database.run(
      `SELECT pg_notify('${CHANNEL}', event::text) FROM (${EVENT} WHERE r.id = $1) now`,
      [revision],
      transaction,
    );
  }

  /** Says that sessions have ended, by their hashes: what is open in them is closed, in every process. */
  async tellEnded(sessions: readonly string[]): Promise<void> {
    for (const session of sessions) await this.database.run(`SELECT pg_notify('${ENDED}', $1)`, [session]);
  }

  /** A revision's state now and each time it changes; while its file is read, how far that has come. */
  of(revision: string): Observable<RevisionEvent> {
    const ask = (): Observable<RevisionEvent> => from(this.now(revision));
    return defer(() => {
      const own = this.watched.get(revision) ?? { listeners: 0, last: undefined };
      own.listeners++;
      this.watched.set(revision, own);
      return merge(
        ask(),
        this.changed.pipe(filter((event) => event.revision === revision)),
        this.missed.pipe(concatMap(ask)),
      ).pipe(
        tap((event) => (own.last = event)),
        finalize(() => {
          if (--own.listeners === 0) this.watched.delete(revision);
        }),
      );
    });
  }

  /**
   * Says each time that something about a shot has changed, whoever changed it; the database itself tells.
   * @param staff whether who listens may know of what a student does not see, such as a mark that is not sent yet
   */
  ofShot(shot: string, staff: boolean): Observable<ShotEvent> {
    const own = this.shots.pipe(filter((changed) => changed.shot === shot && (staff || !changed.staffOnly)));
    return merge(own, this.missed).pipe(map(() => ({ shot })));
  }

  /** Emits when the session with this hash ends. */
  endOf(session: string): Observable<true> {
    return this.ended.pipe(
      filter((ended) => ended === session),
      map(() => true as const),
    );
  }

  /** Looks at the revisions that somebody waits for: one question, however many there are. */
  private async look(): Promise<void> {
    const waiting = [...this.watched].filter(
      ([, { last }]) => last === undefined || last.reading === 'queued' || last.reading === 'reading',
    );
    if (waiting.length === 0) return;
    const rows = await this.database.select<{ event: RevisionEvent }>(EVENTS, [waiting.map(([id]) => id)]);
    for (const { event } of rows)
      if (JSON.stringify(this.watched.get(event.revision)?.last) !== JSON.stringify(event)) this.changed.next(event);
  }

  private async now(revision: string): Promise<RevisionEvent> {
    const [row] = await this.database.select<{ event: RevisionEvent }>(`${EVENT} WHERE r.id = $1`, [revision]);
    return row!.event;
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({
      connectionString: directUrl(this.configuration),
      connectionTimeoutMillis: ANSWER_MS,
      keepAlive: true,
    });
    this.client = client;
    this.asked = client;
    client.on('notification', ({ channel, payload }) => {
      // One after the other, as they were said.
      this.hearing = this.hearing.then(() => this.heard(channel, payload));
    });
    client.on('error', () => this.again(client));
    client.on('end', () => this.again(client));
    try {
      await client.connect();
      await client.query(`LISTEN ${CHANNEL}; LISTEN ${SHOTS}; LISTEN ${ENDED}`);
      this.asked = undefined;
      this.database.primaryIsAway.next(false);
      await this.database.caughtUp();
      this.missed.next();
    } catch {
      this.again(client);
    }
  }

  /** Asks the database over the connection that it tells of changes by: a cut cable is not noticed otherwise. */
  private async isThere(): Promise<void> {
    const client = this.client;
    // Who is just connecting, or still waits for the answer before, is not asked.
    if (!client || this.asked === client) return;
    this.asked = client;
    try {
      await client.query({ text: 'SELECT 1', query_timeout: ANSWER_MS } as pg.QueryConfig);
      this.asked = undefined;
    } catch {
      this.again(client);
    }
  }

  private async heard(channel: string, payload: string | undefined): Promise<void> {
    // Whoever is told of a change and looks at a list sees it there.
    await this.database.caughtUp();
    if (channel === ENDED && payload) this.ended.next(payload);
    if (channel === SHOTS && payload) {
      const [shot, whom] = payload.split(' ');
      this.shots.next({ shot: shot!, staffOnly: whom === 'staff' });
    }
    const event = channel === CHANNEL && payload ? RevisionEvent.safeParse(JSON.parse(payload)) : undefined;
    if (event?.success) this.changed.next(event.data);
  }

  private again(client: pg.Client): void {
    if (this.closed || this.client !== client) return;
    this.client = undefined;
    this.database.primaryIsAway.next(true);
    this.logger.warn('the connection for notifications was lost; connecting again');
    void client.end().catch(() => undefined);
    this.timer = setTimeout(() => void this.listen(), RECONNECT_MS);
  }
}
