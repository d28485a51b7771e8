import { Body, Controller, Inject, Req, Res, UseGuards } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { ThrottlerGuard } from '@nestjs/throttler';
import type { Request, Response } from 'express';
import { createZodDto } from 'nestjs-zod';
import { Session, SignIn } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { On } from '../http/on.ts';
import type { PersonRequest } from '../http/session.guard.ts';
import { SessionService } from './session.service.ts';

export const COOKIE = 'ypsigraph';

class SignInDto extends createZodDto(SignIn) {}
class SessionDto extends createZodDto(Session) {}

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
  @UseGuards(ThrottlerGuard)
  async signIn(@Body() body: SignInDto, @Req() request: Request): Promise<Session> {
    const person = await this.sessions.check(body.email, body.password);
    await this.sessions.begin(request, person.id);
    return { person, demo: this.configuration.DEMO };
  }

  @On(ROUTES.signOut, SessionDto)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<Session> {
    await this.sessions.end(request);
    response.clearCookie(COOKIE);
    return { person: null, demo: this.configuration.DEMO };
  }
}
