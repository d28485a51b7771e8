import { Global, Module } from '@nestjs/common';
import { FileStore } from './file-store.ts';

@Global()
@Module({ providers: [FileStore], exports: [FileStore] })
export class FilesModule {}
