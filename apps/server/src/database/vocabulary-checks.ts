import { QueryTypes, type Sequelize } from 'sequelize';
import { KindOfExercise, MarkKind, Stage } from '@ypsigraph/contract/vocabulary';
import { lockKey } from './advisory-lock.ts';

/** Columns that hold one word of a list that the contract has: a new word is one there, and no migration. */
const COLUMNS: readonly { readonly table: string; readonly column: string; readonly words: readonly string[] }[] = [
  { table: 'briefs', column: 'kind', words: KindOfExercise.options },
  { table: 'revisions', column: 'stage', words: Stage.options },
  { table: 'marks', column: 'stage', words: Stage.options },
  { table: 'marks', column: 'kind', words: MarkKind.options },
  { table: 'phrases', column: 'kind', words: MarkKind.options },
];

/** Between the words, as a check's comment has them. */
const SEPARATOR = ', ';
const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/**
 * Has the database check those columns by the contract's words. A word that it has already stays, though this program does not know it: a newer one that
 * runs beside it may. Taking a word away is a migration.
 */
export async function checkVocabulary(sequelize: Sequelize): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    await sequelize.query(`SELECT pg_advisory_xact_lock(${lockKey('migrations')})`, { transaction });
    for (const { table, column, words } of COLUMNS) {
      const name = `${table}_${column}_check`;
      const [found] = await sequelize.query<{ said: string | null }>(
        `SELECT obj_description(oid, 'pg_constraint') AS said FROM pg_constraint WHERE conname = $1 AND conrelid = $2::regclass`,
        { bind: [name, table], type: QueryTypes.SELECT, transaction },
      );
      const known = found?.said?.split(SEPARATOR) ?? [];
      if (words.every((word) => known.includes(word))) continue;
      const all = [...words, ...known.filter((word) => !words.includes(word))];
      const list = all.map(quoted).join(', ');
      await sequelize.query(
        `ALTER TABLE ${table} DROP CONSTRAINT IF EXISTS ${name}, ADD CONSTRAINT ${name} CHECK (${column} IN (${list}));
         COMMENT ON CONSTRAINT ${name} ON ${table} IS ${quoted(all.join(SEPARATOR))}`,
        { transaction },
      );
    }
  });
}
