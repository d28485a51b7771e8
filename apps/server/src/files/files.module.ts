import { Global, Module } from '@nestjs/common';
import { FileStore } from './file-store.ts';
import { FileSweeper } from './file-sweeper.ts';

@Global()
@Module({ providers: [FileStore, FileSweeper], exports: [FileStore, FileSweeper] })
export class FilesModule {}
