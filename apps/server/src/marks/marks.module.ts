import { Module } from '@nestjs/common';
import { ShotsModule } from '../shots/shots.module.ts';
import { MarkController } from './mark.controller.ts';
import { MarkService } from './mark.service.ts';

@Module({ imports: [ShotsModule], controllers: [MarkController], providers: [MarkService] })
export class MarksModule {}
