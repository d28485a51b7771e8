import { Global, Module } from '@nestjs/common';
import { ChangeFeed } from './change-feed.ts';

@Global()
@Module({ providers: [ChangeFeed], exports: [ChangeFeed] })
export class NewsModule {}
