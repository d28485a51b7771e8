import { Module } from '@nestjs/common';
import { ShotsModule } from '../shots/shots.module.ts';
import { MarkController } from './mark.controller.ts';
import { MarkService } from './mark.service.ts';
import { PhraseController } from './phrase.controller.ts';
import { PhraseService } from './phrase.service.ts';

@Module({
  imports: [ShotsModule],
  controllers: [MarkController, PhraseController],
  providers: [MarkService, PhraseService],
})
export class MarksModule {}
