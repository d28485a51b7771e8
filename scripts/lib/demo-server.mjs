import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { freePort, ROOT } from './run.mjs';

/** Starts the built server with the demo's people, and resolves with its address and how to end it. */
export async function startDemoServer(environment) {
  const child = spawn(process.execPath, [join(ROOT, 'apps/server/dist/main.js')], {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      SESSION_SECRET: 'only for this run, on the loopback, thrown away',
      PORT: String(await freePort()),
      DEMO: '1',
      LOG_LEVEL: 'silent',
      ...environment,
    },
  });
  const ended = new Promise((resolve) => child.once('exit', resolve));
  const address = await new Promise((resolve, reject) => {
    child.once('message', (message) => resolve(message.address));
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)));
  });
  return {
    address,
    async comeIn(person) {
      const response = await fetch(`${address}/api/demo/session`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-ypsigraph': '1' },
        body: JSON.stringify({ person }),
      });
      return response.headers.get('set-cookie').split(';')[0];
    },
    async stop() {
      child.kill('SIGTERM');
      await ended;
    },
  };
}

export const percentile = (values, share) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))];
