import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { runAdmin } from '../src/admin/admin.ts';

/** The environment of a server, as whoever runs it sets it. */
export type Environment = Record<string, string> & { DATABASE_URL: string; FILES_DIR: string };

/** Machines for one test file, each with a database of its own and nothing on it; gone when it is done. */
export interface Machines {
  readonly folder: string;
  empty(name: string): Promise<Environment>;
  end(): Promise<void>;
}

export async function machines(): Promise<Machines> {
  const base = process.env.TEST_DATABASE_URL!;
  const admin = new pg.Client({ connectionString: base });
  await admin.connect();
  const folder = await mkdtemp(join(tmpdir(), 'ypsigraph-machines-'));
  const made: string[] = [];
  return {
    folder,
    async empty(name) {
      const database = `machine_${randomUUID().replaceAll('-', '')}`;
      await admin.query(`CREATE DATABASE ${database}`);
      made.push(database);
      const url = new URL(base);
      url.pathname = `/${database}`;
      const secret = 'only for tests, on the loopback, thrown away';
      return { DATABASE_URL: url.href, FILES_DIR: join(folder, name), SESSION_SECRET: secret, LOG_LEVEL: 'silent' };
    },
    async end() {
      for (const name of made) await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await admin.end();
      await rm(folder, { recursive: true, force: true });
    },
  };
}

/** Carries a command of whoever runs the server out, and tells what it said. */
export async function carryOut(
  environment: Record<string, string>,
  ...args: string[]
): Promise<{ code: number; said: string }> {
  const lines: string[] = [];
  const spies = (['log', 'error'] as const).map((name) =>
    jest.spyOn(console, name).mockImplementation((...said: unknown[]) => void lines.push(String(said[0]))),
  );
  try {
    return { code: await runAdmin(args, environment), said: lines.join('\n') };
  } finally {
    for (const spy of spies) spy.mockRestore();
  }
}
