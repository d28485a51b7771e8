import { Controller, Inject, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { Invitation, OwnSession, type Person, Session } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import type { PersonRequest } from '../http/session.guard.ts';
import { SessionService } from './session.service.ts';

export const COOKIE = 'ypsigraph';

@ApiTags('session')
@Controller()
export class SessionController {
  constructor(
    private readonly sessions: SessionService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  @On(ROUTES.session)
  show(@Req() request: PersonRequest): Session {
    return { person: request.person ?? null, demo: this.configuration.DEMO };
  }

  @On(ROUTES.signIn)
  async signIn(@Asked() { body }: Asked<typeof ROUTES.signIn>, @Req() request: Request): Promise<Session> {
    const person = await this.sessions.check(body.email, body.password, request.ip ?? '');
    await this.sessions.begin(request, person.id);
    return { person, demo: this.configuration.DEMO };
  }

  @On(ROUTES.signOut)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<Session> {
    await this.sessions.end(request);
    response.clearCookie(COOKIE);
    return { person: null, demo: this.configuration.DEMO };
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
