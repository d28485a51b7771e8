import { Global, Inject, Injectable, Module, type OnModuleDestroy } from '@nestjs/common';
import { QueryTypes, Sequelize, type Transaction } from 'sequelize';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { defineModels } from './models.ts';

/** The connection to PostgreSQL; models are bound to it when it is made. */
@Injectable()
export class Database implements OnModuleDestroy {
  readonly sequelize: Sequelize;

  constructor(@Inject(CONFIGURATION) configuration: Configuration) {
    this.sequelize = openDatabase(configuration.DATABASE_URL);
  }

  /** Rows of one statement with `$1` … parameters. */
  select<T extends object>(sql: string, bind: unknown[], transaction?: Transaction): Promise<T[]> {
    return this.sequelize.query<T>(sql, { type: QueryTypes.SELECT, bind, transaction: transaction ?? null });
  }

  transaction<T>(work: (transaction: Transaction) => Promise<T>): Promise<T> {
    return this.sequelize.transaction(work);
  }

  async onModuleDestroy(): Promise<void> {
    await this.sequelize.close();
  }
}

/** Opens a connection pool and binds the models to it. */
export function openDatabase(url: string): Sequelize {
  const sequelize = new Sequelize(url, {
    dialect: 'postgres',
    logging: false,
    pool: { max: 10, acquire: 15_000 },
    // A database that was restarted answers again after a moment: connect once more instead of failing the request.
    retry: { max: 4, match: [/SequelizeConnection/, /terminat/i, /ECONNRE/], backoffBase: 150, name: 'query' },
  });
  defineModels(sequelize);
  return sequelize;
}

@Global()
@Module({ providers: [Database], exports: [Database] })
export class DatabaseModule {}
