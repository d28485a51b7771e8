import { Module } from '@nestjs/common';
import { MailSender } from './mail-sender.ts';
import { OutboxController } from './outbox.controller.ts';
import { OutboxService } from './outbox.service.ts';

@Module({ controllers: [OutboxController], providers: [OutboxService], exports: [OutboxService] })
export class OutboxModule {}

/** Sends what stands in the outbox, where there is a mail server to send it by. */
@Module({ providers: [MailSender] })
export class MailModule {}
