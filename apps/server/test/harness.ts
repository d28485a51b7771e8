import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import 'reflect-metadata';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { unzipSync } from 'fflate';
import pg from 'pg';
import request, { type Test } from 'supertest';
import type { Response } from 'supertest';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import type { WalkFaults } from '@ypsigraph/core/exemplar/walk-options';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import { type Shot, StoredReport } from '@ypsigraph/contract/shots';
import { asTheContractSays } from './answers.ts';
import { createApplication } from '../src/application.ts';
import { readConfiguration } from '../src/config.ts';
import { madeSchool, putFiles } from './made-school.ts';

export const HEADER = { 'x-ypsigraph': '1' };

/** The whole server on a database of its own, filled with the world of the night school. */
export interface School {
  readonly app: NestExpressApplication;
  readonly files: string;
  readonly database: pg.Client;
  /** A browser that someone is signed in with. */
  as(name: string): Promise<Visitor>;
  close(): Promise<void>;
}

export interface Visitor {
  get(path: string): Test;
  post(path: string, body?: object): Test;
  patch(path: string, body: object): Test;
  delete(path: string): Test;
  /** Hands a file in. */
  handIn(assignment: string, file: string | Buffer, fields?: Record<string, string>, name?: string): Promise<Response>;
}

/**
 * Opens the night school, a copy of the one that was made for this run.
 * @param settings of its server: its environment, or what makes it of the database's name
 * @param readings whether every motion has been measured when it opens, or waits to be
 */
export async function openSchool(
  settings: Record<string, string> | ((database: string) => Record<string, string>) = {},
  readings?: 'read' | 'waiting',
): Promise<School> {
  const base = process.env.TEST_DATABASE_URL;
  if (!base)
    throw new Error('TEST_DATABASE_URL is needed: run npm test, or name a PostgreSQL database that may be written to');
  const name = `school_${randomUUID().replaceAll('-', '')}`;
  const admin = new pg.Client({ connectionString: base });
  await admin.connect();
  const url = new URL(base);
  url.pathname = `/${name}`;
  const environment = typeof settings === 'function' ? settings(name) : settings;
  const files = await mkdtemp(join(tmpdir(), 'ypsigraph-files-'));
  const configuration = readConfiguration({
    DATABASE_URL: url.href,
    FILES_DIR: files,
    SESSION_SECRET: 'only for tests, on the loopback, thrown away',
    DEMO: '1',
    DEMO_CLIPS: '0',
    DEMO_TERM: '0',
    LOG_LEVEL: 'silent',
    ...environment,
  });
  const made = await madeSchool({
    base,
    admin,
    configuration,
    read: (readings ?? (environment.PROCESS === 'server' ? 'waiting' : 'read')) === 'read',
  });
  await admin.query(`CREATE DATABASE ${name} TEMPLATE ${made}`);
  const database = new pg.Client({ connectionString: url.href });
  await database.connect();
  await putFiles(database, files);
  const app = await createApplication(configuration);
  await app.listen(0, '127.0.0.1');
  const server = app.getHttpServer();

  return {
    app,
    files,
    database,
    as: async (person) => {
      const agent = request.agent(server);
      const { rows } = await database.query('SELECT id FROM people WHERE name = $1', [person]);
      await agent.post('/api/demo/session').set(HEADER).send({ person: rows[0].id }).expect(200);
      return {
        get: (path) => agent.get(path).expect((answer) => asTheContractSays('GET', path, answer)),
        post: (path, body) =>
          agent
            .post(path)
            .set(HEADER)
            .send(body)
            .expect((answer) => asTheContractSays('POST', path, answer)),
        patch: (path, body) =>
          agent
            .patch(path)
            .set(HEADER)
            .send(body)
            .expect((answer) => asTheContractSays('PATCH', path, answer)),
        delete: (path) =>
          agent
            .delete(path)
            .set(HEADER)
            .expect((answer) => asTheContractSays('DELETE', path, answer)),
        handIn: async (assignment, file, fields = {}, fileName = 'walk.bvh') => {
          const sending = agent.post(`/api/assignments/${assignment}/revisions`).set(HEADER);
          for (const [field, value] of Object.entries({ stage: 'smoothing', ...fields }))
            void sending.field(field, value);
          return sending.attach('file', Buffer.from(file), fileName);
        },
      };
    },
    close: async () => {
      await database.end();
      await app.close();
      await untilLeft(admin, name);
      await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await admin.end();
      await rm(files, { recursive: true, force: true });
    },
  };
}

/** Waits until every connection to a database has ended, so that none is cut off while it says goodbye; after five seconds it is cut off all the same. */
async function untilLeft(admin: pg.Client, name: string): Promise<void> {
  for (let k = 0; k < 100; k++) {
    const { rowCount } = await admin.query('SELECT 1 FROM pg_stat_activity WHERE datname = $1', [name]);
    if (rowCount === 0) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/** What was measured of a shot's newest revision. */
export async function reportOf(visitor: Visitor, shot: Shot, at = -1): Promise<StoredReport> {
  const { id, reading } = shot.revisions.at(at)!;
  const { body } = await visitor.get(`/api/revisions/${id}/report?of=${reading.report}`).expect(200);
  return StoredReport.parse(body);
}

export const walk = (faults: WalkFaults = {}): string => writeBvh(walkExemplar({}, faults));

/** The id of Night round as it is set for a cohort. */
export async function nightRound(school: School, cohort: string): Promise<string> {
  const { rows } = await school.database.query(
    `SELECT a.id FROM assignments a JOIN briefs b ON b.id = a.brief_id JOIN cohorts c ON c.id = a.cohort_id
      WHERE b.title = 'Night round' AND c.name = $1`,
    [cohort],
  );
  return rows[0].id as string;
}

/** The id of a student's shot. */
export async function shotOf(school: School, student: string, exercise = 'Night round'): Promise<string> {
  const { rows } = await school.database.query(
    `SELECT s.id FROM shots s JOIN people p ON p.id = s.student_id
      JOIN assignments a ON a.id = s.assignment_id JOIN briefs b ON b.id = a.brief_id
      WHERE p.name = $1 AND b.title = $2`,
    [student, exercise],
  );
  return rows[0].id as string;
}

/** Asks for a shot until its newest revision has been read, or reading has failed. */
export async function untilRead(visitor: Visitor, shot: string): Promise<Shot> {
  for (let i = 0; i < 550; i++) {
    const { body } = await visitor.get(`/api/shots/${shot}`).expect(200);
    const state = (body as Shot).revisions.at(-1)!.reading.state;
    if (state === 'read' || state === 'failed') return body as Shot;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error('the shot was never read');
}

/** The entries of an archive (zip) that is asked for. */
export async function entriesOf(asked: Test): Promise<Record<string, Uint8Array>> {
  const { body } = await asked
    .buffer(true)
    .parse((response, done) => {
      const chunks: Buffer[] = [];
      response.on('data', (chunk: Buffer) => chunks.push(chunk));
      response.on('end', () => done(null, Buffer.concat(chunks)));
    })
    .expect(200)
    .expect('content-type', 'application/zip');
  return unzipSync(body as Buffer);
}
