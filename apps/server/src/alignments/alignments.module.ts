import { Module } from '@nestjs/common';
import { ShotsModule } from '../shots/shots.module.ts';
import { AlignmentController } from './alignment.controller.ts';
import { AlignmentService } from './alignment.service.ts';

@Module({ imports: [ShotsModule], controllers: [AlignmentController], providers: [AlignmentService] })
export class AlignmentsModule {}
