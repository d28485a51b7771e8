import { Global, Inject, Injectable, Module, type OnModuleDestroy } from '@nestjs/common';
import { QueryTypes, Sequelize, type Transaction } from 'sequelize';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { LIMITS_OF_WAITING } from './limits.ts';
import { type Models, defineModels } from './models.ts';

/** The connection to PostgreSQL, with its models. */
@Injectable()
export class Database implements OnModuleDestroy {
  readonly sequelize: Sequelize;
  readonly models: Models;

  constructor(@Inject(CONFIGURATION) configuration: Configuration) {
    this.sequelize = openDatabase(configuration.DATABASE_URL);
    this.models = defineModels(this.sequelize);
  }

  /** Rows of one statement with `$1` … parameters. */
  select<T extends object>(sql: string, bind: unknown[], transaction?: Transaction): Promise<T[]> {
    return this.sequelize.query<T>(sql, { type: QueryTypes.SELECT, bind, transaction: transaction ?? null });
  }

  /** Carries one statement out. */
  async run(sql: string, bind: unknown[], transaction?: Transaction): Promise<void> {
    await this.sequelize.query(sql, { bind, transaction: transaction ?? null });
  }

  /** A piece of SQL as a value. */
  literal = (sql: string): ReturnType<Sequelize['literal']> => this.sequelize.literal(sql);

  transaction<T>(work: (transaction: Transaction) => Promise<T>): Promise<T> {
    return this.sequelize.transaction(work);
  }

  async onModuleDestroy(): Promise<void> {
    await this.sequelize.close();
  }
}

/**
 * Opens a connection pool.
 * @param limits how long anything waits; none for what may take its time, as migrations do
 */
export function openDatabase(url: string, limits: object = LIMITS_OF_WAITING): Sequelize {
  const sequelize = new Sequelize(url, {
    dialect: 'postgres',
    logging: false,
    pool: { max: 10, acquire: 8_000 },
    dialectOptions: { ...limits },
    // A database that was restarted answers again after a moment: connect once more instead of failing the request.
    retry: { max: 4, match: [/SequelizeConnection/, /terminat/i, /ECONNRE/], backoffBase: 150, name: 'query' },
  });
  return sequelize;
}

@Global()
@Module({ providers: [Database], exports: [Database] })
export class DatabaseModule {}
