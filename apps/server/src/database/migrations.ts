import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { Umzug } from 'umzug';
import { initial } from './migrations/0001-initial.ts';
import { steady } from './migrations/0002-steady.ts';
import { marking } from './migrations/0003-marking.ts';
import { shotNews } from './migrations/0004-shot-news.ts';
import { pictures } from './migrations/0005-pictures.ts';
import { alignments } from './migrations/0007-alignments.ts';
import { clipsBeside } from './migrations/0006-clips-beside.ts';
import { briefs } from './migrations/0008-briefs.ts';
import { following } from './migrations/0009-following.ts';
import { queue } from './migrations/0010-queue.ts';
import { plan } from './migrations/0012-plan.ts';
import { demonstrations } from './migrations/0013-demonstrations.ts';
import { cures } from './migrations/0014-cures.ts';
import { animations } from './migrations/0015-animations.ts';
import { sounds } from './migrations/0016-sounds.ts';
import { shownExemplars } from './migrations/0017-shown-exemplars.ts';
import { mail } from './migrations/0018-mail.ts';
import { requests } from './migrations/0019-requests.ts';
import { secondFactors } from './migrations/0020-second-factors.ts';
import { identities } from './migrations/0021-identities.ts';
import { passkeys } from './migrations/0024-passkeys.ts';
import { forgotten } from './migrations/0025-forgotten.ts';
import { briefSounds } from './migrations/0026-brief-sounds.ts';
import { audit } from './migrations/0023-audit.ts';
import { uploadLocks } from './migrations/0022-upload-locks.ts';
import { smallPictures } from './migrations/0011-small-pictures.ts';
import { lockKey } from './advisory-lock.ts';
import type { Migration } from './migration.ts';
import { checkVocabulary } from './vocabulary-checks.ts';

/** Every step, in order. */
export const MIGRATIONS: readonly Migration[] = [
  initial,
  steady,
  marking,
  shotNews,
  pictures,
  clipsBeside,
  alignments,
  briefs,
  following,
  queue,
  smallPictures,
  plan,
  demonstrations,
  cures,
  animations,
  sounds,
  shownExemplars,
  mail,
  requests,
  secondFactors,
  identities,
  uploadLocks,
  audit,
  passkeys,
  forgotten,
  briefSounds,
];

/** Brings the database to the newest version, each migration in a transaction of its own, one process after the other. */
export async function migrate(sequelize: Sequelize): Promise<string[]> {
  const select = (transaction: Transaction | null): Promise<{ name: string }[]> =>
    sequelize.query<{ name: string }>('SELECT name FROM migrations ORDER BY name', {
      type: QueryTypes.SELECT,
      transaction,
    });
  /** One step and its line in the list, unless another process has done it meanwhile. */
  const step = (name: string, sql: string, down: boolean): Promise<void> =>
    sequelize.transaction(async (transaction) => {
      await sequelize.query(`SELECT pg_advisory_xact_lock(${lockKey('migrations')})`, { transaction });
      if ((await select(transaction)).some((done) => done.name === name) !== down) return;
      await sequelize.query(sql, { transaction });
      const line = down ? 'DELETE FROM migrations WHERE name = $1' : 'INSERT INTO migrations (name) VALUES ($1)';
      await sequelize.query(line, { bind: [name], transaction });
    });
  await sequelize.transaction(async (transaction) => {
    await sequelize.query(`SELECT pg_advisory_xact_lock(${lockKey('migrations')})`, { transaction });
    await sequelize.query(
      'CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY, at timestamptz NOT NULL DEFAULT now())',
      { transaction },
    );
  });
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(({ name, up, down }) => ({
      name,
      up: () => step(name, up, false),
      down: () => step(name, down, true),
    })),
    // What was done is written down with it, in its own transaction.
    storage: {
      executed: async () => (await select(null)).map(({ name }) => name),
      logMigration: async () => undefined,
      unlogMigration: async () => undefined,
    },
    logger: undefined,
  });
  const done = (await umzug.up()).map(({ name }) => name);
  await checkVocabulary(sequelize);
  return done;
}
