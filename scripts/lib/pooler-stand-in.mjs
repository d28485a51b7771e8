// A pooler before a PostgreSQL server, on the loopback: PgBouncer, which gives a connection to each transaction and takes it back.
//
//   node scripts/lib/pooler-stand-in.mjs DATABASE_URL FOLDER
//
// Who started it is sent `{ address }`, the URL of the same database through it.
import { spawn } from 'node:child_process';
import { chownSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { asPostgres, owner } from './cluster.mjs';
import { freePort } from './run.mjs';

const [database, folder] = process.argv.slice(2);
const url = new URL(database);
const port = await freePort();
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });
const user = decodeURIComponent(url.username);
writeFileSync(join(folder, 'users.txt'), `"${user}" "${decodeURIComponent(url.password)}"\n`, { mode: 0o600 });
writeFileSync(
  join(folder, 'pgbouncer.ini'),
  `[databases]
* = host=${url.hostname} port=${url.port}
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = ${port}
unix_socket_dir =
auth_type = scram-sha-256
auth_file = ${join(folder, 'users.txt')}
pool_mode = transaction
default_pool_size = 12
max_client_conn = 400
# A database that is back is asked again at once; what comes with it is to wait a quarter of a minute.
server_login_retry = 0.2
# Limits of time that a client names when it connects; they are set by the server for its role instead.
ignore_startup_parameters = statement_timeout,lock_timeout,idle_in_transaction_session_timeout,extra_float_digits
log_connections = 0
log_disconnections = 0
`,
);
if (process.getuid?.() === 0) {
  const { uid, gid } = owner();
  for (const path of [folder, join(folder, 'users.txt'), join(folder, 'pgbouncer.ini')]) chownSync(path, uid, gid);
}
const [command, args] = asPostgres('/usr/sbin/pgbouncer', ['-q', join(folder, 'pgbouncer.ini')]);
const child = spawn(command, args, { cwd: '/', stdio: ['ignore', 'ignore', 'inherit'], detached: true });
const end = () => {
  // The command that changes accounts does not pass signals on: its group has them all.
  if (child.exitCode === null) process.kill(-child.pid, 'SIGKILL');
  process.exit();
};
process.on('disconnect', end);
process.on('SIGTERM', end);
const answers = () =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1', () => resolve(socket.destroy() && true)).on('error', () =>
      resolve(false),
    );
  });
for (let k = 0; !(await answers()); k++) {
  if (k === 100 || child.exitCode !== null) throw new Error('the pooler did not start');
  await new Promise((resolve) => setTimeout(resolve, 100));
}
url.port = String(port);
process.send({ address: url.href, pid: child.pid });
