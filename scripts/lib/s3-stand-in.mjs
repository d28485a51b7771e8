// An object store that speaks S3, on the loopback, which stands in for a school's own: Debian's OpenStack Swift with its S3 interface, one process of each
// of its servers. Before it lies a door that may be told to let nothing well through: to answer slowly, with 503, or with half of what there is.
//
//   node scripts/lib/s3-stand-in.mjs FOLDER BUCKET [HOST PORT]
//
// Who started it is sent `{ address }`, and sends it `{ how, size }`: `well`, `slow` (so many milliseconds before each answer), `away` (503), `half` (every
// so many-th answer is cut in the middle), `crash` (it dies, and is started again).
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { once } from 'node:events';
import { createServer, request as ask } from 'node:http';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { CreateBucketCommand, S3Client } from '@aws-sdk/client-s3';
import { freePort } from './run.mjs';

const [folder, bucket, host = '127.0.0.1', port = '0'] = process.argv.slice(2);
const [etc, devices] = [join(folder, 'etc'), join(folder, 'devices')];
rmSync(folder, { recursive: true, force: true });
mkdirSync(etc, { recursive: true });
mkdirSync(join(devices, 'disk'), { recursive: true });

const KEEPERS = ['account', 'container', 'object'];
const ports = Object.fromEntries(
  await Promise.all([...KEEPERS, 'proxy', 'memory'].map(async (name) => [name, await freePort()])),
);
const shared = (name) => `[DEFAULT]
bind_ip = 127.0.0.1
bind_port = ${ports[name]}
workers = 0
user = root
swift_dir = ${etc}
devices = ${devices}
mount_check = false
log_address = /nonexistent
log_level = ERROR
`;
for (const name of KEEPERS)
  writeFileSync(
    join(etc, `${name}.conf`),
    `${shared(name)}[pipeline:main]
pipeline = ${name}-server
[app:${name}-server]
use = egg:swift#${name}
`,
  );
/** What needs no settings of its own. */
const FILTERS = ['catch_errors', 'gatekeeper', 'listing_formats', 'bulk', 'slo', 'dlo', 'copy', 'symlink'];
writeFileSync(
  join(etc, 'proxy.conf'),
  `${shared('proxy')}[pipeline:main]
pipeline = catch_errors gatekeeper cache listing_formats bulk s3api tempauth copy dlo slo versioned_writes symlink proxy-server
[app:proxy-server]
use = egg:swift#proxy
account_autocreate = true
[filter:cache]
use = egg:swift#memcache
memcache_servers = 127.0.0.1:${ports.memory}
[filter:s3api]
use = egg:swift#s3api
location = us-east-1
auth_pipeline_check = false
[filter:tempauth]
use = egg:swift#tempauth
user_saltwick_desk = only-for-trying .admin
[filter:versioned_writes]
use = egg:swift#versioned_writes
allow_object_versioning = true
${FILTERS.map((name) => `[filter:${name}]\nuse = egg:swift#${name}\n`).join('')}`,
);
// Where each server keeps what: one disk, each thing once.
const rings = `
from swift.common.ring import RingBuilder
for name, port in ${JSON.stringify(KEEPERS.map((name) => [name, ports[name]]))}:
    builder = RingBuilder(2, 1, 0)
    builder.add_dev({'id': 0, 'region': 1, 'zone': 1, 'ip': '127.0.0.1', 'port': port, 'replication_ip': '127.0.0.1', 'replication_port': port, 'device': 'disk', 'weight': 1.0})
    builder.rebalance()
    builder.get_ring().save(${JSON.stringify(etc)} + '/' + name + '.ring.gz')
`;
const made = spawnSync('/usr/bin/python3', ['-c', rings], { encoding: 'utf8' });
if (made.status !== 0) throw new Error(`the store could not be set up: ${made.stderr}`);

/** A program that is started again whenever it ends: one that dies while it starts, or is killed, comes back. */
const kept = (command, args) => {
  const own = {};
  const start = () => {
    own.child = spawn(command, args, { stdio: 'ignore' });
    own.child.once('exit', () => setTimeout(start, 200));
  };
  start();
  return own;
};
const children = [
  kept('memcached', ['-u', 'nobody', '-l', '127.0.0.1', '-p', String(ports.memory), '-m', '16']),
  ...[...KEEPERS, 'proxy'].map((name) =>
    kept('/usr/bin/python3', [`/usr/bin/swift-${name}-server`, join(etc, `${name}.conf`)]),
  ),
];
// However this process ends, they end with it.
process.on('exit', () => children.forEach(({ child }) => child.kill('SIGKILL')));
process.on('disconnect', () => process.exit());
process.on('SIGTERM', () => process.exit());

let mood = { how: 'well', size: 0 };
let count = 0;
const door = createServer((request, response) => {
  count++;
  if (mood.how === 'away') {
    request.resume();
    response.writeHead(503, { 'Content-Type': 'application/xml' });
    return void response.end(
      '<?xml version="1.0"?><Error><Code>SlowDown</Code><Message>Please slow down</Message></Error>',
    );
  }
  const cut = mood.how === 'half' && count % mood.size === 0 && request.method === 'GET';
  const pass = () => {
    const passed = ask(
      {
        host: '127.0.0.1',
        port: ports.proxy,
        method: request.method,
        path: request.url,
        headers: { ...request.headers, connection: 'close' },
        // A connection that was used before may be closed at any moment.
        agent: false,
        insecureHTTPParser: true,
      },
      (answer) => {
        response.writeHead(answer.statusCode, answer.headers);
        // To a question for the head it gives the words of a refusal as well, which belong to no answer.
        if (request.method === 'HEAD') return void response.end();
        if (!cut) return void answer.pipe(response);
        const whole = [];
        answer.on('data', (chunk) => whole.push(chunk));
        answer.on('end', () => {
          const bytes = Buffer.concat(whole);
          response.write(bytes.subarray(0, Math.floor(bytes.length / 2)), () => response.destroy());
        });
      },
    );
    passed.on('error', () => response.writableEnded || response.destroy());
    request.pipe(passed);
  };
  if (mood.how === 'slow') setTimeout(pass, mood.size);
  else pass();
});
await new Promise((resolve) => door.listen(Number(port), host, resolve));
/** Waits until the store answers at all, whatever it says. */
async function untilItAnswers() {
  for (let k = 0; ; k++)
    try {
      return await fetch(`http://127.0.0.1:${ports.proxy}/info`, { signal: AbortSignal.timeout(2_000) });
    } catch (error) {
      if (k === 100) throw error;
      await sleep(250);
    }
}
await untilItAnswers();
const address = `http://${host}:${door.address().port}`;
const client = new S3Client({
  endpoint: address,
  region: 'us-east-1',
  forcePathStyle: true,
  credentials: { accessKeyId: 'saltwick:desk', secretAccessKey: 'only-for-trying' },
});
for (let k = 0; ; k++)
  try {
    await client.send(new CreateBucketCommand({ Bucket: bucket }));
    break;
  } catch (error) {
    // On a machine with much else to do its servers take a while.
    if (k === 240) throw error;
    await sleep(250);
  }
process.on('message', async (asked) => {
  if (asked.how === 'crash') {
    const ended = Promise.all(children.map(({ child }) => child.exitCode ?? child.signalCode ?? once(child, 'exit')));
    for (const { child } of children) child.kill('SIGKILL');
    await ended;
  } else mood = asked;
  process.send({ done: true });
});
process.send({ address });
