import { Global, Module } from '@nestjs/common';
import { ReadingProcesses } from './reading-processes.ts';

@Global()
@Module({ providers: [ReadingProcesses], exports: [ReadingProcesses] })
export class ReadingProcessesModule {}
