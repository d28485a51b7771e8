import { Global, Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module.ts';
import { AuditController } from './audit.controller.ts';
import { AuditInterceptor } from './audit.interceptor.ts';
import { AuditService } from './audit.service.ts';

@Global()
@Module({
  imports: [CoursesModule],
  controllers: [AuditController],
  providers: [AuditService, AuditInterceptor],
  exports: [AuditService, AuditInterceptor],
})
export class AuditModule {}
