import { Module } from '@nestjs/common';
import { OutboxModule } from '../outbox/outbox.module.ts';
import { ForgettingService } from './forgetting.service.ts';
import { OidcService } from './oidc.service.ts';
import { OwnDataController } from './own-data.controller.ts';
import { OwnDataService } from './own-data.service.ts';
import { PasskeyController } from './passkey.controller.ts';
import { PasskeyService } from './passkey.service.ts';
import { SecondFactorService } from './second-factor.service.ts';
import { SessionController } from './session.controller.ts';
import { SessionService } from './session.service.ts';

@Module({
  imports: [OutboxModule],
  controllers: [SessionController, PasskeyController, OwnDataController],
  providers: [ForgettingService, OidcService, PasskeyService, SecondFactorService, SessionService, OwnDataService],
  exports: [SessionService],
})
export class PeopleModule {}
