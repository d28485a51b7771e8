import { Module } from '@nestjs/common';
import { RevisionsModule } from '../revisions/revisions.module.ts';
import { ShotsModule } from '../shots/shots.module.ts';
import { PictureController } from './picture.controller.ts';
import { PictureService } from './picture.service.ts';

@Module({
  imports: [RevisionsModule, ShotsModule],
  controllers: [PictureController],
  providers: [PictureService],
})
export class PicturesModule {}
