import { Module } from '@nestjs/common';
import { ReadShotWorker } from './read-shot-worker.ts';
import { ShotReader } from './shot-reader.ts';

/** The worker's side: part of processes that read shots. */
@Module({ providers: [ShotReader, ReadShotWorker] })
export class ReadingsModule {}
