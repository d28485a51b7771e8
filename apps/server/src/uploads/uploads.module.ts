import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module.ts';
import { RevisionsModule } from '../revisions/revisions.module.ts';
import { UploadController } from './upload.controller.ts';
import { Uploads } from './uploads.ts';

@Module({ imports: [CoursesModule, RevisionsModule], controllers: [UploadController], providers: [Uploads] })
export class UploadsModule {}
