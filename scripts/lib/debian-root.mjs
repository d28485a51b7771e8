// A machine to try a document on: an empty Debian root, with a network of its own where it is one of several, in which the commands of the document are
// carried out and the processes are started as their units say. Root alone can make one.
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { capture, ensurePackages, ROOT, run } from './run.mjs';
import { environmentFile, startedAs } from './units.mjs';

const SUITE = 'trixie';
const CERTIFICATES = '/etc/ssl/certs/ca-certificates.crt';
const ENVIRONMENT = {
  PATH: '/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin',
  HOME: '/root',
  LANG: 'C.UTF-8',
  DEBIAN_FRONTEND: 'noninteractive',
  NODE_EXTRA_CA_CERTS: CERTIFICATES,
};
/** Stands in for the init system that an empty root has none of: it starts and stops what comes with Debian, and writes down the rest. */
const SYSTEMCTL = `#!/bin/sh
case "$1 $2" in
"start postgresql" | "stop postgresql") service "$2" "$1" > /dev/null ;;
"restart postgresql") service "$2" stop > /dev/null && service "$2" start > /dev/null ;;
"restart pgbouncer")
  # Debian's own script does not know it again by the program's path, in a root within another.
  kill "$(cat /run/postgresql/pgbouncer.pid)"
  while [ -e /run/postgresql/pgbouncer.pid ]; do sleep 0.1; done
  service "$2" start > /dev/null ;;
*) echo "$@" >> /run/systemctl.asked ;;
esac
`;
const ASKED = 'run/systemctl.asked';
/** What Debian starts as soon as it is installed, on a machine that has booted. */
const STARTED_BY_DEBIAN = ['postgresql', 'pgbouncer'];

/** The commands of a document, a block at a time. */
export const commandsOf = (markdown) => [...markdown.matchAll(/^```sh\n([\s\S]*?)^```$/gm)].map(([, block]) => block);

export class DebianRoot {
  children = [];
  said = '';
  #mounted = [];
  #where = '/root';

  /**
   * @param folder where it lies
   * @param network a network namespace that its commands and processes run in; left out, this machine's own. What comes from the registries comes by
   *   this machine's network in any case, which stands for a machine's way to the outside.
   */
  constructor(folder, network) {
    this.folder = folder;
    this.network = network;
  }

  /** Makes it, or takes what is there. @param hosts lines for its `/etc/hosts` @param like another, of which this one is a copy */
  make(hosts = '', like = undefined) {
    ensurePackages([{ name: 'debootstrap', present: () => existsSync('/usr/sbin/debootstrap') }]);
    const root = this.folder;
    if (!existsSync(join(root, 'etc/debian_version'))) {
      mkdirSync(root, { recursive: true });
      if (like) capture('cp', ['-ax', `${like}/.`, root]);
      else capture('debootstrap', ['--variant=minbase', '--include=ca-certificates', SUITE, root]);
    }
    for (const place of ['proc', 'dev']) {
      run('mount', ['--bind', `/${place}`, join(root, place)]);
      this.#mounted.push(join(root, place));
    }
    cpSync('/etc/resolv.conf', join(root, 'etc/resolv.conf'), { dereference: true });
    writeFileSync(join(root, 'etc/hosts'), readFileSync('/etc/hosts', 'utf8') + hosts);
    writeFileSync(join(root, 'usr/local/sbin/systemctl'), SYSTEMCTL, { mode: 0o755 });
    // Whom this machine trusts the root trusts as well: what reaches the registries may have a certificate of its own.
    cpSync(CERTIFICATES, join(root, CERTIFICATES), { dereference: true });
    // The address of the document stands for this checkout.
    rmSync(join(root, 'srv/ypsigraph.git'), { recursive: true, force: true });
    capture('git', ['clone', '--quiet', '--bare', ROOT, join(root, 'srv/ypsigraph.git')]);
    writeFileSync(
      join(root, 'etc/gitconfig'),
      '[url "/srv/ypsigraph.git"]\n\tinsteadOf = https://git.example/ypsigraph.git\n[safe]\n\tdirectory = *\n',
    );
  }

  #command(rest, outside = false) {
    const inRoot = ['chroot', this.folder, ...rest];
    return this.network && !outside ? ['ip', 'netns', 'exec', this.network, ...inRoot] : inRoot;
  }

  /** Carries a command out to its end. @param outside by this machine's network */
  within(command, outside = false) {
    const [program, ...rest] = this.#command(['/bin/bash', '-c', command], outside);
    return spawnSync(program, rest, { encoding: 'utf8', maxBuffer: 64e6, env: ENVIRONMENT });
  }

  /** Carries a block of a document out where the one before has left off; starts what it asks for. Returns why it failed, or `undefined`. */
  async follow(block, say) {
    const path = join(this.folder, ASKED);
    const before = existsSync(path) ? readFileSync(path, 'utf8').length : 0;
    const result = this.within(
      `set -euo pipefail\ncd ${this.#where}\ntrap 'pwd > /run/where' EXIT\n${block}`,
      /apt-get|npm ci/.test(block),
    );
    this.said += result.stdout;
    if (result.status !== 0) return `${result.stdout.slice(-1_200)}\n${result.stderr.slice(-800)}`;
    this.#where = readFileSync(join(this.folder, 'run/where'), 'utf8').trim();
    if (block.includes('apt-get install'))
      for (const service of STARTED_BY_DEBIAN.filter((name) => existsSync(join(this.folder, 'etc/init.d', name))))
        this.within(`service ${service} start`);
    const asked = existsSync(path) ? readFileSync(path, 'utf8').slice(before) : '';
    for (const line of asked.split('\n').filter(Boolean)) {
      say(`systemctl ${line}`);
      this.children.push(...this.#obey(line));
    }
    if (asked) await sleep(4_000);
    return undefined;
  }

  /** Does what the init system would: starts what is enabled as its unit says. */
  #obey(line) {
    const [what, ...names] = line.split(' ').filter((word) => !word.startsWith('--'));
    if (what === 'enable')
      return names.map((name) => {
        const [unit, instance] = name.split('@');
        const text = readFileSync(join(this.folder, `etc/systemd/system/${unit}@.service`), 'utf8');
        const { environmentPath } = startedAs(text, instance, {});
        const file = environmentFile(readFileSync(join(this.folder, environmentPath), 'utf8'));
        const { command, program, args, folder, user, environment } = startedAs(text, instance, file);
        const set = Object.entries({ PATH: '/usr/bin:/bin', ...environment }).map(([key, value]) => `${key}=${value}`);
        const as = ['runuser', '-u', user, '--', 'env', '-i', '-C', folder, ...set];
        return this.#start(name, [...as, command, program, ...args]);
      });
    if (/^(reload-or-)?(re)?start$/.test(what))
      return names.map((name) => this.#start(name, [name, '-g', 'daemon off;']));
    return [];
  }

  #start(name, command) {
    const [program, ...rest] = this.#command(command);
    const child = spawn(program, rest, { stdio: ['ignore', 'pipe', 'pipe'] });
    let log = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (log += String(text)));
    return { name, child, log: () => log };
  }

  /** Ends all that it runs, and removes it. @param keep leaves what lies there */
  async end(keep = false) {
    for (const { child } of this.children.reverse()) {
      if (child.exitCode !== null || child.signalCode !== null) continue;
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await Promise.race([ended, sleep(8_000)]);
    }
    for (const service of STARTED_BY_DEBIAN) this.within(`service ${service} stop`);
    for (const place of this.#mounted.reverse()) spawnSync('umount', ['-l', place]);
    if (!keep) rmSync(this.folder, { recursive: true, force: true });
  }
}
