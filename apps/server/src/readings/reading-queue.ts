import { Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import { Database } from '../database/database.module.ts';
import { ChangeFeed } from '../news/change-feed.ts';

/** What is quick never waits for clips that are decoded: each has a lane of its own. */
export type ReadingLane = 'measuring' | 'decoding';

/** Something that was taken from the queue, by this process alone. */
export type Claimed = {
  readonly revision: string;
  /** The request it was asked for by. */
  readonly request: string | null;
} & (
  | { readonly beside: false; readonly settings: number }
  /** The clip that came with a motion. */
  | { readonly beside: true }
);

interface Candidate {
  readonly revision: string;
  readonly beside: boolean;
  readonly student: string;
}

/** So many are looked at: others may be taking the first of them at the same moment. */
const CANDIDATES = 8;

/**
 * The queue of what is to be read. It is the revisions' own state, put in order by the view `reading_queue`: what somebody waits for comes first, and
 * among people the one whose last turn is longest ago, so that nobody's second clip is decoded before another's first.
 */
@Injectable()
export class ReadingQueue {
  constructor(
    private readonly database: Database,
    private readonly news: ChangeFeed,
  ) {}

  /** Takes the next one of a lane, if there is any. */
  async claim(lane: ReadingLane): Promise<Claimed | undefined> {
    const candidates = await this.database.select<Candidate>(
      `SELECT revision_id AS revision, beside, student_id AS student FROM reading_queue
        WHERE lane = $1 AND since <= now() ORDER BY place LIMIT ${CANDIDATES}`,
      [lane],
    );
    for (const candidate of candidates) {
      const claimed = await this.database.transaction(async (transaction) => {
        const won = candidate.beside
          ? await this.claimClip(candidate, transaction)
          : await this.claimRevision(candidate, transaction);
        if (won)
          await this.database.run(
            `INSERT INTO reading_turns (person_id, lane) VALUES ($1, $2)
             ON CONFLICT (person_id, lane) DO UPDATE SET at = clock_timestamp()`,
            [candidate.student, lane],
            transaction,
          );
        return won;
      });
      if (claimed) return claimed;
    }
    return undefined;
  }

  private async claimRevision({ revision }: Candidate, transaction: Transaction): Promise<Claimed | undefined> {
    const [row] = await this.database.select<{ settings: number; request: string | null }>(
      `UPDATE revisions SET reading_state = 'reading', reading_reason = NULL, reading_beat = now(), reading_progress = NULL,
              reading_tries = reading_tries + 1
        WHERE id = (SELECT id FROM revisions WHERE id = $1 AND reading_state = 'queued' FOR NO KEY UPDATE SKIP LOCKED)
       RETURNING settings_version AS settings, reading_request AS request`,
      [revision],
      transaction,
    );
    if (!row) return undefined;
    await this.news.tell(revision, transaction);
    return { beside: false, revision, ...row };
  }

  private async claimClip({ revision }: Candidate, transaction: Transaction): Promise<Claimed | undefined> {
    const [row] = await this.database.select<{ request: string | null }>(
      `UPDATE clips_beside SET claimed_at = now(), tries = tries + 1
        WHERE revision_id = (SELECT revision_id FROM clips_beside
                              WHERE revision_id = $1 AND claimed_at IS NULL AND done_at IS NULL FOR NO KEY UPDATE SKIP LOCKED)
       RETURNING (SELECT r.reading_request FROM revisions r WHERE r.id = revision_id) AS request`,
      [revision],
      transaction,
    );
    return row && { beside: true, revision, request: row.request };
  }
}
