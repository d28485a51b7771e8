import { Controller, Inject, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { Invitation, OwnSession, type Person, Session } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { ownAddress } from '../http/own-address.ts';
import { ProblemException } from '../http/problem.ts';
import type { PersonRequest } from '../http/session.guard.ts';
import { SessionService } from './session.service.ts';

export const COOKIE = 'ypsigraph';

/** Whoever has forgotten a password is answered no sooner, milliseconds. */
const ANSWERED_AFTER_MS = 300;

@ApiTags('session')
@Controller()
export class SessionController {
  constructor(
    private readonly sessions: SessionService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  @On(ROUTES.session)
  show(@Req() request: PersonRequest): Session {
    return this.sessions.told(request.person ?? null);
  }

  @On(ROUTES.signIn)
  async signIn(@Asked() { body }: Asked<typeof ROUTES.signIn>, @Req() request: Request): Promise<Session> {
    const person = await this.sessions.check(body.email, body.password, request.ip ?? '');
    await this.sessions.begin(request, person.id);
    return this.sessions.told(person);
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
  ): Promise<{ demo: boolean }> {
    await this.sessions.begin(request, await this.sessions.accept(token, body.password));
    return { demo: this.configuration.DEMO };
  }
}
