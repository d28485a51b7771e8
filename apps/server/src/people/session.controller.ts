import { Controller, Inject, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import {
  Invitation,
  NewFactor,
  OwnSession,
  type Person,
  RecoveryCodes,
  SecondFactor,
  Session,
} from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { ownAddress } from '../http/own-address.ts';
import { ProblemException } from '../http/problem.ts';
import type { PersonRequest } from '../http/session.guard.ts';
import { NotLetIn, OidcService } from './oidc.service.ts';
import { SecondFactorService } from './second-factor.service.ts';
import { SessionService } from './session.service.ts';

export const COOKIE = 'ypsigraph';

/** Whoever has forgotten a password is answered no sooner, milliseconds. */
const ANSWERED_AFTER_MS = 300;

@ApiTags('session')
@Controller()
export class SessionController {
  constructor(
    private readonly sessions: SessionService,
    private readonly factors: SecondFactorService,
    private readonly oidc: OidcService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  @On(ROUTES.session)
  show(@Req() request: PersonRequest): Session {
    return this.sessions.told(request.person ?? null);
  }

  @On(ROUTES.signIn)
  async signIn(@Asked() { body }: Asked<typeof ROUTES.signIn>, @Req() request: Request): Promise<Session> {
    const person = await this.sessions.check(body.email, body.password, request.ip ?? '');
    if (await this.factors.isAsked(person.id)) await this.takeCode(person, body.code, request);
    await this.sessions.begin(request, person.id);
    return this.sessions.told(person);
  }

  @On(ROUTES.beginOidc)
  async beginOidc(@Req() request: Request, @Res() response: Response): Promise<void> {
    await this.orWhyNot(response, () => this.oidc.begin(request, this.backAddress(request)));
  }

  @On(ROUTES.finishOidc)
  async finishOidc(@Req() request: Request, @Res() response: Response): Promise<void> {
    const came = new URL(this.backAddress(request));
    came.search = new URL(request.url, 'http://here').search;
    await this.orWhyNot(response, async () => {
      await this.sessions.begin(request, await this.oidc.finish(request, came));
      return '/';
    });
  }

  /** Sends somebody on; whoever is not let in finds at the sign-in page why. */
  private async orWhyNot(response: Response, to: () => Promise<string>): Promise<void> {
    try {
      response.redirect(await to());
    } catch (error) {
      if (!(error instanceof NotLetIn)) throw error;
      response.redirect(`/?refused=${error.why}`);
    }
  }

  private backAddress(request: Request): string {
    return `${ownAddress(this.configuration, request)}${ROUTES.finishOidc.path}`;
  }

  @On(ROUTES.signOut)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<Session> {
    await this.sessions.end(request);
    response.clearCookie(COOKIE);
    return this.sessions.told(null);
  }

  /** Whoever asks is answered alike, and as late: whether somebody has the address is nobody's business. */
  @On(ROUTES.forgotPassword)
  async forgot(
    @Asked() { body }: Asked<typeof ROUTES.forgotPassword>,
    @Req() request: Request,
  ): Promise<{ asked: true }> {
    const { SMTP_URL } = this.configuration;
    if (!SMTP_URL)
      throw new ProblemException(
        409,
        'no-mail',
        'This school sends no mail.',
        'Ask your instructor for an invitation.',
      );
    const address = ownAddress(this.configuration, request);
    await Promise.all([
      this.sessions.forgot(body.email, request.ip ?? '', (token) => `${address}/invitation/${token}`),
      new Promise((resolve) => setTimeout(resolve, ANSWERED_AFTER_MS)),
    ]);
    return { asked: true };
  }

  @On(ROUTES.ownSessions)
  ownSessions(@Current() person: Person, @Req() request: Request): Promise<OwnSession[]> {
    return this.sessions.sessionsOf(person, request);
  }

  @On(ROUTES.endOtherSessions)
  async endOthers(@Current() person: Person, @Req() request: Request): Promise<OwnSession[]> {
    await this.sessions.endOthers(person, request);
    return this.sessions.sessionsOf(person, request);
  }

  @On(ROUTES.endSession)
  async endOne(
    @Current() person: Person,
    @Req() request: Request,
    @Asked() { params: { session: id } }: Asked<typeof ROUTES.endSession>,
  ): Promise<OwnSession[]> {
    await this.sessions.endOthers(person, request, id);
    return this.sessions.sessionsOf(person, request);
  }

  @On(ROUTES.changePassword)
  async changePassword(
    @Current() person: Person,
    @Req() request: Request,
    @Asked() { body }: Asked<typeof ROUTES.changePassword>,
  ): Promise<OwnSession[]> {
    await this.sessions.changePassword(person, request, body);
    return this.sessions.sessionsOf(person, request);
  }

  @On(ROUTES.invitation)
  async invitation(@Asked() { params: { token } }: Asked<typeof ROUTES.invitation>): Promise<Invitation> {
    const { name, email, expires } = await this.sessions.invitation(token);
    return { name, email, expires };
  }

  @On(ROUTES.acceptInvitation)
  async accept(
    @Asked() { params: { token }, body }: Asked<typeof ROUTES.acceptInvitation>,
    @Req() request: Request,
  ): Promise<{ signedIn: boolean }> {
    const id = await this.sessions.accept(token, body.password);
    const signedIn = !(await this.factors.isAsked(id));
    if (signedIn) await this.sessions.begin(request, id);
    return { signedIn };
  }

  @On(ROUTES.secondFactor)
  secondFactor(@Current() person: Person): Promise<SecondFactor> {
    return this.factors.of(person);
  }

  @On(ROUTES.beginFactor)
  beginFactor(@Current() person: Person): Promise<NewFactor> {
    return this.factors.begin(person);
  }

  @On(ROUTES.confirmFactor)
  confirmFactor(
    @Current() person: Person,
    @Asked() { body }: Asked<typeof ROUTES.confirmFactor>,
    @Req() request: Request,
  ): Promise<RecoveryCodes> {
    return this.counted(person, request, () => this.factors.confirm(person, body.code));
  }

  @On(ROUTES.codesAnew)
  codesAnew(
    @Current() person: Person,
    @Asked() { body }: Asked<typeof ROUTES.codesAnew>,
    @Req() request: Request,
  ): Promise<RecoveryCodes> {
    return this.counted(person, request, () => this.factors.codesAnew(person, body.code));
  }

  @On(ROUTES.dropFactor)
  async dropFactor(
    @Current() person: Person,
    @Asked() { body }: Asked<typeof ROUTES.dropFactor>,
    @Req() request: Request,
  ): Promise<SecondFactor> {
    await this.counted(person, request, () => this.factors.drop(person, body.code));
    return this.factors.of(person);
  }

  /** @throws ProblemException where a code is needed, or the one given is not right */
  private async takeCode(person: Person, code: string | undefined, request: Request): Promise<void> {
    if (code === undefined || code.trim() === '')
      throw new ProblemException(401, 'code-needed', 'A code of your second factor is needed.');
    await this.counted(person, request, () => this.factors.takes(person.id, code));
  }

  private counted<T>({ id }: Person, request: Request, work: () => Promise<T>): Promise<T> {
    return this.sessions.counted(`code of ${id}`, request.ip ?? '', work);
  }
}
