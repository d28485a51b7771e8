import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { ensureDatabase } from './cluster.mjs';
import { capture, freePort, ROOT } from './run.mjs';

/** Who has an account at the school's provider of identities. */
const ACCOUNTS = [
  { sub: 'hoku', email: 'hoku.kealoha@saltwick.example', email_verified: true, name: 'Hoku' },
  { sub: 'stranger', email: 'stranger@saltwick.example', email_verified: true, name: 'A Stranger' },
];

/**
 * A server with nobody in it but its first instructor, who has been invited as whoever runs the server does it.
 *
 * @param {{ url(database: string): string }} cluster where its database is made
 * @param {{ database: string, files: string, smtp: string }} where the name of its database, a folder for its files, and its mail server
 * @returns the server's address, the invitation's, and how to end it
 */
export async function startEmptySchool(cluster, { database, files, smtp }) {
  const port = await freePort();
  const address = `http://127.0.0.1:${port}`;
  const provider = spawn(process.execPath, [join(ROOT, 'scripts/lib/oidc-stand-in.mjs'), JSON.stringify(ACCOUNTS)], {
    stdio: ['ignore', 'pipe', 'ignore', 'ipc'],
  });
  const [issuer] = await once(provider.stdout, 'data');
  provider.send({ back: `${address}/api/session/oidc/back` });
  const environment = {
    ...process.env,
    DATABASE_URL: await ensureDatabase(cluster, database),
    FILES_DIR: files,
    SESSION_SECRET: 'only for tests, on the loopback, thrown away',
    WEB_DIR: join(ROOT, 'apps/web/dist'),
    PUBLIC_URL: address,
    LOG_LEVEL: 'error',
    DEMO: '0',
    SMTP_URL: smtp,
    MAIL_FROM: 'desk@saltwick.example',
    OIDC_ISSUER: String(issuer).trim(),
    OIDC_CLIENT_ID: 'ypsigraph',
    OIDC_CLIENT_SECRET: 'only for trying, on the loopback',
    OIDC_NAME: 'Saltwick’s account',
  };
  const said = capture(
    process.execPath,
    [
      join(ROOT, 'apps/server/bin/ypsigraph-admin.js'),
      ...['add-person', 'Ottoline Farrow', 'ottoline@saltwick.example', '--role', 'instructor'],
    ],
    { env: environment },
  );
  const invitation = said.trim().split('\n').at(-1);
  const server = spawn(
    process.execPath,
    [join(ROOT, 'apps/server/dist/main.js'), '--process', 'both', '--port', String(port)],
    { env: environment, stdio: ['ignore', 'inherit', 'inherit', 'ipc'] },
  );
  const ended = new Promise((resolve) => server.once('exit', resolve));
  await new Promise((resolve, reject) => {
    server.once('message', resolve);
    server.once('exit', (code) => reject(new Error(`the server ended with ${code}`)));
  });
  return {
    address,
    invitation,
    async stop() {
      server.kill('SIGTERM');
      provider.kill();
      await ended;
    },
  };
}
