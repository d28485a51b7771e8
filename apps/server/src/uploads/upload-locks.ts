import { randomUUID } from 'node:crypto';
import { ERRORS, type Locker } from '@tus/server';
import type { Database } from '../database/database.module.ts';

type Lock = ReturnType<Locker['newLock']>;
type CancelRequest = Parameters<Lock['lock']>[1];

/** A holder says so again so often, and after so long without a word it is nobody's any more; milliseconds. */
const BEAT_MS = 1_000;
const LOST_MS = 10_000;
/** One that waits looks again so often, and gives up after so long. */
const LOOKS_MS = 150;
const WAITS_MS = 30_000;

/**
 * Locks of uploads in the database, so that two servers never write to one at once: a student's line is cut, and what goes on comes to another
 * server while the first still waits for the rest. As the protocol wants it, whoever comes later is let in, and the earlier request is ended.
 * Leases and not the database's own locks: those would hold a connection for as long as an upload takes.
 */
export class UploadLocks implements Locker {
  constructor(private readonly database: Database) {}

  newLock(upload: string): Lock {
    const holder = randomUUID();
    let beat: NodeJS.Timeout | undefined;
    return {
      lock: async (signal, cancelRequest) => {
        const until = Date.now() + WAITS_MS;
        while (!(await this.take(upload, holder))) {
          if (signal.aborted || Date.now() > until) throw ERRORS.ERR_LOCK_TIMEOUT;
          await new Promise((resolve) => setTimeout(resolve, LOOKS_MS));
        }
        beat = setInterval(() => void this.beat(upload, holder, cancelRequest), BEAT_MS);
        beat.unref();
      },
      unlock: async () => {
        clearInterval(beat);
        await this.database.run('DELETE FROM upload_locks WHERE upload = $1 AND holder = $2', [upload, holder]);
      },
    };
  }

  /** Takes a lock that nobody holds; of one that somebody holds it is noted that it is wanted. */
  private async take(upload: string, holder: string): Promise<boolean> {
    const [row] = await this.database.select<{ holder: string }>(
      `INSERT INTO upload_locks AS own (upload, holder, held_until) VALUES ($1, $2, now() + make_interval(secs => $3))
       ON CONFLICT (upload) DO UPDATE
         SET holder = CASE WHEN own.held_until < now() THEN excluded.holder ELSE own.holder END,
             held_until = CASE WHEN own.held_until < now() THEN excluded.held_until ELSE own.held_until END,
             wanted = own.held_until >= now()
       RETURNING holder`,
      [upload, holder, LOST_MS / 1_000],
    );
    return row?.holder === holder;
  }

  /** Says that it is still held; ends the request where another wants it. A database that is away a moment says nothing against it. */
  private async beat(upload: string, holder: string, cancelRequest: CancelRequest): Promise<void> {
    const rows = await this.database
      .select<{ wanted: boolean }>(
        `UPDATE upload_locks SET held_until = now() + make_interval(secs => $3) WHERE upload = $1 AND holder = $2 RETURNING wanted`,
        [upload, holder, LOST_MS / 1_000],
      )
      .catch(() => undefined);
    if (rows && (rows.length === 0 || rows[0]!.wanted)) await cancelRequest();
  }
}
