import { type DynamicModule, Global, Module } from '@nestjs/common';
import { APP_FILTER, APP_GUARD } from '@nestjs/core';
import { LoggerModule } from 'nestjs-pino';
import { CONFIGURATION, type Configuration } from './config.ts';
import { AuditModule } from './audit/audit.module.ts';
import { BriefsModule } from './briefs/briefs.module.ts';
import { CoursesModule } from './courses/courses.module.ts';
import { DatabaseModule } from './database/database.module.ts';
import { DemoController } from './demo/demo.controller.ts';
import { FilesModule } from './files/files.module.ts';
import { SECRETS, withoutSecrets } from './http/log-secrets.ts';
import { ProblemFilter } from './http/problem.filter.ts';
import { SessionGuard } from './http/session.guard.ts';
import { FoliosModule } from './folios/folios.module.ts';
import { GradesModule } from './grades/grades.module.ts';
import { MailModule, OutboxModule } from './outbox/outbox.module.ts';
import { MarksModule } from './marks/marks.module.ts';
import { PeopleModule } from './people/people.module.ts';
import { ReadingProcessesModule } from './readings/process/reading-processes.module.ts';
import { ReadingsModule } from './readings/readings.module.ts';
import { NewsModule } from './news/news.module.ts';
import { AlignmentsModule } from './alignments/alignments.module.ts';
import { PicturesModule } from './pictures/pictures.module.ts';
import { PracticeModule } from './practice/practice.module.ts';
import { RevisionsModule } from './revisions/revisions.module.ts';
import { WatchModule } from './watch/watch.module.ts';
import { UploadsModule } from './uploads/uploads.module.ts';
import { ShotsModule } from './shots/shots.module.ts';

@Global()
@Module({})
class ConfigurationModule {
  static with(configuration: Configuration): DynamicModule {
    return {
      module: ConfigurationModule,
      providers: [{ provide: CONFIGURATION, useValue: configuration }],
      exports: [CONFIGURATION],
    };
  }
}

/** The whole application, for the process and the place the configuration describes. */
@Module({})
export class AppModule {
  static with(configuration: Configuration): DynamicModule {
    const reads = configuration.PROCESS !== 'server';
    return {
      module: AppModule,
      imports: [
        ConfigurationModule.with(configuration),
        LoggerModule.forRoot({
          pinoHttp: {
            level: configuration.LOG_LEVEL,
            redact: [...SECRETS],
            serializers: { req: withoutSecrets },
            genReqId: ({ id }) => id,
            autoLogging: { ignore: (request) => !request.url?.startsWith('/api/') },
          },
        }),
        DatabaseModule,
        WatchModule,
        FilesModule,
        ReadingProcessesModule,
        NewsModule,
        PeopleModule,
        CoursesModule,
        BriefsModule,
        ShotsModule,
        RevisionsModule,
        AlignmentsModule,
        OutboxModule,
        AuditModule,
        GradesModule,
        FoliosModule,
        PicturesModule,
        UploadsModule,
        MarksModule,
        PracticeModule,
        ...(reads ? [ReadingsModule] : []),
        ...(reads && configuration.SMTP_URL ? [MailModule] : []),
      ],
      controllers: configuration.DEMO ? [DemoController] : [],
      providers: [
        { provide: APP_GUARD, useClass: SessionGuard },
        { provide: APP_FILTER, useClass: ProblemFilter },
      ],
    };
  }
}
