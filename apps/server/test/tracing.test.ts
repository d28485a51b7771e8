// Traces, told to a collector: a request with what it asks of the database, and the reading of what was handed in, found by the same request.
import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import request from 'supertest';
import { HEADER, nightRound, openSchool, type School, untilRead, walk } from './harness.ts';

/** A span as it is told. Format: *OpenTelemetry Protocol Specification*, OTLP/HTTP in JSON. */
interface Span {
  readonly name: string;
  readonly traceId: string;
  readonly spanId: string;
  readonly parentSpanId?: string;
  readonly attributes: readonly { key: string; value: { stringValue?: string; intValue?: number } }[];
}

const told: Span[] = [];
let collector: Server;
let school: School;
/** A process of its own: what tells traces loads its parts as it goes, which only a real one can. */
let traced: ChildProcess;
let address: string;
beforeAll(async () => {
  collector = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      const { resourceSpans } = JSON.parse(Buffer.concat(chunks).toString()) as {
        resourceSpans: { scopeSpans: { spans: Span[] }[] }[];
      };
      told.push(...resourceSpans.flatMap(({ scopeSpans }) => scopeSpans.flatMap(({ spans }) => spans)));
      response.writeHead(200, { 'Content-Type': 'application/json' }).end('{}');
    });
  });
  await new Promise<void>((resolve) => collector.listen(0, '127.0.0.1', resolve));
  const { port } = collector.address() as AddressInfo;
  school = await openSchool({ PROCESS: 'server' }, 'read');
  const { host, port: at, user, password, database } = school.database as unknown as Record<string, string>;
  traced = fork(join(__dirname, '../dist/main.js'), ['--process', 'both', '--port', '0'], {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      DATABASE_URL: `postgres://${user}:${password}@${host}:${at}/${database}`,
      FILES_DIR: school.files,
      SESSION_SECRET: 'only for tests, on the loopback, thrown away',
      DEMO: '1',
      LOG_LEVEL: 'silent',
      OTEL_EXPORTER_OTLP_ENDPOINT: `http://127.0.0.1:${port}/`,
    },
  });
  [{ address }] = (await once(traced, 'message')) as [{ address: string }];
});
afterAll(async () => {
  const ended = once(traced, 'exit');
  traced.kill();
  await ended;
  await school.close();
  await new Promise((resolve) => collector.close(resolve));
});

const attribute = ({ attributes }: Span, name: string): string | number | undefined => {
  const value = attributes.find(({ key }) => key === name)?.value;
  return value?.stringValue ?? value?.intValue;
};
/** Somebody who is signed in at the process that is traced. */
async function visitor(name: string) {
  const agent = request.agent(address);
  const { rows } = await school.database.query('SELECT id FROM people WHERE name = $1', [name]);
  await agent.post('/api/demo/session').set(HEADER).send({ person: rows[0].id }).expect(200);
  return agent;
}
const until = async (holds: () => boolean): Promise<void> => {
  for (let k = 0; k < 100 && !holds(); k++) await new Promise((resolve) => setTimeout(resolve, 100));
  expect(holds()).toBe(true);
};

test('a request goes on from where a proxy began, by its route, with what it asks of the database; no address and no value is told', async () => {
  const ottoline = await visitor('Ottoline Farrow');
  const [traceId, parent] = ['0af7651916cd43dd8448eb211c80319c', 'b7ad6b7169203331'];
  const { rows } = await school.database.query(`SELECT id FROM cohorts WHERE name = 'Monday loft'`);
  // The header is that of W3C *Trace Context*, and so is its example.
  await ottoline.get(`/api/cohorts/${rows[0].id}/ledger`).set('traceparent', `00-${traceId}-${parent}-01`).expect(200);
  const own = (): Span[] => told.filter((span) => span.traceId === traceId);
  await until(() => own().some(({ name }) => name === 'GET /api/cohorts/:id/ledger'));
  const request = own().find(({ name }) => name === 'GET /api/cohorts/:id/ledger')!;
  expect(request.parentSpanId).toBe(parent);
  expect(attribute(request, 'http.response.status_code')).toBe(200);
  const asked = own().filter(({ name }) => name === 'database');
  expect(asked.length).toBeGreaterThanOrEqual(2);
  expect(new Set(asked.map(({ parentSpanId }) => parentSpanId))).toContain(request.spanId);
  expect(JSON.stringify(told)).not.toContain(rows[0].id);
});

test('the reading of a shot is found by the request that handed it in', async () => {
  const jomo = await visitor('Jomo Wanyama');
  const handed = await jomo
    .post(`/api/assignments/${await nightRound(school, 'Monday loft')}/revisions`)
    .set(HEADER)
    .field('stage', 'smoothing')
    .attach('file', Buffer.from(walk({ slide: 2 })), 'walk.bvh')
    .expect(201);
  await untilRead(await school.as('Jomo Wanyama'), (handed.body as { shot: string }).shot);
  const id = handed.headers['x-request-id'] as string;
  await until(() => told.some((span) => span.name === 'read a motion' && attribute(span, 'ypsigraph.request') === id));
  expect(told.some((span) => span.name.startsWith('POST ') && attribute(span, 'ypsigraph.request') === id)).toBe(true);
});
