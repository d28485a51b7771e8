import { Global, Module } from '@nestjs/common';
import { FileStore } from './file-store.ts';
import { FileSweeper } from './file-sweeper.ts';
import { UploadStore } from './upload-store.ts';

@Global()
@Module({ providers: [FileStore, FileSweeper, UploadStore], exports: [FileStore, FileSweeper, UploadStore] })
export class FilesModule {}
