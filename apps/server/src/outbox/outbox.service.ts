import { Inject, Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import type { Message, Outbox } from '@ypsigraph/contract/outbox';
import type { Person } from '@ypsigraph/contract/people';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';
import { DUE, joinLater } from '../courses/due.sql.ts';
import { ProblemException } from '../http/problem.ts';

/** Messages of one page. */
const PAGE = 50;

interface Receiver {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly cohort: string;
  readonly title: string;
  readonly due: Date;
  readonly zone: string;
}

/** “Monday 23 November, 18:00”, by the clock of the cohort. */
const moment = (date: Date, timeZone: string): string =>
  new Intl.DateTimeFormat('en-GB', {
    timeZone,
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    hour: '2-digit',
    minute: '2-digit',
  }).format(date);

/**
 * Messages are written down with what they tell of, in the same transaction, exactly as they are sent. Where there is no mail server they are sent nowhere:
 * the outbox stands in for one.
 */
@Injectable()
export class OutboxService {
  constructor(
    private readonly database: Database,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  /** Tells every student of an exercise's cohort that it is set, or that its brief has changed. */
  async tellCohort(assignment: string, about: 'set' | 'brief changed', transaction: Transaction): Promise<void> {
    const receivers = await this.database.select<Receiver>(
      `SELECT p.id, p.name, p.email, c.id AS cohort, b.title, ${DUE} AS due, c.time_zone AS zone
         FROM assignments a JOIN briefs b ON b.id = a.brief_id JOIN cohorts c ON c.id = a.cohort_id
         JOIN enrolments e ON e.cohort_id = c.id AND e.role = 'student' JOIN people p ON p.id = e.person_id AND p.archived_at IS NULL
         ${joinLater('p.id')}
        WHERE a.id = $1 AND NOT EXISTS (SELECT 1 FROM shots s WHERE s.assignment_id = a.id AND s.student_id = p.id)`,
      [assignment],
      transaction,
    );
    for (const receiver of receivers) {
      const { title, due, zone } = receiver;
      const [subject, what] =
        about === 'set'
          ? [`${title} is set`, `${title} is set for you. It is due on ${moment(due, zone)}.`]
          : [
              `${title} has changed`,
              `The brief of ${title} has changed since you last read it. It is due on ${moment(due, zone)}.`,
            ];
      await this.put(
        receiver,
        about,
        subject,
        `${greeting(receiver.name)}\n\n${what}\n\nRead it on your worksheet.`,
        transaction,
      );
    }
  }

  /** Tells a student that their shot came back, or is signed off. */
  async tellJudged(
    revision: string,
    about: 'sent back' | 'signed off',
    transaction: Transaction,
    at = new Date(),
  ): Promise<void> {
    const [row] = await this.database.select<
      Receiver & {
        number: number;
        words: string | null;
        asked: string | null;
        askedBy: Date | null;
        marks: number;
        author: string;
      }
    >(
      `SELECT p.id, p.name, p.email, c.id AS cohort, b.title, a.due_at AS due, c.time_zone AS zone, r.number, r.words, r.asked,
              r.asked_by AS "askedBy",
              (SELECT count(*)::int FROM marks m JOIN revisions q ON q.id = m.revision_id
                WHERE q.shot_id = s.id AND m.archived_at IS NULL AND m.sent_at IS NOT NULL AND m.state = 'open') AS marks
         FROM revisions r JOIN shots s ON s.id = r.shot_id JOIN assignments a ON a.id = s.assignment_id
         JOIN briefs b ON b.id = s.brief_id JOIN cohorts c ON c.id = a.cohort_id JOIN people p ON p.id = s.student_id
        WHERE r.id = $1`,
      [revision],
      transaction,
    );
    if (!row) return;
    const { name, title, number, words, asked, askedBy, marks, zone } = row;
    const lines =
      about === 'signed off'
        ? [`${title}, revision ${number}, is signed off.`, words]
        : [
            `${title}, revision ${number}, came back with ${marks === 0 ? 'no open marks' : marks === 1 ? 'one open mark' : `${marks} open marks`}.`,
            words,
            asked && `Next: ${asked}${askedBy ? ` (by ${moment(askedBy, zone)})` : ''}`,
          ];
    const text = [greeting(name), ...lines.filter(Boolean)].join('\n\n');
    await this.put(row, about, `${title}: ${about}`, text, transaction, { at });
  }

  /** Tells a cohort that a shot is shown. */
  async tellShown(shot: string, words: string, transaction: Transaction): Promise<void> {
    const receivers = await this.database.select<Receiver & { student: string }>(
      `SELECT p.id, p.name, p.email, c.id AS cohort, b.title, a.due_at AS due, c.time_zone AS zone, o.name AS student
         FROM shots s JOIN assignments a ON a.id = s.assignment_id JOIN briefs b ON b.id = s.brief_id
         JOIN cohorts c ON c.id = a.cohort_id JOIN people o ON o.id = s.student_id
         JOIN enrolments e ON e.cohort_id = c.id AND e.role = 'student' JOIN people p ON p.id = e.person_id AND p.archived_at IS NULL
        WHERE s.id = $1`,
      [shot],
      transaction,
    );
    for (const receiver of receivers) {
      const { title, student, name, id } = receiver;
      const what = `${student}’s ${title} is shown to the cohort, from its first revision to its last.`;
      const text = [greeting(name), what, words].filter(Boolean).join('\n\n');
      await this.put({ ...receiver, id }, 'shown', `${title} is shown`, text, transaction);
    }
  }

  async invite(person: string, cohort: string, link: string, transaction: Transaction): Promise<void> {
    const [row] = await this.database.select<Omit<Receiver, 'title' | 'due'>>(
      `SELECT p.id, p.name, p.email, c.id AS cohort, c.time_zone AS zone FROM people p, cohorts c WHERE p.id = $1 AND c.id = $2`,
      [person, cohort],
      transaction,
    );
    const text = `${greeting(row!.name)}\n\nYou have a place in the course. Set your password here, within two weeks:`;
    await this.put(row!, 'invited', 'Your place in the course', text, transaction, { link });
  }

  /** Sends somebody the address at which they set another password. Nobody else reads it. */
  async tellForgotten(person: string, link: string, transaction: Transaction): Promise<void> {
    const [row] = await this.database.select<Pick<Receiver, 'id' | 'name' | 'email'>>(
      'SELECT id, name, email FROM people WHERE id = $1',
      [person],
      transaction,
    );
    const { id, name, email } = row!;
    const text = `${greeting(name)}\n\nSomebody, you we hope, has asked for another password for you. Set it here, within an hour; if it was not you, leave it:`;
    await this.put({ id, email, cohort: null }, 'password forgotten', 'Another password', text, transaction, { link });
  }

  /**
   * What was sent, or would have been, the newest first: to people of the cohorts somebody teaches. The address of an invitation opens an account: only an
   * instructor sees it.
   */
  async page(person: Person, after: string | undefined): Promise<Outbox> {
    if (after !== undefined && !/^\d{1,18}$/.test(after))
      throw new ProblemException(400, 'invalid', 'This is no place in the outbox.', undefined, [
        { field: 'after', message: 'what the page before gave as next' },
      ]);
    const rows = await this.database.select<Omit<Message, 'at'> & { at: Date }>(
      `SELECT o.id::text, o.about, o.subject, o.text, CASE WHEN $3 THEN o.link END AS link, o.at,
              CASE WHEN o.sent_at IS NOT NULL THEN 'sent' WHEN o.given_up IS NOT NULL THEN 'given up' WHEN o.due_at IS NOT NULL THEN 'waits' ELSE 'kept' END AS state,
              o.given_up AS why, json_build_object('id', p.id, 'name', p.name, 'email', o.address) AS to
         FROM outbox o JOIN people p ON p.id = o.person_id
        WHERE o.cohort_id IN (SELECT e.cohort_id FROM enrolments e WHERE e.person_id = $1 AND e.role <> 'student')
          AND ($2::bigint IS NULL OR o.id < $2::bigint)
        ORDER BY o.id DESC LIMIT ${PAGE + 1}`,
      [person.id, after ?? null, person.role === 'instructor'],
    );
    const messages = rows.slice(0, PAGE).map(({ at, ...row }) => ({ ...row, at: at.toISOString() }));
    const mail = this.configuration.SMTP_URL !== undefined;
    return { messages, next: rows.length > PAGE ? messages.at(-1)!.id : null, mail };
  }

  private put(
    { id, email, cohort }: Pick<Receiver, 'id' | 'email'> & { readonly cohort: string | null },
    about: Message['about'],
    subject: string,
    text: string,
    transaction: Transaction,
    { at = new Date(), link = null }: { at?: Date; link?: string | null } = {},
  ): Promise<void> {
    return this.database.run(
      `INSERT INTO outbox (person_id, address, cohort_id, about, subject, text, at, link, due_at)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, CASE WHEN $9 THEN now() END)`,
      [id, email, cohort, about, subject, text, at, link, this.configuration.SMTP_URL !== undefined],
      transaction,
    );
  }
}

const greeting = (name: string): string => `Dear ${name},`;
