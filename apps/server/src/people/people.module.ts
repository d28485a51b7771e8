import { Module } from '@nestjs/common';
import { SessionController } from './session.controller.ts';
import { SessionService } from './session.service.ts';

@Module({ controllers: [SessionController], providers: [SessionService], exports: [SessionService] })
export class PeopleModule {}
