import { Inject, Injectable, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import { AuditService } from '../audit/audit.service.ts';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Hourly } from '../hourly.ts';
import { Database } from '../database/database.module.ts';
import { FILE_DELETED } from '../revisions/kept-file.ts';

/** What stands in place of a name, and in place of words. */
const NOBODY = 'A former student';
const DELETED = 'deleted';

const SHOTS = 'SELECT id FROM shots WHERE student_id = $1';
const REVISIONS = `SELECT id FROM revisions WHERE shot_id IN (${SHOTS})`;
const MARKS = `SELECT id FROM marks WHERE revision_id IN (${REVISIONS})`;

/**
 * What is deleted of a student ($1), in this order: how they sign in; what they handed in and what was made of it; what they wrote, and what was
 * written to them; their name. Who did what to which mark, verdicts, findings, states, dates and grades' points stay: they are what is counted.
 */
const STEPS: readonly string[] = [
  `DELETE FROM sessions WHERE sess ->> 'personId' = $1::text`,
  ...['identities', 'second_factors', 'passkeys', 'passkey_challenges', 'invitations', 'calendar_keys', 'phrases'].map(
    (table) => `DELETE FROM ${table} WHERE person_id = $1`,
  ),
  'DELETE FROM outbox WHERE person_id = $1',
  `DELETE FROM clips_beside WHERE revision_id IN (${REVISIONS})`,
  `DELETE FROM readings WHERE revision_id IN (${REVISIONS})`,
  `DELETE FROM tracks WHERE revision_id IN (${REVISIONS})`,
  `DELETE FROM alignments WHERE to_revision IN (${REVISIONS}) OR from_revision IN (${REVISIONS})`,
  `DELETE FROM showings WHERE shot_id IN (${SHOTS})`,
  `UPDATE revisions SET file_sha256 = NULL, file_name = '${DELETED}', note = '', words = NULL, asked = NULL, roles = '{}', poses = NULL, upload = NULL,
          animation = NULL, figure = NULL, reading_state = 'failed', reading_reason = '${FILE_DELETED}'
    WHERE shot_id IN (${SHOTS})`,
  `UPDATE revision_events SET data = '{}' WHERE revision_id IN (${REVISIONS})`,
  `DELETE FROM mark_events WHERE what <> 'made' AND mark_id IN (${MARKS})`,
  `UPDATE mark_events SET data = '{}' WHERE mark_id IN (${MARKS})`,
  `DELETE FROM replies WHERE author_id = $1 OR mark_id IN (${MARKS})`,
  `UPDATE marks SET words = '${DELETED}', lines = '[]', cure = NULL WHERE revision_id IN (${REVISIONS})`,
  `UPDATE dismissals SET reason = '' WHERE shot_id IN (${SHOTS})`,
  `UPDATE grades SET words = '' WHERE shot_id IN (${SHOTS})`,
  `UPDATE grade_events SET words = '' WHERE shot_id IN (${SHOTS})`,
  `UPDATE later_dates SET why = '' WHERE person_id = $1`,
  `UPDATE audit SET who = CASE WHEN person_id = $1 THEN '${NOBODY}' ELSE who END,
          about = replace(replace(about, p.email, '${NOBODY}'), p.name, '${NOBODY}')
     FROM people p WHERE p.id = $1 AND (audit.person_id = $1 OR strpos(about, p.name) > 0 OR strpos(about, p.email) > 0)`,
  `UPDATE people SET name = '${NOBODY}', email = 'forgotten-' || id || '@nobody.invalid', password_hash = '', forgotten_at = now() WHERE id = $1`,
];

/** Deletes the files and words of students who have left, leaving what is counted. */
@Injectable()
export class ForgettingService implements OnApplicationBootstrap, OnModuleDestroy {
  private hourly: Hourly | undefined;

  constructor(
    private readonly database: Database,
    private readonly audit: AuditService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  onApplicationBootstrap(): void {
    if (this.configuration.FORGET_DAYS === undefined) return;
    this.hourly = new Hourly(ForgettingService.name, 'who has left could not be forgotten', () =>
      this.forgetThoseWhoLeft(),
    );
  }

  onModuleDestroy(): void {
    this.hourly?.end();
  }

  /** Forgets students who were taken out as long ago as the school says. @returns how many */
  async forgetThoseWhoLeft(): Promise<number> {
    const due = await this.database.select<{ id: string }>(
      `SELECT id FROM people WHERE role = 'student' AND forgotten_at IS NULL AND archived_at < now() - make_interval(days => $1)`,
      [this.configuration.FORGET_DAYS ?? 0],
    );
    let many = 0;
    for (const { id } of due) if (await this.forget(id)) many++;
    return many;
  }

  /**
   * Deletes a student's files and words; the files themselves go with the next sweep, where nobody else has handed the same in.
   * @returns whether there was anything to forget: nobody is forgotten twice, and only who has been taken out
   */
  async forget(person: string): Promise<boolean> {
    const done = await this.database.transaction(async (transaction) => {
      const [own] = await this.database.select(
        `SELECT 1 FROM people WHERE id = $1 AND role = 'student' AND archived_at IS NOT NULL AND forgotten_at IS NULL FOR UPDATE`,
        [person],
        transaction,
      );
      if (!own) return false;
      for (const step of STEPS) await this.database.run(step, [person], transaction);
      return true;
    });
    if (done) await this.audit.note({ kind: 'deletion', did: 'deleted the files and words of', about: NOBODY });
    return done;
  }
}
