import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module.ts';
import { OutboxModule } from '../outbox/outbox.module.ts';
import { ShotsModule } from '../shots/shots.module.ts';
import { RevisionController } from './revision.controller.ts';
import { FileLook } from './file-look.ts';
import { HandInService } from './hand-in.service.ts';
import { RevisionService } from './revision.service.ts';

@Module({
  imports: [CoursesModule, OutboxModule, ShotsModule],
  controllers: [RevisionController],
  providers: [RevisionService, HandInService, FileLook],
  exports: [RevisionService, HandInService],
})
export class RevisionsModule {}
