import { createHash, randomBytes } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import ical, { ICalCalendarMethod } from 'ical-generator';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import { notFound } from '../http/problem.ts';
import { DUE, joinLater, STAGE_DUE } from './due.sql.ts';

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

interface DueDate {
  readonly id: string;
  readonly title: string;
  readonly cohort: string;
  readonly stage: string | null;
  readonly due: Date;
  readonly text: string;
}

/** Dates as a calendar (iCalendar, RFC 5545) that other programs subscribe to, at an address nobody can guess. */
@Injectable()
export class CalendarService {
  constructor(private readonly database: Database) {}

  /**
   * A new secret address; the one before it leads nowhere from now on.
   * @returns the secret the address ends with; only its hash is kept
   */
  async renew({ id }: Person): Promise<string> {
    const key = randomBytes(24).toString('base64url');
    await this.database.run(
      `INSERT INTO calendar_keys (person_id, key_sha256) VALUES ($1, $2)
       ON CONFLICT (person_id) DO UPDATE SET key_sha256 = excluded.key_sha256, at = now()`,
      [id, sha256(key)],
    );
    return key;
  }

  async drop({ id }: Person): Promise<void> {
    await this.database.run('DELETE FROM calendar_keys WHERE person_id = $1', [id]);
  }

  /**
   * The calendar behind a secret: every date of the exercises of its owner's cohorts; a student's own dates. Times are written in UTC, so that every
   * calendar shows them right on both sides of a change of the clocks.
   * @throws ProblemException where nobody has that secret
   */
  async calendar(key: string, address: string): Promise<string> {
    const [owner] = await this.database.select<{ id: string; student: boolean }>(
      `SELECT p.id, p.role = 'student' AS student FROM calendar_keys k JOIN people p ON p.id = k.person_id AND p.archived_at IS NULL
        WHERE k.key_sha256 = $1`,
      [sha256(key)],
    );
    if (!owner) throw notFound('calendar');
    const dates = await this.database.select<DueDate>(
      `SELECT a.id, b.title, c.name AS cohort, NULL AS stage, ${DUE} AS due, b.text
         FROM enrolments e JOIN assignments a ON a.cohort_id = e.cohort_id AND a.closed_at IS NULL
         JOIN briefs b ON b.id = a.brief_id JOIN cohorts c ON c.id = a.cohort_id ${joinLater('e.person_id')}
        WHERE e.person_id = $1
       UNION ALL
       SELECT a.id, b.title, c.name, sd.stage, ${STAGE_DUE}, b.text
         FROM enrolments e JOIN assignments a ON a.cohort_id = e.cohort_id AND a.closed_at IS NULL
         JOIN stage_dates sd ON sd.assignment_id = a.id
         JOIN briefs b ON b.id = a.brief_id JOIN cohorts c ON c.id = a.cohort_id ${joinLater('e.person_id')}
        WHERE e.person_id = $1
        ORDER BY due`,
      [owner.id],
    );
    const calendar = ical({
      name: 'Exercises',
      prodId: { company: 'Ypsigraph', product: 'Exercises', language: 'EN' },
      method: ICalCalendarMethod.PUBLISH,
      ttl: 60 * 60,
    });
    const stamp = new Date();
    for (const { id, title, cohort, stage, due, text } of dates)
      calendar.createEvent({
        id: `${id}${stage ? `-${stage}` : ''}@ypsigraph`,
        // A moment: an event without an end ends when it begins, and an end that is not later is against the standard (RFC 5545, 3.6.1 and 3.8.2.2).
        start: due,
        stamp,
        summary: `${title}: ${stage ?? 'due'}${owner.student ? '' : ` (${cohort})`}`,
        description: text,
        url: owner.student ? `${address}/exercise/${id}` : `${address}/ledger`,
      });
    return calendar.toString();
  }
}
