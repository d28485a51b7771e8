import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { createServer } from 'node:net';
import { join } from 'node:path';

export const ROOT = join(import.meta.dirname, '..', '..');
export const DATA = join(ROOT, '.data');

const isRoot = () => process.getuid?.() === 0;

/** Runs a command to its end, its output shown; throws when it fails. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', ...options });
  if (result.error) throw result.error;
  if (result.status !== 0) throw new Error(`${command} ${args.join(' ')} ended with ${result.status ?? result.signal}`);
}

/** Runs a command to its end and returns what it wrote; throws with what it said when it fails. */
export function capture(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: ROOT, encoding: 'utf8', ...options });
  if (result.error) throw result.error;
  if (result.status !== 0) {
    throw new Error(`${command} ${args.join(' ')} ended with ${result.status}:\n${result.stdout}${result.stderr}`);
  }
  return result.stdout;
}

/** Runs a command to its end without blocking; resolves with its exit code. */
export function runAsync(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: 'inherit', ...options });
    child.on('error', reject);
    child.on('close', (code) => resolve(code ?? 1));
  });
}

/** Installs Debian packages where one of the given files is missing. */
export function ensurePackages(wanted) {
  const missing = wanted.filter(({ present }) => !present()).map(({ name }) => name);
  if (missing.length === 0) return;
  console.log(`installing ${missing.join(', ')} …`);
  const sudo = isRoot() ? [] : ['sudo'];
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, 'apt-get', '-qq', ...args];
    run(command, rest, { env: environment, stdio: ['ignore', 'ignore', 'inherit'] });
  };
  apt('update');
  apt('install', '-y', '--no-install-recommends', ...missing);
}

/** Installs the npm packages the lock file names, where that has not been done for this lock file. */
export function ensureModules() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const stamp = join(ROOT, 'node_modules', '.lock-installed');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('installing npm packages …');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' },
  });
  writeFileSync(stamp, lock);
}

/** A port of the loopback that is free: the wanted one, or else any. */
export function freePort(wanted = 0) {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', () => (wanted ? resolve(freePort(0)) : reject(new Error('no free port'))));
    server.listen(wanted, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

export const isAlive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
};
