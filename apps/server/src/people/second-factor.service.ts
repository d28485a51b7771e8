import { createCipheriv, createDecipheriv, createHash, hkdfSync, randomBytes, randomInt } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import { generateSecret, generateURI, verify } from 'otplib';
import type { Transaction } from 'sequelize';
import type { NewFactor, Person, SecondFactor } from '@ypsigraph/contract/people';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';
import { conflict, ProblemException } from '../http/problem.ts';

/** A code holds for half a minute; one of a clock that is half a minute off is taken as well (IETF RFC 6238, 5.2). */
const TOLERANCE_SECONDS = 30;
const RECOVERY_CODES = 10;
/** Letters and digits that nobody takes for one another. */
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';
const RECOVERY_LENGTH = 10;

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');
/** A code as it is compared: however somebody writes it. */
const plain = (code: string): string => code.toLowerCase().replace(/[^a-z0-9]/g, '');

/**
 * A second factor: codes that a telephone makes of a shared secret and the time (IETF RFC 6238, *TOTP: Time-Based One-Time Password Algorithm*), and
 * recovery codes for the day the telephone is lost. Each code is taken once.
 */
@Injectable()
export class SecondFactorService {
  private readonly key: Buffer;

  constructor(
    private readonly database: Database,
    @Inject(CONFIGURATION) { SESSION_SECRET }: Configuration,
  ) {
    this.key = Buffer.from(hkdfSync('sha256', SESSION_SECRET, '', 'second factors', 32));
  }

  async of({ id }: Pick<Person, 'id'>): Promise<SecondFactor> {
    const [row] = await this.database.select<{ since: Date; left: number }>(
      `SELECT f.since, (SELECT count(*)::int FROM recovery_codes c WHERE c.person_id = f.person_id AND c.used_at IS NULL) AS left
         FROM second_factors f WHERE f.person_id = $1 AND f.since IS NOT NULL`,
      [id],
    );
    return row ? { since: row.since.toISOString(), recoveryCodes: row.left } : { since: null, recoveryCodes: 0 };
  }

  /** A secret to be shared with a telephone: it counts once a code has been made of it. @throws ProblemException where one counts already */
  async begin({ id }: Person): Promise<NewFactor> {
    const secret = generateSecret({ length: 20 });
    const rows = await this.database.select(
      `INSERT INTO second_factors (person_id, secret) VALUES ($1, $2)
       ON CONFLICT (person_id) DO UPDATE SET secret = excluded.secret, last_step = 0 WHERE second_factors.since IS NULL RETURNING 1`,
      [id, this.locked(secret)],
    );
    if (rows.length === 0) throw conflict('There is a second factor already.', 'Switch it off first.');
    const [person] = await this.database.select<{ email: string }>('SELECT email FROM people WHERE id = $1', [id]);
    return { secret, address: generateURI({ secret, label: person!.email, issuer: 'Ypsigraph' }) };
  }

  /** From now on it is asked for. @returns recovery codes, which are told this once */
  confirm({ id }: Person, code: string): Promise<{ recoveryCodes: string[] }> {
    return this.database.transaction(async (transaction) => {
      const step = await this.stepOf(id, code, transaction, false);
      if (step === undefined) throw wrongCode();
      await this.database.run(
        'UPDATE second_factors SET since = now(), last_step = $2 WHERE person_id = $1 AND since IS NULL',
        [id, step],
        transaction,
      );
      return { recoveryCodes: await this.newCodes(id, transaction) };
    });
  }

  /** Other recovery codes in place of those that are left. @throws ProblemException where the code is not right */
  async codesAnew({ id }: Person, code: string): Promise<{ recoveryCodes: string[] }> {
    await this.takes(id, code);
    return this.database.transaction(async (transaction) => ({ recoveryCodes: await this.newCodes(id, transaction) }));
  }

  /** It is asked for no more. @throws ProblemException where the code is not right */
  async drop({ id }: Person, code: string): Promise<void> {
    await this.takes(id, code);
    await this.database.run('DELETE FROM second_factors WHERE person_id = $1', [id]);
  }

  /** Whether somebody is asked for a code when they sign in. */
  async isAsked(personId: string): Promise<boolean> {
    const rows = await this.database.select('SELECT 1 FROM second_factors WHERE person_id = $1 AND since IS NOT NULL', [
      personId,
    ]);
    return rows.length > 0;
  }

  /** Takes a code, of the telephone or for recovery, once. @throws ProblemException where it is not right, or was taken already */
  async takes(personId: string, code: string): Promise<void> {
    const isTaken = await this.database.transaction(async (transaction) => {
      const step = await this.stepOf(personId, code, transaction, true);
      if (step !== undefined) {
        await this.database.run(
          'UPDATE second_factors SET last_step = $2 WHERE person_id = $1',
          [personId, step],
          transaction,
        );
        return true;
      }
      const used = await this.database.select(
        'UPDATE recovery_codes SET used_at = now() WHERE person_id = $1 AND code_sha256 = $2 AND used_at IS NULL RETURNING 1',
        [personId, sha256(plain(code))],
        transaction,
      );
      return used.length > 0;
    });
    if (!isTaken) throw wrongCode();
  }

  /** The half minute that a telephone's code is of; undefined where it is of none, or of one that was taken already. */
  private async stepOf(
    personId: string,
    code: string,
    transaction: Transaction,
    counts: boolean,
  ): Promise<number | undefined> {
    const token = code.replace(/\s/g, '');
    if (!/^\d{6}$/.test(token)) return undefined;
    const [row] = await this.database.select<{ secret: string; last: string }>(
      `SELECT secret, last_step::text AS last FROM second_factors
        WHERE person_id = $1 AND (since IS NOT NULL) = $2 FOR UPDATE`,
      [personId, counts],
      transaction,
    );
    if (!row) return undefined;
    const found = await verify({ secret: this.unlocked(row.secret), token, epochTolerance: TOLERANCE_SECONDS });
    return found.valid && 'timeStep' in found && found.timeStep > Number(row.last) ? found.timeStep : undefined;
  }

  private async newCodes(personId: string, transaction: Transaction): Promise<string[]> {
    const codes = Array.from({ length: RECOVERY_CODES }, () =>
      Array.from({ length: RECOVERY_LENGTH }, () => LETTERS[randomInt(LETTERS.length)]!).join(''),
    );
    await this.database.run('DELETE FROM recovery_codes WHERE person_id = $1', [personId], transaction);
    await this.database.run(
      'INSERT INTO recovery_codes (person_id, code_sha256) SELECT $1, unnest($2::text[])',
      [personId, codes.map(sha256)],
      transaction,
    );
    return codes.map((code) => `${code.slice(0, 5)}-${code.slice(5)}`);
  }

  /** A secret as it is stored (AES-256-GCM): a copy of the database alone opens nothing. */
  private locked(secret: string): string {
    const start = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', this.key, start);
    const bytes = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
    return [start, cipher.getAuthTag(), bytes].map((part) => part.toString('base64url')).join('.');
  }

  private unlocked(stored: string): string {
    const [start, tag, bytes] = stored.split('.').map((part) => Buffer.from(part, 'base64url'));
    const cipher = createDecipheriv('aes-256-gcm', this.key, start!).setAuthTag(tag!);
    return Buffer.concat([cipher.update(bytes!), cipher.final()]).toString('utf8');
  }
}

const wrongCode = (): ProblemException =>
  new ProblemException(422, 'wrong-code', 'This code is not right, or was used already.', undefined, [
    { field: 'code', message: 'not right, or used already' },
  ]);
