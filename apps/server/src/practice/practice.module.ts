import { Module } from '@nestjs/common';
import { PracticeController } from './practice.controller.ts';
import { PracticeService } from './practice.service.ts';

@Module({ controllers: [PracticeController], providers: [PracticeService] })
export class PracticeModule {}
