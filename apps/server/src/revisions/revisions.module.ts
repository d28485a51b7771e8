import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module.ts';
import { PeopleModule } from '../people/people.module.ts';
import { ShotsModule } from '../shots/shots.module.ts';
import { RevisionController } from './revision.controller.ts';
import { RevisionStreams } from './revision-streams.ts';
import { RevisionService } from './revision.service.ts';

@Module({
  imports: [CoursesModule, PeopleModule, ShotsModule],
  controllers: [RevisionController],
  providers: [RevisionService, RevisionStreams],
  exports: [RevisionService],
})
export class RevisionsModule {}
