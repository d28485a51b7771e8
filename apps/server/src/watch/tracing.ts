import { context, propagation, type Attributes, SpanKind, SpanStatusCode, trace } from '@opentelemetry/api';
import { OTLPTraceExporter } from '@opentelemetry/exporter-trace-otlp-http';
import { resourceFromAttributes } from '@opentelemetry/resources';
import { BatchSpanProcessor, NodeTracerProvider } from '@opentelemetry/sdk-trace-node';
import { Inject, Injectable, type OnModuleDestroy } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { requestId } from '../http/request-id.ts';

/** Who tells: the name under which spans are found. */
const TRACER = 'ypsigraph';
const tracer = () => trace.getTracer(TRACER, CORE_VERSION);

/**
 * Has what this process does told to a collector of traces (OpenTelemetry, OTLP over HTTP), where one is configured; else nothing is told, and next to
 * nothing done.
 */
@Injectable()
export class Tracing implements OnModuleDestroy {
  private readonly provider: NodeTracerProvider | undefined;

  constructor(@Inject(CONFIGURATION) { OTEL_EXPORTER_OTLP_ENDPOINT: endpoint, PROCESS }: Configuration) {
    if (endpoint === undefined) return;
    const exporter = new OTLPTraceExporter({ url: `${endpoint.replace(/\/+$/, '')}/v1/traces` });
    const resource = { 'service.name': TRACER, 'service.version': CORE_VERSION, 'ypsigraph.process': PROCESS };
    this.provider = new NodeTracerProvider({
      resource: resourceFromAttributes(resource),
      spanProcessors: [new BatchSpanProcessor(exporter, { scheduledDelayMillis: 1_000 })],
    });
    this.provider.register();
  }

  /** Tells what is left. */
  async onModuleDestroy(): Promise<void> {
    await this.provider?.shutdown().catch(() => undefined);
    // Another application of this process begins anew.
    if (this.provider) trace.disable();
  }
}

/** Does something as a span of its own within what is going on; what goes wrong in it is told as well. */
export function traced<T>(
  name: string,
  attributes: Attributes,
  work: () => Promise<T>,
  kind = SpanKind.INTERNAL,
): Promise<T> {
  return tracer().startActiveSpan(name, { attributes, kind }, async (span) => {
    try {
      return await work();
    } catch (error) {
      span.setStatus({ code: SpanStatusCode.ERROR, message: error instanceof Error ? error.name : 'unknown' });
      throw error;
    } finally {
      span.end();
    }
  });
}

/** Every request as a span, which goes on from where a proxy began. No address is told, which may open something: its route is. */
export function traceRequest(request: Request, response: Response, next: NextFunction): void {
  const from = propagation.extract(context.active(), request.headers);
  const span = tracer().startSpan(
    request.method,
    { kind: SpanKind.SERVER, attributes: { 'http.request.method': request.method } },
    from,
  );
  // Where nothing is told nothing is waited for.
  if (!span.isRecording()) return next();
  const id = requestId();
  if (id !== null) span.setAttribute('ypsigraph.request', id);
  response.on('close', () => {
    const route = (request.route as { path?: unknown } | undefined)?.path;
    if (typeof route === 'string') {
      span.updateName(`${request.method} ${route}`);
      span.setAttribute('http.route', route);
    }
    span.setAttribute('http.response.status_code', response.statusCode);
    if (response.statusCode >= 500) span.setStatus({ code: SpanStatusCode.ERROR });
    span.end();
  });
  context.with(trace.setSpan(from, span), next);
}
