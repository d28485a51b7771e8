import { Module } from '@nestjs/common';
import { RevisionsModule } from '../revisions/revisions.module.ts';
import { UploadController } from './upload.controller.ts';
import { Uploads } from './uploads.ts';

@Module({ imports: [RevisionsModule], controllers: [UploadController], providers: [Uploads] })
export class UploadsModule {}
