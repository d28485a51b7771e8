// Starts the stand-in for an object store, in a process of its own.
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { join } from 'node:path';

/** What it is made of, of Debian's packages. */
export const OBJECT_STORE_PACKAGES = [
  ...['proxy', 'account', 'container', 'object'].map((part) => ({
    name: `swift-${part}`,
    present: () => existsSync(`/usr/bin/swift-${part}-server`),
  })),
  { name: 'memcached', present: () => existsSync('/usr/bin/memcached') },
];

/**
 * @param root the project's folder
 * @param folder where it keeps what it is given; emptied first
 * @returns what the environment of a server names it by, how to have it answer badly, and how to end it
 */
export async function startObjectStore(root, folder, bucket = 'saltwick') {
  const child = fork(join(root, 'scripts/lib/s3-stand-in.mjs'), [folder, bucket], {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  const [{ address }] = await once(child, 'message');
  return {
    pid: child.pid,
    environment: {
      S3_ENDPOINT: address,
      S3_BUCKET: bucket,
      S3_PATH_STYLE: '1',
      S3_ACCESS_KEY_ID: 'saltwick:desk',
      S3_SECRET_ACCESS_KEY: 'only-for-trying',
    },
    async answer(how, size = 0) {
      child.send({ how, size });
      await once(child, 'message');
    },
    async end() {
      if (child.exitCode !== null) return;
      child.disconnect();
      await once(child, 'exit');
    },
  };
}
