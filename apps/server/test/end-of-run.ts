import pg from 'pg';

/** After the last suite: the schools that were made for this run are dropped, where nobody keeps them. */
export default async function dropSchools(): Promise<void> {
  const { TEST_DATABASE_URL, SCHOOL_RUN, KEPT_RUN } = process.env;
  if (!TEST_DATABASE_URL || KEPT_RUN) return;
  const admin = new pg.Client({ connectionString: TEST_DATABASE_URL });
  await admin.connect();
  const { rows } = await admin.query('SELECT datname FROM pg_database WHERE starts_with(datname, $1)', [
    `made_${SCHOOL_RUN}_`,
  ]);
  for (const { datname } of rows) await admin.query(`DROP DATABASE ${datname} WITH (FORCE)`);
  await admin.end();
}
