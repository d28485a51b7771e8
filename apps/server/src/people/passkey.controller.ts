import { Controller, Inject, Req } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import type { Passkey, PasskeyQuestion, Person, Session } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { ownAddress } from '../http/own-address.ts';
import { PasskeyService } from './passkey.service.ts';
import { SessionService } from './session.service.ts';

/** Passkeys: made, removed, signed in with. */
@ApiTags('session')
@Controller()
export class PasskeyController {
  constructor(
    private readonly passkeys: PasskeyService,
    private readonly sessions: SessionService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  @On(ROUTES.passkeys)
  list(@Current() person: Person): Promise<Passkey[]> {
    return this.passkeys.of(person);
  }

  @On(ROUTES.beginPasskey)
  begin(@Current() person: Person, @Req() request: Request): Promise<PasskeyQuestion> {
    return this.passkeys.begin(person, ownAddress(this.configuration, request));
  }

  @On(ROUTES.addPasskey)
  add(
    @Current() person: Person,
    @Asked() { body }: Asked<typeof ROUTES.addPasskey>,
    @Req() request: Request,
  ): Promise<Passkey[]> {
    return this.passkeys.add(person, body, ownAddress(this.configuration, request));
  }

  @On(ROUTES.dropPasskey)
  drop(
    @Current() person: Person,
    @Asked() { params: { passkey } }: Asked<typeof ROUTES.dropPasskey>,
  ): Promise<Passkey[]> {
    return this.passkeys.drop(person, passkey);
  }

  @On(ROUTES.beginPasskeySignIn)
  beginSignIn(@Req() request: Request): Promise<PasskeyQuestion> {
    return this.passkeys.beginSignIn(ownAddress(this.configuration, request));
  }

  @On(ROUTES.passkeySignIn)
  async signIn(@Asked() { body }: Asked<typeof ROUTES.passkeySignIn>, @Req() request: Request): Promise<Session> {
    const person = await this.passkeys.signIn(body, ownAddress(this.configuration, request));
    await this.sessions.begin(request, person.id);
    return this.sessions.told(person);
  }
}
