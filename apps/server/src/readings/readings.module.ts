import { Module } from '@nestjs/common';
import { ShotAligner } from '../alignments/shot-aligner.ts';
import { PictureMaker } from '../pictures/picture.service.ts';
import { ReadingQueue } from './reading-queue.ts';
import { ReadShotWorker } from './read-shot-worker.ts';
import { VerdictKeeper } from './verdict-keeper.ts';
import { ShotReader } from './shot-reader.ts';

/** The worker's side: part of processes that read shots. */
@Module({ providers: [PictureMaker, ShotAligner, ReadingQueue, ShotReader, ReadShotWorker, VerdictKeeper] })
export class ReadingsModule {}
