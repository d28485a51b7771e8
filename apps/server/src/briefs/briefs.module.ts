import { Module } from '@nestjs/common';
import { BriefController } from './brief.controller.ts';
import { CourseFileService } from './course-file.service.ts';
import { PhraseService } from '../marks/phrase.service.ts';
import { FileLook } from '../revisions/file-look.ts';
import { BriefService } from './brief.service.ts';

@Module({ controllers: [BriefController], providers: [BriefService, CourseFileService, FileLook, PhraseService] })
export class BriefsModule {}
