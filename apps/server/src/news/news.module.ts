import { Global, Module } from '@nestjs/common';
import { News } from './news.ts';

@Global()
@Module({ providers: [News], exports: [News] })
export class NewsModule {}
