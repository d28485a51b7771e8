import { Module } from '@nestjs/common';
import { BriefController } from './brief.controller.ts';
import { BriefService } from './brief.service.ts';

@Module({ controllers: [BriefController], providers: [BriefService] })
export class BriefsModule {}
