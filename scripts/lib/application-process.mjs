import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ROOT } from './run.mjs';

/** One process of the application, in a process group of its own, started again where it was killed. */
export class ApplicationProcess {
  /**
   * @param kind `server` or `worker`
   * @param environment besides that of this process
   * @param port of a server
   */
  constructor(kind, environment, port) {
    Object.assign(this, { kind, environment, port, name: `${kind} ${port ?? ''}`.trim() });
  }

  async start() {
    this.child = spawn(process.execPath, [join(ROOT, 'apps/server/dist/main.js')], {
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      detached: true,
      env: {
        ...process.env,
        SESSION_SECRET: 'only for this run, on the loopback, thrown away',
        PORT: String(this.port ?? 0),
        PROCESS: this.kind,
        DEMO: '1',
        LOG_LEVEL: 'silent',
        ...this.environment,
      },
    });
    this.ended = new Promise((resolve) => this.child.once('exit', resolve));
    if (this.kind !== 'worker')
      await Promise.race([new Promise((resolve) => this.child.once('message', resolve)), this.ended]);
  }

  get alive() {
    return this.child.exitCode === null && this.child.signalCode === null;
  }

  async kill() {
    this.child.kill('SIGKILL');
    await this.ended;
  }

  async stop() {
    if (!this.child) return;
    this.child.kill('SIGTERM');
    await Promise.race([this.ended, sleep(10_000)]);
    if (this.alive) await this.kill();
  }
}
