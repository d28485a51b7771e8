import { Global, Inject, Injectable, Module, type OnModuleDestroy } from '@nestjs/common';
import pg from 'pg';
import { BehaviorSubject } from 'rxjs';
import { QueryTypes, Sequelize, type Transaction } from 'sequelize';
import { CONFIGURATION, type Configuration, poolOf } from '../config.ts';
import { LIMITS_OF_WAITING } from './limits.ts';
import { type Models, defineModels } from './models.ts';
import { type Position, ReadReplica } from './read-replica.ts';
import { readWhileAway } from './reading-while-away.ts';
import { later, seenPosition } from './seen-position.ts';
import { traced } from '../watch/tracing.ts';

/** What is told of a statement: what it does, and none of what it asks for. */
const of = (sql: string) => ({ 'db.system.name': 'postgresql', 'db.operation.name': /\w+/.exec(sql)?.[0] ?? '' });

/** The connection to PostgreSQL, with its models. */
@Injectable()
export class Database implements OnModuleDestroy {
  readonly sequelize: Sequelize;
  readonly models: Models;
  /** A copy that lists are read from; undefined where there is none. */
  readonly replica: ReadReplica | undefined;
  /** Whether the primary is known to be away: requests that change nothing are answered from the replica meanwhile. */
  readonly primaryIsAway = new BehaviorSubject(false);
  /** What this process knows to have been committed: no list it gives is older. */
  private known: Position | undefined;

  constructor(@Inject(CONFIGURATION) configuration: Configuration) {
    const { DATABASE_URL, DATABASE_READ_URL } = configuration;
    this.sequelize = openDatabase(DATABASE_URL, LIMITS_OF_WAITING, poolOf(configuration));
    this.models = defineModels(this.sequelize);
    this.replica = DATABASE_READ_URL === undefined ? undefined : new ReadReplica(DATABASE_READ_URL);
    if (this.replica) readWhileAway(this.sequelize, this.replica, this.primaryIsAway);
  }

  /**
   * Rows of a statement that reads only, for lists and exports: from the read replica where it has all that the person who asks has written and all
   * that this process was told of, else from the primary.
   */
  async list<T extends object>(sql: string, bind: unknown[]): Promise<T[]> {
    const least = later(this.known, seenPosition());
    const rows = this.replica && (await traced('read replica', of(sql), () => this.replica!.rows<T>(sql, bind, least)));
    return rows ?? this.select<T>(sql, bind);
  }

  /** The primary's position now; undefined where there is no replica that needs it. */
  async position(): Promise<Position | undefined> {
    if (!this.replica) return undefined;
    const [row] = await this.select<{ now: Position }>('SELECT pg_current_wal_insert_lsn()::text AS now', []);
    this.known = later(this.known, row?.now);
    return row?.now;
  }

  /** Notes that something was committed elsewhere: what is listed from now on has it. */
  async caughtUp(): Promise<void> {
    await this.position().catch(() => undefined);
  }

  /** Rows of one statement with `$1` … parameters. */
  select<T extends object>(sql: string, bind: unknown[], transaction?: Transaction): Promise<T[]> {
    return traced('database', of(sql), () =>
      this.sequelize.query<T>(sql, { type: QueryTypes.SELECT, bind, transaction: transaction ?? null }),
    );
  }

  /** Carries one statement out. */
  async run(sql: string, bind: unknown[], transaction?: Transaction): Promise<void> {
    await traced('database', of(sql), () => this.sequelize.query(sql, { bind, transaction: transaction ?? null }));
  }

  /** Whether the primary answers, whatever the replica does. */
  async primaryAnswers(): Promise<boolean> {
    await this.run('SELECT 1', []);
    return true;
  }

  /** A piece of SQL as a value. */
  literal = (sql: string): ReturnType<Sequelize['literal']> => this.sequelize.literal(sql);

  transaction<T>(work: (transaction: Transaction) => Promise<T>): Promise<T> {
    return this.sequelize.transaction(work);
  }

  async onModuleDestroy(): Promise<void> {
    await this.sequelize.close();
    await this.replica?.close();
  }
}

/**
 * A connection that hears of its own loss from its first moment on: the database may end it in the same breath in which it is made, when nobody else
 * listens yet.
 */
class Connection extends pg.Client {
  /** Such a one is not lent out. */
  _invalid = false;

  constructor(config?: string | pg.ClientConfig) {
    super(config);
    this.on('error', () => (this._invalid = true));
  }
}

/**
 * Opens a connection pool.
 * @param limits how long anything waits; none for what may take its time, as migrations do
 * @param connections at most
 */
export function openDatabase(url: string, limits: object = LIMITS_OF_WAITING, connections = 10): Sequelize {
  const sequelize = new Sequelize(url, {
    dialect: 'postgres',
    dialectModule: { ...pg, Client: Connection },
    logging: false,
    pool: { max: connections, acquire: 8_000 },
    dialectOptions: { ...limits },
    // A database that was restarted answers again after a moment: connect once more instead of failing the request.
    retry: { max: 4, match: [/SequelizeConnection/, /terminat/i, /ECONNRE/], backoffBase: 150, name: 'query' },
  });
  return sequelize;
}

@Global()
@Module({ providers: [Database], exports: [Database] })
export class DatabaseModule {}
