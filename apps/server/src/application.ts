import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import connectPgSimple from 'connect-pg-simple';
import express, { type NextFunction, type Request, type Response } from 'express';
import session from 'express-session';
import helmet from 'helmet';
import { Logger } from 'nestjs-pino';
import { cleanupOpenApiDoc } from 'nestjs-zod';
import pg from 'pg';
import { AppModule } from './app.module.ts';
import type { Configuration } from './config.ts';
import { COOKIE } from './people/session.controller.ts';

const DAYS = 24 * 60 * 60 * 1000;

/** Puts the application together, ready to listen. */
export async function createApplication(configuration: Configuration): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(configuration), { bufferLogs: true });
  app.useLogger(app.get(Logger));
  app.enableShutdownHooks();
  if (configuration.HTTPS) app.set('trust proxy', 1);
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          // Menus and dialogs set their place with style elements; scripts stay strict.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          upgradeInsecureRequests: configuration.HTTPS ? [] : null,
        },
      },
      strictTransportSecurity: configuration.HTTPS,
    }),
  );
  const pool = new pg.Pool({ connectionString: configuration.DATABASE_URL, max: 4 });
  pool.on('error', () => undefined); // a restarted database: the pool connects again by itself
  const PgStore = connectPgSimple(session);
  app.use(
    '/api',
    session({
      name: COOKIE,
      secret: configuration.SESSION_SECRET,
      store: new PgStore({ pool, tableName: 'sessions', errorLog: () => undefined }),
      resave: false,
      saveUninitialized: false,
      cookie: { httpOnly: true, sameSite: 'lax', secure: configuration.HTTPS, maxAge: 14 * DAYS },
    }),
  );
  app.getHttpServer().on('close', () => void pool.end());
  describe(app);
  if (configuration.WEB_DIR) serveWeb(app, configuration.WEB_DIR);
  return app;
}

function describe(app: NestExpressApplication): void {
  const description = new DocumentBuilder()
    .setTitle('Ypsigraph')
    .setDescription('What the web application uses. Requests that change something carry the header x-ypsigraph.')
    .setVersion('0.1.0')
    .addCookieAuth(COOKIE)
    .build();
  const document = cleanupOpenApiDoc(SwaggerModule.createDocument(app, description));
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
