import { Logger } from '@nestjs/common';
import pg from 'pg';
import { LIMITS_OF_WAITING } from './limits.ts';

/** A place in the primary's log (pg_lsn), as text: all that was committed before it. */
export type Position = string;

/** A replica that is away is not asked for so long. */
const AWAY_MS = 5_000;
/** Connections for lists; what a replica takes to answer before the primary is asked instead. */
const POOL = 6;
const PATIENCE_MS = 3_000;

/** Positions in order: two hexadecimal numbers, the first counts for more. */
export const isBehind = (a: Position, b: Position): boolean => ordinal(a) < ordinal(b);

const ordinal = (position: Position): bigint => {
  const [high, low] = position.split('/') as [string, string];
  return (BigInt(`0x${high}`) << 32n) + BigInt(`0x${low}`);
};

/**
 * A copy of the database that may be read from and is a moment behind. What is read here is at least as new as a position that the caller names;
 * where the copy is not there yet, or does not answer, it gives nothing, and the primary is asked.
 */
export class ReadReplica {
  private readonly logger = new Logger(ReadReplica.name);
  private readonly pool: pg.Pool;
  private awayUntil = 0;
  /** How often it was read from, and how often the primary had to be. */
  readonly counts = { read: 0, behind: 0, away: 0 };

  constructor(url: string) {
    const limits = { ...LIMITS_OF_WAITING, connectionTimeoutMillis: PATIENCE_MS, query_timeout: PATIENCE_MS };
    this.pool = new pg.Pool({ connectionString: url, max: POOL, ...limits });
    this.pool.on('error', () => undefined);
    // One that is lost while it is lent out, between two statements, says so to nobody else.
    this.pool.on('connect', (client) => client.on('error', () => undefined));
  }

  /**
   * Rows of a statement, as new as `least`; undefined where it can't give them.
   * @param least a position that must have been replayed; undefined: any
   */
  async rows<T extends object>(sql: string, bind: unknown[], least: Position | undefined): Promise<T[] | undefined> {
    if (Date.now() < this.awayUntil) return this.missed('away');
    let client: pg.PoolClient | undefined;
    try {
      client = await this.pool.connect();
      if (least !== undefined) {
        const { rows } = await client.query<{ there: boolean }>(
          'SELECT pg_last_wal_replay_lsn() >= $1::pg_lsn AS there',
          [least],
        );
        // A server that is no replica (any more) has no such position, and is as new as can be.
        if (rows[0]!.there === false) return this.missed('behind');
      }
      const { rows } = await client.query<T>(sql, bind);
      this.counts.read++;
      client.release();
      client = undefined;
      return rows;
    } catch (error) {
      this.awayUntil = Date.now() + AWAY_MS;
      this.logger.warn(
        `the read replica does not answer, the primary is asked: ${error instanceof Error ? error.message : String(error)}`,
      );
      // What hung is not used again.
      client?.release(true);
      client = undefined;
      return this.missed('away');
    } finally {
      client?.release();
    }
  }

  async close(): Promise<void> {
    await this.pool.end();
  }

  private missed(why: 'behind' | 'away'): undefined {
    this.counts[why]++;
    return undefined;
  }
}
