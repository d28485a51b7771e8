import { Global, Module } from '@nestjs/common';
import { HealthController } from './health.controller.ts';
import { Metrics } from './metrics.ts';
import { Tracing } from './tracing.ts';

/** What is told to whoever watches over the server. */
@Global()
@Module({ controllers: [HealthController], providers: [Metrics, Tracing], exports: [Metrics] })
export class WatchModule {}
