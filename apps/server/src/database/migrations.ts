import { QueryTypes, type Sequelize } from 'sequelize';
import { Umzug } from 'umzug';
import { initial } from './migrations/0001-initial.ts';

export interface Migration {
  readonly name: string;
  readonly up: string;
  readonly down: string;
}

const MIGRATIONS: readonly Migration[] = [initial];

/** A key for PostgreSQL's advisory lock, so that processes that start together migrate one after the other. */
const LOCK = 7_466_190;

/** Brings the database to the newest version, each migration in a transaction of its own. */
export async function migrate(sequelize: Sequelize): Promise<string[]> {
  await sequelize.query(
    'CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY, at timestamptz NOT NULL DEFAULT now())',
  );
  return sequelize.transaction(async (transaction) => {
    await sequelize.query(`SELECT pg_advisory_xact_lock(${LOCK})`, { transaction });
    const umzug = new Umzug({
      migrations: MIGRATIONS.map(({ name, up, down }) => ({
        name,
        up: async () => void (await sequelize.query(up, { transaction })),
        down: async () => void (await sequelize.query(down, { transaction })),
      })),
      storage: {
        executed: async () => {
          const rows = await sequelize.query<{ name: string }>('SELECT name FROM migrations ORDER BY name', {
            type: QueryTypes.SELECT,
            transaction,
          });
          return rows.map(({ name }) => name);
        },
        logMigration: async ({ name }) =>
          void (await sequelize.query('INSERT INTO migrations (name) VALUES ($1)', { bind: [name], transaction })),
        unlogMigration: async ({ name }) =>
          void (await sequelize.query('DELETE FROM migrations WHERE name = $1', { bind: [name], transaction })),
      },
      logger: undefined,
    });
    return (await umzug.up()).map(({ name }) => name);
  });
}
