import { Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import type { Person } from '@ypsigraph/contract/people';
import type { Showing } from '@ypsigraph/contract/showings';
import { Database } from '../database/database.module.ts';
import { conflict } from '../http/problem.ts';
import { OutboxService } from '../outbox/outbox.service.ts';
import { ShotPolicy } from './shot.policy.ts';

/** Showing a shot to its cohort: its student agrees, an instructor shows it, and either ends that at any time. */
@Injectable()
export class ShowingService {
  constructor(
    private readonly database: Database,
    private readonly policy: ShotPolicy,
    private readonly outbox: OutboxService,
  ) {}

  /** A student agrees to their shot's being shown, or takes that back: then it is shown no more, at once. */
  async consent(person: Person, id: string, consent: boolean): Promise<void> {
    await this.policy.shot(person, id);
    await this.database.transaction(async (transaction) => {
      const [before] = await this.held(id, transaction);
      if (Boolean(before?.consent) === consent) return;
      await this.database.run(
        consent
          ? `INSERT INTO showings (shot_id, consent_at) VALUES ($1, now()) ON CONFLICT (shot_id) DO UPDATE SET consent_at = now()`
          : `UPDATE showings SET consent_at = NULL, shown_at = NULL, shown_by = NULL, words = '' WHERE shot_id = $1`,
        [id],
        transaction,
      );
      await this.record(id, person, consent ? 'consent given' : 'consent withdrawn', transaction);
    });
  }

  /** @throws ProblemException where the shot's student has not agreed */
  async show(person: Person, id: string, shown: boolean, words: string): Promise<void> {
    await this.policy.shot(person, id);
    await this.database.transaction(async (transaction) => {
      const [before] = await this.held(id, transaction);
      if (shown && !before?.consent)
        throw conflict('Its student has not agreed to that.', 'They can on the shot’s own page; ask them.');
      if (Boolean(before?.shown) === shown) return;
      await this.database.run(
        'UPDATE showings SET shown_at = CASE WHEN $2 THEN now() END, shown_by = CASE WHEN $2 THEN $3::uuid END, words = $4 WHERE shot_id = $1',
        [id, shown, person.id, shown ? words : ''],
        transaction,
      );
      await this.record(id, person, shown ? 'shown' : 'not shown any more', transaction);
      if (shown) await this.outbox.tellShown(id, words, transaction);
    });
  }

  /** What is shown to the cohorts somebody belongs to, the newest first. */
  async list(person: Person): Promise<Showing[]> {
    const rows = await this.database.select<Omit<Showing, 'at'> & { at: Date }>(
      `SELECT w.shot_id AS shot, json_build_object('id', c.id, 'name', c.name) AS cohort, p.name AS student, b.title AS exercise, b.kind,
              (SELECT count(*)::int FROM revisions r WHERE r.shot_id = s.id AND r.state <> 'withdrawn') AS revisions,
              (SELECT r.id FROM revisions r WHERE r.shot_id = s.id AND r.state <> 'withdrawn' ORDER BY r.number DESC LIMIT 1) AS newest, w.shown_at AS at, w.words
         FROM showings w JOIN shots s ON s.id = w.shot_id JOIN assignments a ON a.id = s.assignment_id
         JOIN enrolments e ON e.cohort_id = a.cohort_id AND e.person_id = $1
         JOIN cohorts c ON c.id = a.cohort_id JOIN briefs b ON b.id = s.brief_id JOIN people p ON p.id = s.student_id
        WHERE w.shown_at IS NOT NULL ORDER BY w.shown_at DESC, w.shot_id LIMIT 200`,
      [person.id],
    );
    return rows.map(({ at, ...row }) => ({ ...row, at: at.toISOString() }));
  }

  /** Whether a shot may be and is shown; held, with the shot, until the transaction ends. */
  private async held(id: string, transaction: Transaction): Promise<{ consent: Date | null; shown: Date | null }[]> {
    await this.database.run('SELECT 1 FROM shots WHERE id = $1 FOR NO KEY UPDATE', [id], transaction);
    return this.database.select(
      'SELECT consent_at AS consent, shown_at AS shown FROM showings WHERE shot_id = $1',
      [id],
      transaction,
    );
  }

  private record(id: string, person: Person, what: string, transaction: Transaction): Promise<void> {
    return this.database.run(
      'INSERT INTO showing_events (shot_id, author_id, what) VALUES ($1, $2, $3)',
      [id, person.id, what],
      transaction,
    );
  }
}
