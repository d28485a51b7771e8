import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module.ts';
import { ShotsModule } from '../shots/shots.module.ts';
import { RevisionController } from './revision.controller.ts';
import { RevisionService } from './revision.service.ts';

@Module({
  imports: [CoursesModule, ShotsModule],
  controllers: [RevisionController],
  providers: [RevisionService],
  exports: [RevisionService],
})
export class RevisionsModule {}
