import { createHash } from 'node:crypto';
import pg from 'pg';

/** A key for PostgreSQL's advisory locks from a word. */
export const lockKey = (word: string): string => createHash('sha256').update(word).digest().readBigInt64BE().toString();

/** Does something while no other process does the same: for what is done once on an empty database. */
export async function withAdvisoryLock<T>(url: string, word: string, work: () => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  client.on('error', () => undefined);
  await client.connect();
  try {
    await client.query('SELECT pg_advisory_lock($1)', [lockKey(word)]);
    return await work();
  } finally {
    await client.end().catch(() => undefined);
  }
}
