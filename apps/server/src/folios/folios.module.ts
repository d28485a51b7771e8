import { Module } from '@nestjs/common';
import { CoursesModule } from '../courses/courses.module.ts';
import { FolioController } from './folio.controller.ts';
import { FolioService } from './folio.service.ts';

@Module({ imports: [CoursesModule], controllers: [FolioController], providers: [FolioService] })
export class FoliosModule {}
