import { existsSync } from 'node:fs';
import type { Server } from 'node:http';
import { join } from 'node:path';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import compression from 'compression';
import connectPgSimple from 'connect-pg-simple';
import express, { type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import session from 'express-session';
import helmet from 'helmet';
import { Logger } from 'nestjs-pino';
import type pg from 'pg';
import { AppModule } from './app.module.ts';
import type { Configuration } from './config.ts';
import { Database } from './database/database.module.ts';
import { notePosition, readPosition } from './database/seen-position.ts';
import { nameRequest } from './http/request-id.ts';
import { Metrics } from './watch/metrics.ts';
import { traceRequest } from './watch/tracing.ts';
import { COOKIE } from './people/session.controller.ts';

/** Largest set of points that is taken in. */
const TRACKS_BYTES = 8 * 1024 * 1024;
const DAYS = 24 * 60 * 60 * 1000;

/** Puts the application together, ready to listen. */
export async function createApplication(configuration: Configuration): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(configuration), { bufferLogs: true });
  app.useLogger(app.get(Logger));
  app.enableShutdownHooks();
  app.set('trust proxy', trustedProxies(configuration));
  const database = app.get(Database);
  app.use('/api', nameRequest, traceRequest, app.get(Metrics).request);
  if (database.replica) app.use('/api', readPosition);
  // JSON and pages; a stream of events must not wait for a full block.
  app.use(
    compression({
      filter: (request, response) =>
        !/event-stream/.test(String(response.getHeader('Content-Type'))) && compression.filter(request, response),
    }),
  );
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          // Menus and dialogs set their place with style elements; scripts stay strict.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          upgradeInsecureRequests: configuration.HTTPS ? [] : null,
        },
      },
      strictTransportSecurity: configuration.HTTPS,
    }),
  );
  const PgStore = connectPgSimple(session);
  app.use(
    '/api',
    session({
      name: COOKIE,
      secret: configuration.SESSION_SECRET,
      // A session is as old as its sign-in: nothing is written for reading a page.
      store: new PgStore({
        pool: sessionsIn(database) as pg.Pool,
        ...{ tableName: 'sessions', disableTouch: true, errorLog: () => undefined },
      }),
      resave: false,
      saveUninitialized: false,
      cookie: { httpOnly: true, sameSite: 'lax', secure: configuration.HTTPS, maxAge: 14 * DAYS },
    }),
  );
  if (database.replica)
    app.use(
      '/api',
      notePosition(() => database.position()),
    );
  // What is answered is one person's, and may be other in a moment; what may be kept says so itself.
  app.use('/api', (_: Request, response: Response, next: NextFunction) => {
    response.setHeader('Cache-Control', 'private, no-store');
    next();
  });
  // Points on every frame of a long clip are more than other requests say. In a function of its own: a parser that the framework knows by its
  // name would take the place of the one for everything else.
  const large = express.json({ limit: TRACKS_BYTES });
  app.use(/^\/api\/revisions\/[^/]+\/tracks$/, (request: Request, response: Response, next: NextFunction) =>
    large(request, response, next),
  );
  patience(app.getHttpServer());
  if (!configuration.DEMO) app.use(['/api/docs', '/api/docs.json', '/api/docs.yaml'], staffOnly(database));
  describe(app);
  if (configuration.WEB_DIR) serveWeb(app, configuration.WEB_DIR);
  return app;
}

/** Where sessions are kept: asked as everything else is, again where the database was restarted, and of the replica while the primary is away. */
function sessionsIn(database: Database): Pick<pg.Pool, 'query'> {
  const query = async (sql: string, bind: unknown[]) => ({ rows: await database.select(sql, bind) });
  return { query: query as unknown as pg.Pool['query'] };
}

/** Whose word about the address of who asks is taken: numbers of proxies, or their addresses. Behind HTTPS at least one on this machine. */
function trustedProxies({ TRUSTED_PROXIES: trusted, HTTPS }: Configuration): number | string | false {
  if (/^\d+$/.test(trusted)) return Number(trusted);
  return trusted || (HTTPS && 'loopback');
}

/** The description of the API is for those who work with it. */
function staffOnly(database: Database): RequestHandler {
  return (request, response, next) => {
    const personId = request.session?.personId;
    const refuse = (status: number): void =>
      void response
        .status(status)
        .type('application/problem+json')
        .send(JSON.stringify({ type: 'not-allowed', title: 'This is for those who teach here.', status }));
    if (!personId) return refuse(401);
    database
      .select<{ role: string }>('SELECT role FROM people WHERE id = $1 AND archived_at IS NULL', [personId])
      .then(([person]) => (person && person.role !== 'student' ? next() : refuse(403)))
      .catch(next);
  };
}

/** A slow line may take three quarters of an hour for the largest file; one that says nothing is cut. */
function patience(server: Server): void {
  server.requestTimeout = 45 * 60_000;
  server.headersTimeout = 60_000;
  server.setTimeout(120_000);
}

function describe(app: NestExpressApplication): void {
  const description = new DocumentBuilder()
    .setTitle('Ypsigraph')
    .setDescription('What the web application uses. Requests that change something carry the header x-ypsigraph.')
    .setVersion('0.1.0')
    .addCookieAuth(COOKIE)
    .build();
  const document = SwaggerModule.createDocument(app, description);
  SwaggerModule.setup('api/docs', app, document, {
    jsonDocumentUrl: 'api/docs.json',
    yamlDocumentUrl: 'api/docs.yaml',
  });
}

/** The built pages. Every address that is no file and not the API's is a page of the application. */
function serveWeb(app: NestExpressApplication, folder: string): void {
  const index = join(folder, 'index.html');
  if (!existsSync(index)) throw new Error(`${folder} holds no built web application: run npm run build`);
  app.use(
    express.static(folder, {
      index: false,
      setHeaders: (response, path) => {
        const hashed = path.includes(`${join('/', 'assets')}/`);
        response.setHeader('Cache-Control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache');
      },
    }),
  );
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (request.method !== 'GET' || request.path.startsWith('/api') || /\.\w+$/.test(request.path)) return next();
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(index);
  });
}
