import { isIP } from 'node:net';
import { Injectable } from '@nestjs/common';
import {
  type AuthenticationResponseJSON,
  type AuthenticatorTransport,
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from '@simplewebauthn/server';
import type { NewPasskey, Passkey, PasskeyAnswer, PasskeyQuestion, Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import { conflict, notFound, ProblemException } from '../http/problem.ts';

/** A question is answered within so many minutes, once. */
const HOLDS_MINUTES = 5;
/** Passkeys that one person may have. */
const MOST = 10;

interface Row {
  readonly id: string;
  readonly person: Person;
  readonly key: Buffer;
  readonly counter: string;
  readonly transports: AuthenticatorTransport[];
}

/**
 * Passkeys (W3C *Web Authentication: An API for accessing Public Key Credentials*, level 3): keys of a telephone or a computer that sign somebody in. What
 * holds a key has made sure itself of who uses it, so that no password and no code is asked for besides.
 */
@Injectable()
export class PasskeyService {
  constructor(private readonly database: Database) {}

  async of({ id }: Pick<Person, 'id'>): Promise<Passkey[]> {
    const rows = await this.database.select<Omit<Passkey, 'since' | 'usedAt'> & { since: Date; usedAt: Date | null }>(
      'SELECT id, name, since, used_at AS "usedAt" FROM passkeys WHERE person_id = $1 ORDER BY since, id',
      [id],
    );
    return rows.map(({ since, usedAt, ...own }) => ({
      ...own,
      since: since.toISOString(),
      usedAt: usedAt?.toISOString() ?? null,
    }));
  }

  /**
   * What a browser is asked in order to make a key.
   * @param address what this server's addresses begin with
   */
  async begin(person: Person, address: string): Promise<PasskeyQuestion> {
    const known = await this.of(person);
    if (known.length >= MOST) throw conflict(`You have ${MOST} passkeys.`, 'Remove one that you no longer use.');
    const [row] = await this.database.select<{ email: string }>('SELECT email FROM people WHERE id = $1', [person.id]);
    const options = await generateRegistrationOptions({
      rpName: 'Ypsigraph',
      rpID: nameOf(address),
      userID: new TextEncoder().encode(person.id),
      userName: row!.email,
      userDisplayName: person.name,
      attestationType: 'none',
      excludeCredentials: known.map(({ id }) => ({ id })),
      authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
    });
    await this.ask(options.challenge, person.id);
    return { options: { ...options } };
  }

  /** Keeps the key a browser has made. @throws ProblemException where it answers another question, or was made elsewhere */
  async add(person: Person, { name, response }: NewPasskey, address: string): Promise<Passkey[]> {
    const verified = await verifyRegistrationResponse({
      response: response as unknown as RegistrationResponseJSON,
      expectedChallenge: (challenge) => this.isAsked(challenge, person.id),
      expectedOrigin: new URL(address).origin,
      expectedRPID: nameOf(address),
      requireUserVerification: true,
    }).catch(() => undefined);
    if (!verified?.verified) throw refused('That passkey could not be taken.');
    const { id, publicKey, counter, transports = [] } = verified.registrationInfo.credential;
    const rows = await this.database.select(
      `INSERT INTO passkeys (id, person_id, public_key, counter, transports, name) VALUES ($1, $2, $3, $4, $5, $6)
       ON CONFLICT (id) DO NOTHING RETURNING 1`,
      [id, person.id, Buffer.from(publicKey), counter, transports, name],
    );
    if (rows.length === 0) throw conflict('That passkey is kept already.');
    return this.of(person);
  }

  async drop(person: Person, id: string): Promise<Passkey[]> {
    const rows = await this.database.select('DELETE FROM passkeys WHERE id = $1 AND person_id = $2 RETURNING 1', [
      id,
      person.id,
    ]);
    if (rows.length === 0) throw notFound('passkey');
    return this.of(person);
  }

  /** What a browser is asked in order to sign in, whoever it is. */
  async beginSignIn(address: string): Promise<PasskeyQuestion> {
    const options = await generateAuthenticationOptions({ rpID: nameOf(address), userVerification: 'required' });
    await this.ask(options.challenge, null);
    return { options: { ...options } };
  }

  /** Whose key has answered. @throws ProblemException where it is nobody's, or the answer is not its own */
  async signIn({ response }: PasskeyAnswer, address: string): Promise<Person> {
    const [row] = await this.database.select<Row>(
      `SELECT k.id, json_build_object('id', p.id, 'name', p.name, 'role', p.role) AS person, k.public_key AS key, k.counter::text AS counter, k.transports FROM passkeys k
         JOIN people p ON p.id = k.person_id WHERE k.id = $1 AND p.archived_at IS NULL`,
      [response.id],
    );
    const verified =
      row &&
      (await verifyAuthenticationResponse({
        response: response as unknown as AuthenticationResponseJSON,
        expectedChallenge: (challenge) => this.isAsked(challenge, null),
        expectedOrigin: new URL(address).origin,
        expectedRPID: nameOf(address),
        requireUserVerification: true,
        credential: {
          id: row.id,
          publicKey: new Uint8Array(row.key),
          counter: Number(row.counter),
          transports: row.transports,
        },
      }).catch(() => undefined));
    if (!row || !verified?.verified) throw refused('That passkey is not known here.');
    await this.database.run('UPDATE passkeys SET counter = $2, used_at = now() WHERE id = $1', [
      row.id,
      verified.authenticationInfo.newCounter,
    ]);
    return row.person;
  }

  private async ask(challenge: string, person: string | null): Promise<void> {
    await this.database.run('DELETE FROM passkey_challenges WHERE holds_until < now()', []);
    await this.database.run(
      'INSERT INTO passkey_challenges (challenge, person_id, holds_until) VALUES ($1, $2, now() + make_interval(mins => $3))',
      [challenge, person, HOLDS_MINUTES],
    );
  }

  /** Whether a question was asked of somebody, or of nobody in particular; it is answered once. */
  private async isAsked(challenge: string, person: string | null): Promise<boolean> {
    const rows = await this.database.select(
      `DELETE FROM passkey_challenges WHERE challenge = $1 AND person_id IS NOT DISTINCT FROM $2::uuid AND holds_until > now() RETURNING 1`,
      [challenge, person],
    );
    return rows.length > 0;
  }
}

/** The name that a key is bound to. @throws ProblemException where the server is called by a number */
function nameOf(address: string): string {
  const { hostname } = new URL(address);
  if (isIP(hostname.replace(/^\[|\]$/g, '')) === 0) return hostname;
  throw conflict('Passkeys need a name in the address.', 'This server is called by a number here.');
}

const refused = (title: string) =>
  new ProblemException(401, 'passkey-refused', title, 'Try once more, or use your password.');
