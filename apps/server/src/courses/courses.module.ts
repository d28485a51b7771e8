import { Module } from '@nestjs/common';
import { OutboxModule } from '../outbox/outbox.module.ts';
import { PeopleModule } from '../people/people.module.ts';
import { CalendarController } from './calendar.controller.ts';
import { CalendarService } from './calendar.service.ts';
import { CourseController } from './course.controller.ts';
import { CoursePolicy } from './course.policy.ts';
import { CourseService } from './course.service.ts';
import { RosterService } from './roster.service.ts';

@Module({
  imports: [OutboxModule, PeopleModule],
  controllers: [CourseController, CalendarController],
  providers: [CourseService, CoursePolicy, CalendarService, RosterService],
  exports: [CoursePolicy, CourseService],
})
export class CoursesModule {}
