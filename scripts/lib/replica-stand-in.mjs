// A read replica of a PostgreSQL cluster, on the loopback: a second server that follows the first by streaming.
//
//   node scripts/lib/replica-stand-in.mjs PRIMARY_URL NAME
//
// Who started it is sent `{ address }` (the URL of the same database there), and sends it `pause` or `resume`: what is committed meanwhile is not seen there; or
// `crash`: it dies, and is started again.
import { spawnSync } from 'node:child_process';
import { chmodSync, chownSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { asPostgres, clusterFolder, owner, postgresBinaries } from './cluster.mjs';
import { freePort } from './run.mjs';

const [primary, name] = process.argv.slice(2);
const url = new URL(primary);
const binaries = postgresBinaries();
const folder = clusterFolder(name);
const data = join(folder, 'postgres');
const run = (program, args, environment = {}) => {
  const [command, rest] = asPostgres(join(binaries, program), args);
  const { status, stderr } = spawnSync(command, rest, {
    cwd: '/',
    encoding: 'utf8',
    stdio: ['ignore', 'ignore', program === 'pg_ctl' ? 'ignore' : 'pipe'],
    env: { ...process.env, ...environment },
  });
  if (status !== 0) throw new Error(`${program} failed: ${stderr}`);
};
// One that was left over from a run that was killed.
if (spawnSync(...asPostgres(join(binaries, 'pg_ctl'), ['-D', data, 'status']), { cwd: '/' }).status === 0)
  run('pg_ctl', ['-D', data, '-m', 'immediate', 'stop']);
rmSync(data, { recursive: true, force: true });
mkdirSync(data, { recursive: true, mode: 0o700 });
if (process.getuid?.() === 0) {
  const { uid, gid } = owner();
  chownSync(data, uid, gid);
}
chmodSync(data, 0o700);
const password = { PGPASSWORD: decodeURIComponent(url.password) };
const from = ['-h', url.hostname, '-p', url.port, '-U', decodeURIComponent(url.username)];
run('pg_basebackup', [...from, '-D', data, '-R', '-X', 'stream', '-c', 'fast'], password);
const port = await freePort();
const settings = `-p ${port} -h 127.0.0.1 -c unix_socket_directories='' -c max_connections=200 -c hot_standby=on`;
run('pg_ctl', ['-D', data, '-w', '-t', '60', '-l', join(data, 'server.log'), '-o', settings, 'start']);
const pid = Number(readFileSync(join(data, 'postmaster.pid'), 'utf8').split('\n')[0]);
url.port = String(port);

const end = () => {
  spawnSync(...asPostgres(join(binaries, 'pg_ctl'), ['-D', data, '-w', '-m', 'immediate', 'stop']), { cwd: '/' });
  rmSync(data, { recursive: true, force: true });
  process.exit();
};
process.on('disconnect', end);
process.on('SIGTERM', end);
process.on('message', async (asked) => {
  if (asked === 'crash') {
    run('pg_ctl', ['-D', data, '-w', '-m', 'immediate', '-l', join(data, 'server.log'), 'restart']);
    return void process.send({ done: true });
  }
  const client = new pg.Client({ connectionString: url.href });
  await client.connect();
  await client.query(`SELECT pg_wal_replay_${asked}()`);
  // A pause is there only once the record that is being replayed is done.
  for (let k = 0; asked === 'pause' && k < 100; k++) {
    const { rows } = await client.query('SELECT pg_get_wal_replay_pause_state() AS state');
    if (rows[0].state === 'paused') break;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  await client.end();
  process.send({ done: true });
});
process.send({ address: url.href, pid });
