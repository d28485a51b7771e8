import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module.ts';
import { NewsStreams } from '../news/news-streams.ts';
import { OutboxModule } from '../outbox/outbox.module.ts';
import { PeopleModule } from '../people/people.module.ts';
import { ShownExemplarService } from './shown-exemplar.service.ts';
import { ShowingController } from './showing.controller.ts';
import { ShowingService } from './showing.service.ts';
import { ShotController } from './shot.controller.ts';
import { ShotPolicy } from './shot.policy.ts';
import { ShotService } from './shot.service.ts';

@Module({
  imports: [CoursesModule, OutboxModule, PeopleModule],
  controllers: [ShotController, ShowingController],
  providers: [ShotService, ShowingService, ShownExemplarService, ShotPolicy, NewsStreams],
  exports: [ShotService, ShotPolicy, NewsStreams],
})
export class ShotsModule {}
