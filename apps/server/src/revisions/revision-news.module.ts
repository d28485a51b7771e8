import { Global, Module } from '@nestjs/common';
import { RevisionNews } from './revision-news.ts';

@Global()
@Module({ providers: [RevisionNews], exports: [RevisionNews] })
export class RevisionNewsModule {}
