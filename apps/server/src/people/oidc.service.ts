import { Inject, Injectable, Logger } from '@nestjs/common';
import type { Request } from 'express';
import * as client from 'openid-client';
import type { Transaction } from 'sequelize';
import { Role } from '@ypsigraph/contract/vocabulary';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';
import { notFound, ProblemException } from '../http/problem.ts';
import { NO_PASSWORD } from './no-password.ts';

declare module 'express-session' {
  interface SessionData {
    /** What a sign-in that is under way at the provider is known by. */
    oidc: { readonly state: string; readonly nonce: string; readonly verifier: string };
  }
}

/** Why somebody who comes back from the provider is not let in. */
export type Refused = 'failed' | 'away' | 'unknown' | 'unverified';
export class NotLetIn extends Error {
  constructor(readonly why: Refused) {
    super(why);
  }
}

/** So long somebody may take at the provider, milliseconds. */
const PATIENCE_MS = 10 * 60_000;

/** What a provider tells of somebody. */
interface Told {
  readonly issuer: string;
  readonly subject: string;
  readonly email: string | undefined;
  readonly isVerified: boolean;
  readonly name: string | undefined;
  readonly groups: readonly string[];
  readonly cohorts: readonly string[];
}

/**
 * Signing in with a school's own provider of identities (*OpenID Connect Core 1.0*, authorization code with PKCE, IETF RFC 7636). Somebody is known by the
 * provider's own name for them; the first time by an e-mail address that it has verified, as the roster has it; or, where the school says which of its groups
 * are which role, they are taken in.
 */
@Injectable()
export class OidcService {
  private readonly logger = new Logger(OidcService.name);
  private found: Promise<client.Configuration> | undefined;

  constructor(
    private readonly database: Database,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  /**
   * Where somebody signs in.
   *
   * @param back address that the provider sends them back to
   * @throws ProblemException where the school has no provider; NotLetIn where that does not answer
   */
  async begin(request: Request, back: string): Promise<string> {
    const provider = await this.provider().catch((error: unknown) => {
      if (error instanceof ProblemException) throw error;
      this.logger.warn(`the provider does not describe itself: ${String(error)}`);
      throw new NotLetIn('away');
    });
    const verifier = client.randomPKCECodeVerifier();
    const [state, nonce] = [client.randomState(), client.randomNonce()];
    request.session.oidc = { state, nonce, verifier };
    // Whoever is signed in already stays so for as long as they were.
    if (!request.session.personId) request.session.cookie.maxAge = PATIENCE_MS;
    return client.buildAuthorizationUrl(provider, {
      ...{ redirect_uri: back, scope: 'openid email profile', state, nonce },
      ...{ code_challenge: await client.calculatePKCECodeChallenge(verifier), code_challenge_method: 'S256' },
    }).href;
  }

  /**
   * Who has come back from the provider.
   *
   * @param came the whole address they came back to
   * @returns the person's id
   * @throws NotLetIn where the provider does not vouch for them, or nobody here is who it names
   */
  async finish(request: Request, came: URL): Promise<string> {
    const { oidc } = request.session;
    delete request.session.oidc;
    if (!oidc) throw new NotLetIn('failed');
    const told = await this.told(came, oidc).catch((error: unknown) => {
      this.logger.warn(`a sign-in at the provider: ${error instanceof Error ? error.message : String(error)}`);
      throw new NotLetIn('failed');
    });
    return this.database.transaction((transaction) => this.personOf(told, transaction));
  }

  private async told(
    came: URL,
    { state, nonce, verifier }: { state: string; nonce: string; verifier: string },
  ): Promise<Told> {
    const provider = await this.provider();
    const tokens = await client.authorizationCodeGrant(provider, came, {
      ...{ pkceCodeVerifier: verifier, expectedState: state, expectedNonce: nonce, idTokenExpected: true },
    });
    const own = tokens.claims()!;
    const { OIDC_ROLE_CLAIM, OIDC_COHORT_CLAIM } = this.configuration;
    // Some providers tell the rest only when they are asked.
    const claims: Readonly<Record<string, unknown>> =
      own.email === undefined
        ? { ...own, ...(await client.fetchUserInfo(provider, tokens.access_token, own.sub)) }
        : own;
    return {
      issuer: own.iss,
      subject: own.sub,
      email: text(claims.email)?.toLowerCase(),
      isVerified: claims.email_verified === true,
      name: text(claims.name),
      groups: texts(claims[OIDC_ROLE_CLAIM]),
      cohorts: texts(claims[OIDC_COHORT_CLAIM]),
    };
  }

  private async personOf(told: Told, transaction: Transaction): Promise<string> {
    const { issuer, subject, email, isVerified } = told;
    const [known] = await this.database.select<{ id: string; archived: boolean }>(
      `SELECT p.id, p.archived_at IS NOT NULL AS archived FROM identities i JOIN people p ON p.id = i.person_id
        WHERE i.issuer = $1 AND i.subject = $2`,
      [issuer, subject],
      transaction,
    );
    if (known) {
      if (known.archived) throw new NotLetIn('unknown');
      return known.id;
    }
    // Whoever may write any address into their account would come in as anybody.
    if (email === undefined || !isVerified) throw new NotLetIn('unverified');
    const [listed] = await this.database.select<{ id: string; archived: boolean }>(
      'SELECT id, archived_at IS NOT NULL AS archived FROM people WHERE lower(email) = $1',
      [email],
      transaction,
    );
    if (listed?.archived) throw new NotLetIn('unknown');
    const id = listed?.id ?? (await this.takeIn(told, email, transaction));
    await this.database.run(
      'INSERT INTO identities (issuer, subject, person_id) VALUES ($1, $2, $3)',
      [issuer, subject, id],
      transaction,
    );
    return id;
  }

  /** Takes somebody in whom a group gives a role, with the cohorts that are named. @throws NotLetIn where no group does */
  private async takeIn({ name, groups, cohorts }: Told, email: string, transaction: Transaction): Promise<string> {
    const role = this.roleOf(groups);
    if (!role) throw new NotLetIn('unknown');
    const { Person, Cohort, Enrolment } = this.database.models;
    const { id } = await Person.create(
      { name: name ?? email, email, role, passwordHash: NO_PASSWORD },
      { transaction },
    );
    for (const cohort of await Cohort.findAll({ where: { name: [...cohorts] }, transaction }))
      await Enrolment.create({ personId: id, cohortId: cohort.id, role }, { transaction });
    return id;
  }

  /** The first role that one of somebody's groups gives, in the order in which they are configured. */
  private roleOf(groups: readonly string[]): Role | undefined {
    for (const pair of this.configuration.OIDC_ROLES.split(',')) {
      const [group, role] = pair.split('=').map((part) => part.trim());
      if (group && groups.includes(group)) return Role.parse(role);
    }
    return undefined;
  }

  /** The provider as it describes itself: asked once; once more where it did not answer. */
  private async provider(): Promise<client.Configuration> {
    const { OIDC_ISSUER, OIDC_CLIENT_ID, OIDC_CLIENT_SECRET } = this.configuration;
    if (!OIDC_ISSUER) throw notFound('way to sign in');
    const issuer = new URL(OIDC_ISSUER);
    this.found ??= client
      .discovery(issuer, OIDC_CLIENT_ID, OIDC_CLIENT_SECRET || undefined, undefined, {
        // On this machine alone: what the configuration takes besides https.
        ...(issuer.protocol === 'http:' && { execute: [client.allowInsecureRequests] }),
      })
      .catch((error: unknown) => {
        this.found = undefined;
        throw error;
      });
    return this.found;
  }
}

const text = (value: unknown): string | undefined =>
  typeof value === 'string' && value.trim() !== '' ? value.trim().slice(0, 200) : undefined;
const texts = (value: unknown): string[] => [value].flat().filter((one): one is string => typeof one === 'string');
