import pg from 'pg';
import { type Configuration, directUrl } from '../config.ts';
import { NO_LIMITS } from '../database/limits.ts';
import { AdminError } from './school.ts';

/** What is said of a revision whose readings were removed; reading it again brings them back. */
const REMOVED = 'its readings were removed when its term was over; read it again to have them back';

/** Shots whose exercise was due before a day ($1), and that wait for nobody. */
const OVER = `SELECT s.id FROM shots s JOIN assignments a ON a.id = s.assignment_id
  WHERE a.due_at < $1::date AND NOT EXISTS (SELECT 1 FROM revisions r WHERE r.shot_id = s.id AND r.state IN ('handed in', 'on the desk'))`;

/** Statements, each with what it removes. What counts for folio and tally (verdicts, findings, states, grades) stays, and so do files, marks and words. */
const STEPS: readonly { readonly what: string; readonly sql: string; readonly ofTerm: boolean }[] = [
  {
    what: 'readings by earlier versions of the core',
    ofTerm: false,
    sql: `DELETE FROM readings d USING readings n WHERE n.revision_id = d.revision_id AND n.made_at > d.made_at AND n.core_version <> d.core_version`,
  },
  {
    what: 'readings of revisions that another followed',
    ofTerm: true,
    sql: `WITH old AS (
        SELECT r.id FROM revisions r WHERE r.shot_id IN (${OVER}) AND r.reading_state = 'read'
           AND EXISTS (SELECT 1 FROM revisions n WHERE n.shot_id = r.shot_id AND n.number > r.number AND n.state <> 'withdrawn')
      ), said AS (
        UPDATE revisions SET reading_state = 'failed', reading_reason = '${REMOVED}' WHERE id IN (SELECT id FROM old)
      ) DELETE FROM readings WHERE revision_id IN (SELECT id FROM old)`,
  },
  {
    what: 'alignments of revisions',
    ofTerm: true,
    sql: `DELETE FROM alignments WHERE to_revision IN (SELECT r.id FROM revisions r WHERE r.shot_id IN (${OVER}))`,
  },
  {
    what: 'what marks were before they were changed',
    ofTerm: true,
    sql: `DELETE FROM mark_events WHERE what <> 'made' AND mark_id IN
      (SELECT m.id FROM marks m JOIN revisions r ON r.id = m.revision_id WHERE r.shot_id IN (${OVER}))`,
  },
  { what: 'messages', ofTerm: true, sql: `DELETE FROM outbox WHERE at < $1::date` },
];

/**
 * Removes what nobody looks at once a term is over, while the server runs, a kind at a time.
 * @param before a day, as 2027-02-01: exercises that were due before it are over
 * @returns what was removed, a line each
 * @throws AdminError where it is no day, or lies ahead
 */
export async function prune(configuration: Configuration, before: string): Promise<string> {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(before) || Number.isNaN(Date.parse(before)))
    throw new AdminError('prune needs the first day that is kept, as 2027-02-01', true);
  if (Date.parse(before) > Date.now()) throw new AdminError(`${before} lies ahead: nothing of it is over`, true);
  const client = new pg.Client({ connectionString: directUrl(configuration), ...NO_LIMITS });
  await client.connect();
  try {
    const lines: string[] = [];
    for (const { what, sql, ofTerm } of STEPS) {
      const { rowCount } = await client.query(sql, ofTerm ? [before] : []);
      lines.push(`${rowCount ?? 0} ${what}`);
    }
    return lines.join('\n');
  } finally {
    await client.end();
  }
}
