import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Database } from '../database/database.module.ts';

/** A database that does not answer whoever measures within this leaves out what it alone knows, milliseconds. */
const ANSWER_MS = 2_000;

/** What waits, by kind: how many, and for how long the one that waits longest. */
const WAITING = `
  SELECT lane AS kind, count(*)::float8 AS count, extract(epoch FROM max(now() - since))::float8 AS oldest
    FROM reading_queue WHERE since <= now() GROUP BY lane
  UNION ALL
  SELECT 'mail', count(*), coalesce(extract(epoch FROM max(now() - due_at)), 0) FROM outbox
   WHERE due_at <= now() AND sent_at IS NULL AND given_up IS NULL`;
const KINDS = ['measuring', 'decoding', 'mail'] as const;

/**
 * What a process tells of itself to whoever watches over it, in the text format of Prometheus (*Exposition formats*), on a port of its own: `METRICS_PORT`.
 * Nothing of people is in it.
 */
@Injectable()
export class Metrics implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly logger = new Logger(Metrics.name);
  private readonly registry = new Registry();
  private readonly requests = new Histogram({
    name: 'ypsigraph_http_request_duration_seconds',
    help: 'Time to answer a request, by its route.',
    labelNames: ['method', 'route', 'status'] as const,
    buckets: [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10],
    registers: [this.registry],
  });
  private readonly open = new Gauge({
    name: 'ypsigraph_http_requests_open',
    help: 'Requests that are being answered; streams of news and uploads among them.',
    registers: [this.registry],
  });
  private readonly readings = new Histogram({
    name: 'ypsigraph_reading_duration_seconds',
    help: 'Time to read a file that was handed in.',
    labelNames: ['kind'] as const,
    buckets: [0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30, 60, 120, 300, 600],
    registers: [this.registry],
  });
  private server: Server | undefined;

  constructor(
    private readonly database: Database,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {
    collectDefaultMetrics({ register: this.registry });
    const { registry } = this;
    const build = new Gauge({
      ...{ name: 'ypsigraph_build_info', help: 'Version of the core, and what the process does.' },
      ...{ labelNames: ['core', 'process'] as const, registers: [registry] },
    });
    build.set({ core: CORE_VERSION, process: configuration.PROCESS }, 1);
    // Both are asked for at once, and told once both are known.
    let asking: Promise<void> | undefined;
    const waiting = (): Promise<void> =>
      (asking ??= this.askWhatWaits(count, oldest).finally(() => (asking = undefined)));
    const oldest: Gauge<'kind'> = new Gauge({
      ...{ name: 'ypsigraph_queue_oldest_seconds', help: 'How long the one has waited that waits longest.' },
      ...{ labelNames: ['kind'] as const, registers: [registry] },
      collect: waiting,
    });
    const count: Gauge<'kind'> = new Gauge({
      ...{ name: 'ypsigraph_queue_waiting', help: 'How many wait to be done.' },
      ...{ labelNames: ['kind'] as const, registers: [registry] },
      collect: waiting,
    });
    const pool = (): PoolState => (this.database.sequelize.connectionManager as unknown as { pool: PoolState }).pool;
    const connections = new Gauge({
      ...{ name: 'ypsigraph_pool_connections', help: 'Connections to the database, and what waits for one.' },
      ...{ labelNames: ['state'] as const, registers: [registry] },
      collect() {
        const { size, available, waiting: queued } = pool();
        connections.set({ state: 'open' }, size);
        connections.set({ state: 'idle' }, available);
        connections.set({ state: 'waited for' }, queued);
      },
    });
  }

  /** Where it is told; undefined while it is not. */
  get port(): number | undefined {
    return (this.server?.address() as AddressInfo | null | undefined)?.port;
  }

  async onApplicationBootstrap(): Promise<void> {
    const { METRICS_PORT: port, METRICS_HOST: host } = this.configuration;
    if (port === undefined) return;
    const server = createServer((request, response) => {
      if (request.method !== 'GET' || request.url?.split('?', 1)[0] !== '/api/metrics') {
        response.writeHead(404).end();
        return;
      }
      this.registry.metrics().then(
        (text) => response.writeHead(200, { 'Content-Type': this.registry.contentType }).end(text),
        (error: unknown) => {
          this.logger.warn(String(error));
          response.writeHead(500).end();
        },
      );
    });
    this.server = server;
    await new Promise<void>((resolve, reject) => server.once('error', reject).listen(port, host, resolve));
  }

  async onModuleDestroy(): Promise<void> {
    await new Promise((resolve) => (this.server ? this.server.close(resolve) : resolve(undefined)));
  }

  /** Times what is answered, by its route and not by its address: an address names somebody's shot. */
  readonly request = (request: Request, response: Response, next: NextFunction): void => {
    const end = this.requests.startTimer();
    this.open.inc();
    response.once('close', () => {
      this.open.dec();
      const { method } = request;
      const route = (request.route as { path?: unknown } | undefined)?.path;
      // A stream of news lasts as long as somebody looks.
      if (/event-stream/.test(String(response.getHeader('Content-Type')))) return;
      end({ method, route: typeof route === 'string' ? route : 'other', status: String(response.statusCode) });
    });
    next();
  };

  /** Times the reading of a file. */
  async reading<T>(kind: 'motion' | 'clip beside', work: () => Promise<T>): Promise<T> {
    const end = this.readings.startTimer({ kind });
    try {
      return await work();
    } finally {
      end();
    }
  }

  private async askWhatWaits(count: Gauge<'kind'>, oldest: Gauge<'kind'>): Promise<void> {
    const tooLong = new Promise<undefined>((resolve) => setTimeout(() => resolve(undefined), ANSWER_MS).unref());
    const asked = this.database.select<{ kind: string; count: number; oldest: number }>(WAITING, []);
    const rows = await Promise.race([asked.catch(() => undefined), tooLong]);
    count.reset();
    oldest.reset();
    if (!rows) return;
    for (const kind of KINDS) {
      const own = rows.find((row) => row.kind === kind);
      count.set({ kind }, own?.count ?? 0);
      oldest.set({ kind }, own?.oldest ?? 0);
    }
  }
}

/** What a pool of connections says of itself. */
interface PoolState {
  readonly size: number;
  readonly available: number;
  readonly waiting: number;
}
