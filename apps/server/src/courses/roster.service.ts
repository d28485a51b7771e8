import { Injectable } from '@nestjs/common';
import { CsvError, parse } from 'csv-parse/sync';
import { z } from 'zod';
import type { Roster, RosterAnswer } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { plain } from '@ypsigraph/contract/vocabulary';
import { NO_PASSWORD } from '../people/no-password.ts';
import { Database } from '../database/database.module.ts';
import { ProblemException } from '../http/problem.ts';
import { OutboxService } from '../outbox/outbox.service.ts';
import { SessionService } from '../people/session.service.ts';
import { CoursePolicy } from './course.policy.ts';

type RosterRow = RosterAnswer['rows'][number];

/** Students that one list may have. */
const MOST_ROWS = 500;

const Row = z.object({
  name: plain(120).trim().min(1, 'there is no name'),
  email: z.string().trim().pipe(z.email('this is no e-mail address').max(200)),
});

/** Students by a list. */
@Injectable()
export class RosterService {
  constructor(
    private readonly database: Database,
    private readonly policy: CoursePolicy,
    private readonly sessions: SessionService,
    private readonly outbox: OutboxService,
  ) {}

  /**
   * Looks at a list, and takes it over when that is asked and every row is right: all of it or nothing.
   * @param address where this server is reached, for the invitations
   * @throws ProblemException where the text is no table with the columns name and email
   */
  async take(person: Person, cohortId: string, { csv, apply }: Roster, address: string): Promise<RosterAnswer> {
    await this.policy.mustBelong(person, cohortId);
    const given = readRoster(csv);
    return this.database.transaction(async (transaction) => {
      // Two who take lists over at once do it one after the other.
      if (apply) await this.database.run('SELECT 1 FROM cohorts WHERE id = $1 FOR UPDATE', [cohortId], transaction);
      const known = await this.database.select<{
        id: string;
        email: string;
        name: string;
        role: string;
        left: boolean;
        enrolled: boolean;
      }>(
        `SELECT p.id, lower(p.email) AS email, p.name, p.role, p.archived_at IS NOT NULL AS left, e.person_id IS NOT NULL AS enrolled
           FROM people p LEFT JOIN enrolments e ON e.person_id = p.id AND e.cohort_id = $1 WHERE lower(p.email) = ANY ($2::text[])`,
        [cohortId, given.map(({ email }) => email.toLowerCase())],
        transaction,
      );
      const people = new Map(known.map((own) => [own.email, own]));
      const rows = given.map((row, k): RosterRow => {
        const email = row.email.toLowerCase();
        const before = given.findIndex((other) => other.email.toLowerCase() === email);
        const own = people.get(email);
        if (row.why !== null) return { ...row, outcome: 'wrong' };
        if (before < k) return { ...row, outcome: 'wrong', why: `the same address as in line ${given[before]!.line}` };
        if (!own) return { ...row, outcome: 'new' };
        if (own.role !== 'student') return { ...row, outcome: 'wrong', why: `${own.name} is ${own.role} here` };
        if (own.left) return { ...row, outcome: 'wrong', why: `${own.name} has left the school` };
        return own.enrolled ? { ...row, outcome: 'already' } : { ...row, outcome: 'known' };
      });
      if (!apply || rows.some(({ outcome }) => outcome === 'wrong')) return { rows, applied: false };
      for (const { name, email, outcome } of rows) {
        if (outcome === 'already') continue;
        const id = people.get(email.toLowerCase())?.id ?? (await this.addStudent(name, email, transaction));
        await this.database.run(
          `INSERT INTO enrolments (person_id, cohort_id, role) VALUES ($1, $2, 'student')`,
          [id, cohortId],
          transaction,
        );
        if (outcome === 'new') {
          const link = `${address}/invitation/${await this.sessions.invite(id, transaction)}`;
          await this.outbox.invite(id, cohortId, link, transaction);
        }
      }
      return { rows, applied: true };
    });
  }

  private async addStudent(name: string, email: string, transaction: Parameters<Database['run']>[2]): Promise<string> {
    const [made] = await this.database.select<{ id: string }>(
      `INSERT INTO people (name, email, role, password_hash) VALUES ($1, $2, 'student', $3) RETURNING id`,
      [name, email, NO_PASSWORD],
      transaction,
    );
    return made!.id;
  }
}

/** Rows of a list with the columns name and email, in any order and with others beside them; comma, semicolon or tab between them. */
export function readRoster(csv: string): Omit<RosterRow, 'outcome'>[] {
  const refused = (title: string, detail: string): ProblemException =>
    new ProblemException(400, 'invalid', title, detail);
  let records: readonly { readonly record: string[]; readonly info: { readonly lines: number } }[];
  try {
    const parsed: unknown = parse(csv, {
      bom: true,
      delimiter: separatorOf(csv),
      trim: true,
      relax_column_count: true,
      skip_empty_lines: true,
      info: true,
    });
    records = parsed as typeof records;
  } catch (error) {
    if (error instanceof CsvError) throw refused('This is no table.', `${error.message}.`);
    throw error;
  }
  const [head, ...rest] = records;
  const titles = (head?.record ?? []).map((title) => title.toLowerCase());
  const [name, email] = [titles.indexOf('name'), titles.findIndex((title) => /^e-?mail( address)?$/.test(title))];
  if (name < 0 || email < 0)
    throw refused('The first line must name the columns.', 'There must be a column “name” and a column “email”.');
  if (rest.length === 0)
    throw refused('There is nobody in this list.', 'Each student has a line of their own below the first.');
  if (rest.length > MOST_ROWS)
    throw refused(`There are ${rest.length} lines.`, `At most ${MOST_ROWS} are taken at once.`);
  return rest.map(({ record, info }) => {
    const row = { name: record[name] ?? '', email: record[email] ?? '' };
    const parsed = Row.safeParse(row);
    return { line: info.lines, ...row, ...parsed.data, why: parsed.error?.issues[0]?.message ?? null };
  });
}

/** What stands between the columns: what the first line has most of. */
function separatorOf(csv: string): string {
  const [first = ''] = csv.split('\n', 1);
  const count = (sign: string): number => first.split(sign).length;
  return [',', ';', '\t'].reduce((best, sign) => (count(sign) > count(best) ? sign : best));
}
