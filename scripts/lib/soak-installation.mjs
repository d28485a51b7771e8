// The documented installation, in an empty Debian root: every command of docs/running.md as it stands there, the processes as their units say, and then
// a review from the first invitation to a shot that is sent back, through the proxy.
import { readFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { commandsOf, DebianRoot } from './debian-root.mjs';
import { expectNoInvitation, proxyAt, review } from './first-review.mjs';
import { ROOT } from './run.mjs';

const PORTS = [80, 443, 3001, 3002, 5432];
const isTaken = (port) =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1', () => (socket.destroy(), resolve(true)));
    socket.on('error', () => resolve(false));
  });

/**
 * @param {{ expectThat: (what: string, holds: boolean, detail?: string) => void, say: (text: string) => void, folder: string, motion: string,
 *   keep?: string }} soak `keep`: a root to use, and to leave
 */
export async function tryInstallation({ expectThat, say, folder, motion, keep }) {
  if (process.getuid?.() !== 0) return say('left out: an empty root is made by root alone');
  for (const port of PORTS) if (await isTaken(port)) return say(`left out: port ${port} is taken on this machine`);
  const machine = new DebianRoot(keep ?? join(folder, 'root'));
  try {
    say('making an empty root of Debian …');
    machine.make();
    for (const [k, block] of commandsOf(readFileSync(join(ROOT, 'docs/running.md'), 'utf8')).entries()) {
      const failed = await machine.follow(block, say);
      expectThat(
        `commands ${k + 1} of the document: ${block.trim().split('\n')[0]} …`,
        failed === undefined,
        failed ?? '',
      );
      if (failed !== undefined) return;
    }
    const { children } = machine;
    expectThat(
      'every process that was started lives',
      children.length === 4 && children.every(({ child }) => child.exitCode === null),
      children.map(({ name, child }) => `${name} ${child.exitCode ?? 'lives'}`).join(', '),
    );
    for (const port of [3001, 3002]) {
      const health = await fetch(`http://127.0.0.1:${port}/api/ready`).then(
        (answer) => answer.status,
        (error) => String(error.cause ?? error),
      );
      expectThat(`a server answers on ${port}`, health === 200, `${health}`);
    }
    await review({ expectThat, said: machine.said, motion, ask: proxyAt('127.0.0.1') });
    const log =
      children.map((one) => one.log()).join('') +
      readFileSync(join(machine.folder, 'var/log/nginx/ypsigraph.log'), 'utf8');
    expectNoInvitation({ expectThat, said: machine.said, log });
  } finally {
    await machine.end(keep !== undefined);
  }
}
