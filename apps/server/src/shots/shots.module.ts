import { Module } from '@nestjs/common';
import { NewsStreams } from '../news/news-streams.ts';
import { PeopleModule } from '../people/people.module.ts';
import { ShotController } from './shot.controller.ts';
import { ShotPolicy } from './shot.policy.ts';
import { ShotService } from './shot.service.ts';

@Module({
  imports: [PeopleModule],
  controllers: [ShotController],
  providers: [ShotService, ShotPolicy, NewsStreams],
  exports: [ShotService, ShotPolicy, NewsStreams],
})
export class ShotsModule {}
