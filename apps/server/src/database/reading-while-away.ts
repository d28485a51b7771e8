import { setTimeout as sleep } from 'node:timers/promises';
import { type BehaviorSubject, filter, take } from 'rxjs';
import { type ModelStatic, type QueryOptions, QueryTypes, type Sequelize } from 'sequelize';
import type { ReadReplica } from './read-replica.ts';
import { readsOnly, seenPosition } from './seen-position.ts';

/** So often, and after so long, the replica is asked again. */
const [TRIES, PAUSE_MS] = [10, 100];

type Query = (
  sql: string,
  options?: QueryOptions & { model?: ModelStatic<never>; hasJoin?: boolean },
) => Promise<unknown>;

/**
 * Lets the replica answer what a request that changes nothing asks of the primary, from the moment the primary is away until it is back: pages can be
 * looked at meanwhile. What changes something waits for the primary, and so does who has written what the replica did not get any more.
 *
 * @param away whether the primary is known to be away; what was asked before and is not answered yet is asked of the replica as well
 */
export function readWhileAway(sequelize: Sequelize, replica: ReadReplica, away: BehaviorSubject<boolean>): void {
  const ask = sequelize.query.bind(sequelize) as Query;
  const query: Query = async (sql, options) => {
    const reads = options?.type === QueryTypes.SELECT && !options.transaction && !options.hasJoin && readsOnly();
    // Who comes in by a link begins a session: that is written, and rows are asked back of it.
    if (!reads || !/^\s*(SELECT|WITH)\b/i.test(sql)) return ask(sql, options);
    if (!away.value) {
      const asked = ask(sql, options);
      try {
        const answer = await untilAway(asked, away);
        if (answer) return answer.rows;
      } catch (error) {
        if (!away.value) throw error;
      }
    }
    const bind = Array.isArray(options.bind) ? options.bind : [];
    let rows = await replica.rows(sql, bind, seenPosition());
    // What was written last may still be on its way there.
    for (let k = 0; k < TRIES && !rows && away.value; k++) {
      await sleep(PAUSE_MS);
      rows = await replica.rows(sql, bind, seenPosition());
    }
    if (!rows) return ask(sql, options);
    const { model, raw, plain } = options;
    const found = model && !raw ? model.bulkBuild(rows as never[], { isNewRecord: false, raw: true }) : rows;
    return plain ? (found[0] ?? null) : found;
  };
  sequelize.query = query as Sequelize['query'];
}

/** What was asked for; undefined where the primary is lost before it comes. */
function untilAway(asked: Promise<unknown>, away: BehaviorSubject<boolean>): Promise<{ rows: unknown } | undefined> {
  return new Promise((resolve, refuse) => {
    const lost = away.pipe(filter(Boolean), take(1)).subscribe(() => resolve(undefined));
    asked.then((rows) => resolve({ rows }), refuse).finally(() => lost.unsubscribe());
  });
}
