import { Module } from '@nestjs/common';
import { CourseController } from './course.controller.ts';
import { CoursePolicy } from './course.policy.ts';
import { CourseService } from './course.service.ts';

@Module({ controllers: [CourseController], providers: [CourseService, CoursePolicy], exports: [CoursePolicy] })
export class CoursesModule {}
