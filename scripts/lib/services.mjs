// Starts what stands in for a school's own services, each in a process of its own: an object store, a read replica, a pooler.
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { join } from 'node:path';

/** What they are made of, of Debian's packages. */
export const SERVICE_PACKAGES = [
  ...['proxy', 'account', 'container', 'object'].map((part) => ({
    name: `swift-${part}`,
    present: () => existsSync(`/usr/bin/swift-${part}-server`),
  })),
  { name: 'memcached', present: () => existsSync('/usr/bin/memcached') },
  { name: 'pgbouncer', present: () => existsSync('/usr/sbin/pgbouncer') },
];

/**
 * Starts a stand-in, which says its address.
 * @param root the project's folder
 */
async function start(root, program, args) {
  const child = fork(join(root, 'scripts/lib', `${program}.mjs`), args, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  const said = await Promise.race([
    once(child, 'message').then(([message]) => message),
    once(child, 'exit').then(([code]) => Promise.reject(new Error(`${program} ended with ${code}`))),
  ]);
  return {
    ...said,
    async tell(message) {
      child.send(message);
      await once(child, 'message');
    },
    async end() {
      if (child.exitCode !== null) return;
      const ended = once(child, 'exit');
      child.disconnect();
      await ended;
    },
  };
}

/** An object store. @param folder where it keeps what it is given; emptied first @param at where it listens; left out, on the loopback */
export async function startObjectStore(root, folder, bucket = 'saltwick', at = undefined) {
  const place = at ? [at.host, String(at.port)] : [];
  const { address, tell, end } = await start(root, 's3-stand-in', [folder, bucket, ...place]);
  return {
    environment: {
      S3_ENDPOINT: address,
      S3_BUCKET: bucket,
      S3_PATH_STYLE: '1',
      S3_ACCESS_KEY_ID: 'saltwick:desk',
      S3_SECRET_ACCESS_KEY: 'only-for-trying',
    },
    answer: (how, size = 0) => tell({ how, size }),
    crash: () => tell({ how: 'crash' }),
    end,
  };
}

/** A read replica of the server that a database lies on. @param name of its folder under the project's data */
export async function startReplica(root, database, name) {
  const { address, pid, tell, end } = await start(root, 'replica-stand-in', [database, name]);
  return {
    url: address,
    pid,
    pause: () => tell('pause'),
    resume: () => tell('resume'),
    crash: () => tell('crash'),
    end,
  };
}

/** A pooler in transaction mode before a database. @param folder for its settings */
export async function startPooler(root, database, folder) {
  const { address, end } = await start(root, 'pooler-stand-in', [database, folder]);
  return { url: address, end };
}
