import { createHash, randomBytes } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import { hash, verify } from 'argon2';
import type { Request } from 'express';
import type { Invitation, OwnSession, PasswordChange, Person, Session } from '@ypsigraph/contract/people';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';
import { notFound, ProblemException } from '../http/problem.ts';
import { ChangeFeed } from '../news/change-feed.ts';
import { OutboxService } from '../outbox/outbox.service.ts';

declare module 'express-session' {
  interface SessionData {
    personId: string;
    began: string;
    browser: string;
  }
}

/** Failed sign-ins within a quarter of an hour after which nobody is let try any more. */
const MOST_FAILURES = Object.freeze({
  /** Of one account from one address: somebody who guesses. */
  both: 5,
  /** From one address, of all accounts: a class behind one address mistypes less often. */
  address: 60,
  /** Of one account, from all addresses. */
  account: 40,
});
const INVITATION_HOURS = 14 * 24;
/** The same of an address that is sent to whoever has forgotten a password. */
const FORGOTTEN_HOURS = 1;
/** Addresses that are asked for within a quarter of an hour: for one account, and from one network address. */
const MOST_FORGOTTEN = Object.freeze({ account: 3, address: 30 });

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

interface Account extends Person {
  readonly passwordHash: string;
  readonly archived: boolean;
}

/** Signing in and out, passwords, and invitations. */
@Injectable()
export class SessionService {
  /** Checked when nobody has the address, so that an unknown one takes as long to refuse as a wrong password. */
  private readonly nobody = hash('nobody has this password');

  constructor(
    private readonly database: Database,
    private readonly news: ChangeFeed,
    private readonly outbox: OutboxService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  /** What a page is told of who is signed in. */
  told(person: Person | null): Session {
    const { DEMO: demo, SMTP_URL, OIDC_ISSUER, OIDC_NAME } = this.configuration;
    return { person, demo, mail: SMTP_URL !== undefined, provider: OIDC_ISSUER ? OIDC_NAME : null };
  }

  /**
   * The person with this e-mail address and password.
   * @param from the network address that asks: tries that fail are counted by it and by the account, for all servers together
   */
  async check(email: string, password: string, from: string): Promise<Person> {
    const account = email.toLowerCase();
    const tried = await this.countTry(account, from);
    const [person] = await this.database.select<Account>(
      `SELECT id, name, role, password_hash AS "passwordHash", archived_at IS NOT NULL AS archived
         FROM people WHERE lower(email) = $1`,
      [account],
    );
    const right = await this.fits(person?.passwordHash ?? (await this.nobody), password);
    if (!person || !right || person.archived)
      throw new ProblemException(401, 'wrong-password', 'The address or the password is not right.');
    await this.database.run('DELETE FROM failed_sign_ins WHERE id = $1', [tried]);
    return { id: person.id, name: person.name, role: person.role };
  }

  /** Does what somebody guesses at may be tried with: what fails is counted as a sign-in that fails is. */
  async counted<T>(account: string, from: string, work: () => Promise<T>): Promise<T> {
    const tried = await this.countTry(account, from);
    const done = await work();
    await this.database.run('DELETE FROM failed_sign_ins WHERE id = $1', [tried]);
    return done;
  }

  /** Writes a try down before it is made, so that many at once are counted as well; one that succeeds is struck out. */
  private async countTry(account: string, address: string): Promise<string> {
    const [tried] = await this.database.select<{ id: string }>(
      'INSERT INTO failed_sign_ins (account, address) VALUES ($1, $2) RETURNING id',
      [account, address],
    );
    const [failed] = await this.database.select<{ both: number; account: number; address: number }>(
      `SELECT count(*) FILTER (WHERE account = $1 AND address = $2)::int AS both,
              count(*) FILTER (WHERE account = $1)::int AS account, count(*) FILTER (WHERE address = $2)::int AS address
         FROM failed_sign_ins WHERE (account = $1 OR address = $2) AND account NOT LIKE 'forgotten: %' AND at > now() - interval '15 minutes'`,
      [account, address],
    );
    const { both, account: ofAccount, address: ofAddress } = failed!;
    if (both > MOST_FAILURES.both || ofAccount > MOST_FAILURES.account || ofAddress > MOST_FAILURES.address)
      throw new ProblemException(429, 'too-often', 'Too many tries.', 'Wait a quarter of an hour.');
    return tried!.id;
  }

  /** Starts a session with a new id, so that one planted before signing in is worth nothing. */
  async begin(request: Request, personId: string): Promise<void> {
    await promised((done) => request.session.regenerate(done));
    Object.assign(request.session, {
      personId,
      began: new Date().toISOString(),
      browser: String(request.headers['user-agent'] ?? '').slice(0, 200),
    });
    await promised((done) => request.session.save(done));
  }

  async end(request: Request): Promise<void> {
    const id = sha256(request.sessionID);
    await promised((done) => request.session.destroy(done));
    await this.news.tellEnded([id]);
  }

  /** Where someone is signed in, the newest first. What is shown of a session is not what opens it. */
  async sessionsOf(person: Person, request: Request): Promise<OwnSession[]> {
    const rows = await this.database.select<{ sid: string; began: string | null; browser: string | null }>(
      `SELECT sid, sess ->> 'began' AS began, sess ->> 'browser' AS browser FROM sessions
        WHERE sess ->> 'personId' = $1 AND expire > now() ORDER BY sess ->> 'began' DESC`,
      [person.id],
    );
    return rows.map(({ sid, began, browser }) => ({
      id: sha256(sid),
      began: began ?? new Date(0).toISOString(),
      browser: browser ?? '',
      own: sid === request.sessionID,
    }));
  }

  /** Ends one of someone's sessions, or all but the one that asks. */
  async endOthers(person: Person, request: Request, id?: string): Promise<void> {
    const ended = await this.database.select<{ sid: string }>(
      `DELETE FROM sessions WHERE sess ->> 'personId' = $1
          AND CASE WHEN $2::text IS NULL THEN sid <> $3 ELSE encode(sha256(convert_to(sid, 'UTF8')), 'hex') = $2 END
        RETURNING sid`,
      [person.id, id ?? null, request.sessionID],
    );
    if (id !== undefined && ended.length === 0) throw notFound('session');
    await this.news.tellEnded(ended.map(({ sid }) => sha256(sid)));
  }

  /** Whether the session of a stream that stays open has not been ended meanwhile. */
  async lives(sessionId: string): Promise<boolean> {
    const found = await this.database.select('SELECT 1 FROM sessions WHERE sid = $1 AND expire > now()', [sessionId]);
    return found.length > 0;
  }

  async changePassword(person: Person, request: Request, { old, password }: PasswordChange): Promise<void> {
    const [row] = await this.database.select<{ email: string }>('SELECT email FROM people WHERE id = $1', [person.id]);
    try {
      await this.check(row!.email, old, request.ip ?? '');
    } catch (error) {
      if (!(error instanceof ProblemException) || error.type !== 'wrong-password') throw error;
      throw new ProblemException(422, 'wrong-password', 'The password you gave is not the one you have.', undefined, [
        { field: 'old', message: 'not the password you have' },
      ]);
    }
    const passwordHash = await hash(password);
    await this.database.transaction((transaction) => this.setPassword(person.id, passwordHash, transaction));
    await this.endOthers(person, request);
  }

  /**
   * An invitation for someone who is there and has no password of their own yet, or has forgotten it.
   * @returns the secret the invitation's address ends with; only its hash is kept
   */
  async invite(personId: string, transaction?: Transaction, hours = INVITATION_HOURS): Promise<string> {
    const token = randomBytes(24).toString('base64url');
    await this.database.run(
      `INSERT INTO invitations (token_sha256, person_id, expires_at) VALUES ($1, $2, now() + make_interval(hours => $3))`,
      [sha256(token), personId, hours],
      transaction,
    );
    return token;
  }

  /**
   * Sends whoever has an e-mail address the one at which they set another password; nobody where nobody has it.
   *
   * @param from the network address that asks
   * @param addressOf where a secret leads
   * @throws ProblemException where it is asked for too often
   */
  async forgot(email: string, from: string, addressOf: (token: string) => string): Promise<void> {
    const account = `forgotten: ${email.toLowerCase()}`;
    await this.database.run('INSERT INTO failed_sign_ins (account, address) VALUES ($1, $2)', [account, from]);
    const [asked] = await this.database.select<{ account: number; address: number }>(
      `SELECT count(*) FILTER (WHERE account = $1)::int AS account, count(*) FILTER (WHERE address = $2)::int AS address
         FROM failed_sign_ins WHERE account LIKE 'forgotten: %' AND at > now() - interval '15 minutes'`,
      [account, from],
    );
    if (asked!.account > MOST_FORGOTTEN.account || asked!.address > MOST_FORGOTTEN.address)
      throw new ProblemException(429, 'too-often', 'Too many tries.', 'Wait a quarter of an hour.');
    await this.database.transaction(async (transaction) => {
      const [person] = await this.database.select<{ id: string }>(
        'SELECT id FROM people WHERE lower(email) = $1 AND archived_at IS NULL',
        [email.toLowerCase()],
        transaction,
      );
      if (!person) return;
      const token = await this.invite(person.id, transaction, FORGOTTEN_HOURS);
      await this.outbox.tellForgotten(person.id, addressOf(token), transaction);
    });
  }

  async invitation(token: string): Promise<Invitation & { personId: string }> {
    const [row] = await this.database.select<{ name: string; email: string; expires: Date; personId: string }>(
      `SELECT p.name, p.email, i.expires_at AS expires, p.id AS "personId" FROM invitations i JOIN people p ON p.id = i.person_id
        WHERE i.token_sha256 = $1 AND i.used_at IS NULL AND i.expires_at > now() AND p.archived_at IS NULL`,
      [sha256(token)],
    );
    if (!row)
      throw new ProblemException(404, 'not-found', 'This invitation is used up, too old, or none.', 'Ask for another.');
    return { ...row, expires: row.expires.toISOString() };
  }

  /** Takes an invitation: it sets the password and is used up. */
  async accept(token: string, password: string): Promise<string> {
    const { personId } = await this.invitation(token);
    const passwordHash = await hash(password);
    await this.database.transaction(async (transaction) => {
      const used = await this.database.select(
        'UPDATE invitations SET used_at = now() WHERE token_sha256 = $1 AND used_at IS NULL RETURNING 1',
        [sha256(token)],
        transaction,
      );
      if (used.length === 0) throw notFound('invitation');
      await this.setPassword(personId, passwordHash, transaction);
      await this.database.run(`DELETE FROM sessions WHERE sess ->> 'personId' = $1`, [personId], transaction);
    });
    return personId;
  }

  /** Whoever sets a password has come in: every invitation they still have is ended. */
  private async setPassword(personId: string, passwordHash: string, transaction: Transaction): Promise<void> {
    await this.database.run(
      'UPDATE people SET password_hash = $2 WHERE id = $1',
      [personId, passwordHash],
      transaction,
    );
    await this.database.run(
      'UPDATE invitations SET used_at = now() WHERE person_id = $1 AND used_at IS NULL',
      [personId],
      transaction,
    );
  }

  /** A password that is none can't be verified: nobody has it. */
  private async fits(passwordHash: string, password: string): Promise<boolean> {
    return passwordHash.startsWith('$argon2') && (await verify(passwordHash, password));
  }
}

const promised = (work: (done: (error?: unknown) => void) => void): Promise<void> =>
  new Promise((resolve, reject) =>
    work((error) => (error ? reject(error instanceof Error ? error : new Error(String(error))) : resolve())),
  );
