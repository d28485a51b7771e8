import { type DynamicModule, Module } from '@nestjs/common';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';
import { SessionService } from '../people/session.service.ts';
import { ChangeFeed } from '../news/change-feed.ts';
import { OutboxService } from '../outbox/outbox.service.ts';
import { AuditService } from '../audit/audit.service.ts';
import { ForgettingService } from '../people/forgetting.service.ts';
import { School } from './school.ts';

/** What the commands of whoever runs the server need: the database, and how people come in. */
@Module({})
export class AdminModule {
  static with(configuration: Configuration): DynamicModule {
    return {
      module: AdminModule,
      providers: [
        { provide: CONFIGURATION, useValue: configuration },
        Database,
        ChangeFeed,
        OutboxService,
        SessionService,
        AuditService,
        ForgettingService,
        School,
      ],
    };
  }
}
