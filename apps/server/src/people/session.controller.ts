import { Body, Controller, Inject, Param, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { createZodDto } from 'nestjs-zod';
import {
  Invitation,
  InvitationAnswer,
  OwnSession,
  PasswordChange,
  type Person,
  Session,
  SignIn,
} from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import type { PersonRequest } from '../http/session.guard.ts';
import { SessionService } from './session.service.ts';

export const COOKIE = 'ypsigraph';

class SignInDto extends createZodDto(SignIn) {}
class SessionDto extends createZodDto(Session) {}
class OwnSessionDto extends createZodDto(OwnSession) {}
class PasswordChangeDto extends createZodDto(PasswordChange) {}
class InvitationDto extends createZodDto(Invitation) {}
class InvitationAnswerDto extends createZodDto(InvitationAnswer) {}

@ApiTags('session')
@Controller()
export class SessionController {
  constructor(
    private readonly sessions: SessionService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  @On(ROUTES.session, SessionDto)
  show(@Req() request: PersonRequest): Session {
    return { person: request.person ?? null, demo: this.configuration.DEMO };
  }

  @On(ROUTES.signIn, SessionDto)
  async signIn(@Body() body: SignInDto, @Req() request: Request): Promise<Session> {
    const person = await this.sessions.check(body.email, body.password, request.ip ?? '');
    await this.sessions.begin(request, person.id);
    return { person, demo: this.configuration.DEMO };
  }

  @On(ROUTES.signOut, SessionDto)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<Session> {
    await this.sessions.end(request);
    response.clearCookie(COOKIE);
    return { person: null, demo: this.configuration.DEMO };
  }

  @On(ROUTES.ownSessions, [OwnSessionDto])
  ownSessions(@Current() person: Person, @Req() request: Request): Promise<OwnSession[]> {
    return this.sessions.sessionsOf(person, request);
  }

  @On(ROUTES.endOtherSessions, [OwnSessionDto])
  async endOthers(@Current() person: Person, @Req() request: Request): Promise<OwnSession[]> {
    await this.sessions.endOthers(person, request);
    return this.sessions.sessionsOf(person, request);
  }

  @On(ROUTES.endSession, [OwnSessionDto])
  async endOne(
    @Current() person: Person,
    @Req() request: Request,
    @Param('session') id: string,
  ): Promise<OwnSession[]> {
    await this.sessions.endOthers(person, request, id);
    return this.sessions.sessionsOf(person, request);
  }

  @On(ROUTES.changePassword, [OwnSessionDto])
  async changePassword(
    @Current() person: Person,
    @Req() request: Request,
    @Body() body: PasswordChangeDto,
  ): Promise<OwnSession[]> {
    await this.sessions.changePassword(person, request, body);
    return this.sessions.sessionsOf(person, request);
  }

  @On(ROUTES.invitation, InvitationDto)
  async invitation(@Param('token') token: string): Promise<Invitation> {
    const { name, email, expires } = await this.sessions.invitation(token);
    return { name, email, expires };
  }

  @On(ROUTES.acceptInvitation, SessionDto)
  async accept(
    @Param('token') token: string,
    @Body() body: InvitationAnswerDto,
    @Req() request: Request,
  ): Promise<{ demo: boolean }> {
    await this.sessions.begin(request, await this.sessions.accept(token, body.password));
    return { demo: this.configuration.DEMO };
  }
}
