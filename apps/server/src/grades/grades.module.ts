import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module.ts';
import { ShotsModule } from '../shots/shots.module.ts';
import { GradeController } from './grade.controller.ts';
import { GradeService } from './grade.service.ts';

@Module({ imports: [CoursesModule, ShotsModule], controllers: [GradeController], providers: [GradeService] })
export class GradesModule {}
