import { Module } from '@nestjs/common';
import { OutboxController } from './outbox.controller.ts';
import { OutboxService } from './outbox.service.ts';

@Module({ controllers: [OutboxController], providers: [OutboxService], exports: [OutboxService] })
export class OutboxModule {}
