import { Module } from '@nestjs/common';
import { ShotController } from './shot.controller.ts';
import { ShotPolicy } from './shot.policy.ts';
import { ShotService } from './shot.service.ts';

@Module({
  controllers: [ShotController],
  providers: [ShotService, ShotPolicy],
  exports: [ShotService, ShotPolicy],
})
export class ShotsModule {}
