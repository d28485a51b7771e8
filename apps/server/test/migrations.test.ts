import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { openDatabase } from '../src/database/database.module.ts';
import { migrate, MIGRATIONS } from '../src/database/migrations.ts';
import { checkVocabulary } from '../src/database/vocabulary-checks.ts';

/** Everything of the public schema that a statement could make: tables and views with their columns, indexes, constraints, triggers, functions. */
const SHAPE = `
  SELECT 'column' AS what, table_name || '.' || column_name || ' ' || data_type || ' ' || is_nullable || ' ' || coalesce(column_default, '') AS name
    FROM information_schema.columns WHERE table_schema = 'public'
  UNION ALL SELECT 'index', indexdef FROM pg_indexes WHERE schemaname = 'public'
  UNION ALL SELECT 'constraint', conrelid::regclass || ' ' || pg_get_constraintdef(oid) FROM pg_constraint WHERE connamespace = 'public'::regnamespace
  UNION ALL SELECT 'trigger', tgrelid::regclass || ' ' || tgname FROM pg_trigger WHERE NOT tgisinternal
  UNION ALL SELECT 'function', proname FROM pg_proc WHERE pronamespace = 'public'::regnamespace
  ORDER BY 1, 2`;

test('every step leads back to where it came from, and forward again to the same', async () => {
  const admin = new pg.Client({ connectionString: process.env.TEST_DATABASE_URL });
  await admin.connect();
  const name = `steps_${randomUUID().replaceAll('-', '')}`;
  await admin.query(`CREATE DATABASE ${name}`);
  const url = new URL(process.env.TEST_DATABASE_URL!);
  url.pathname = `/${name}`;
  const sequelize = openDatabase(url.href);
  const client = new pg.Client({ connectionString: url.href });
  await client.connect();
  try {
    await migrate(sequelize);
    const shape = async (withWords = false): Promise<string[]> =>
      (await client.query<{ what: string; name: string }>(SHAPE)).rows
        // The order of columns is not told: one that comes back stands last.
        .map(({ what, name: own }) => `${what}: ${own}`)
        .filter((line) => !line.includes('migrations'))
        // The words of the contract are checked by what every start sees to, and not by a step.
        .filter((line) => !/CHECK \(\((kind|stage) = ANY/.test(line) || withWords);
    // Columns that were dropped and made anew are the same; what is told is a set.
    const whole = new Set(await shape());
    const withWords = new Set(await shape(true));
    const before: Set<string>[] = [];
    for (const { down } of [...MIGRATIONS].reverse()) {
      before.push(new Set(await shape()));
      await client.query(down);
    }
    expect(await shape()).toEqual([]);
    for (const { name: step, up } of MIGRATIONS) {
      await client.query(up);
      expect([step, new Set(await shape())]).toEqual([step, before.pop()]);
    }
    expect(new Set(await shape())).toEqual(whole);

    // A database whose list of words is older than the contract's learns the new ones.
    await client.query(`ALTER TABLE marks DROP CONSTRAINT marks_kind_check, ADD CONSTRAINT marks_kind_check CHECK (kind IN ('timing'));
      COMMENT ON CONSTRAINT marks_kind_check ON marks IS 'timing'`);
    await checkVocabulary(sequelize);
    expect(new Set(await shape(true))).toEqual(withWords);

    // A word that only a newer program knows stays.
    await client.query(`ALTER TABLE phrases DROP CONSTRAINT phrases_kind_check, ADD CONSTRAINT phrases_kind_check CHECK (kind IN ('timing', 'tempo'));
      COMMENT ON CONSTRAINT phrases_kind_check ON phrases IS 'timing, tempo'`);
    await checkVocabulary(sequelize);
    const told = [...(await shape(true))].filter((line) => line.includes('tempo'));
    expect(told).toHaveLength(1);
    expect(told[0]).toContain('moving hold');
  } finally {
    await sequelize.close();
    await client.end();
    await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
    await admin.end();
  }
});
