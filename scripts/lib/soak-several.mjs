// The documented installation on several machines: every command of docs/running-on-several.md as it stands there, each machine an empty Debian root with
// a network namespace of its own; an object store that stands in for a school's; a review through the proxy; and then one desk after the other is killed.
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { commandsOf, DebianRoot } from './debian-root.mjs';
import { expectNoInvitation, proxyAt, review } from './first-review.mjs';
import { capture, ensurePackages, ROOT } from './run.mjs';
import { SERVICE_PACKAGES, startObjectStore } from './services.mjs';

/** The machines of the document, each with its number in 10.47.0.0/24. */
const MACHINES = { database: 1, replica: 2, desk1: 3, desk2: 4, proxy: 5 };
const STORE = { host: '10.47.0.9', port: 9000 };
const BRIDGE = 'yps0';
const SECRETS = 'root/ypsigraph.secrets';
const address = (name) => `10.47.0.${MACHINES[name]}`;
const namespaceOf = (name) => `yps-${name}`;
const ip = (...args) => capture('ip', args);

/** A network of machines: a bridge here, on which the store is, and a namespace for each. */
function layCables() {
  ip('link', 'add', BRIDGE, 'type', 'bridge');
  ip('addr', 'add', `${STORE.host}/24`, 'dev', BRIDGE);
  ip('link', 'set', BRIDGE, 'up');
  for (const [name, number] of Object.entries(MACHINES)) {
    const space = namespaceOf(name);
    const [here, there] = [`yps${number}`, 'eth0'];
    ip('netns', 'add', space);
    ip('link', 'add', here, 'type', 'veth', 'peer', 'name', there, 'netns', space);
    ip('link', 'set', here, 'master', BRIDGE, 'up');
    ip('-n', space, 'addr', 'add', `${address(name)}/24`, 'dev', there);
    ip('-n', space, 'link', 'set', there, 'up');
    ip('-n', space, 'link', 'set', 'lo', 'up');
  }
}

function pullCables() {
  for (const name of Object.keys(MACHINES)) {
    // A network lives as long as anything runs in it.
    const pids = spawnSync('ip', ['netns', 'pids', namespaceOf(name)], { encoding: 'utf8' }).stdout.split(/\s+/);
    for (const pid of pids.filter(Boolean)) process.kill(Number(pid), 'SIGKILL');
    spawnSync('ip', ['netns', 'del', namespaceOf(name)]);
  }
  spawnSync('ip', ['link', 'del', BRIDGE]);
}

/** @param {{ expectThat: (what: string, holds: boolean, detail?: string) => void, say: (text: string) => void, folder: string, motion: string }} soak */
export async function trySeveral({ expectThat, say, folder, motion }) {
  if (process.getuid?.() !== 0) return say('left out: machines are made by root alone');
  ensurePackages([...SERVICE_PACKAGES, { name: 'iproute2', present: () => spawnSync('ip', ['-V']).status === 0 }]);
  const machines = {};
  let store;
  try {
    pullCables();
    layCables();
    store = await startObjectStore(ROOT, join(folder, 'store'), 'saltwick', STORE);
    const hosts = [...Object.keys(MACHINES).map((name) => `${address(name)} ${name}`), `${STORE.host} store`].join(
      '\n',
    );
    for (const name of Object.keys(MACHINES)) {
      say(`making an empty root of Debian for ${name} …`);
      machines[name] = new DebianRoot(join(folder, name), namespaceOf(name));
      machines[name].make(
        `\n${hosts}\n`,
        machines.database && name !== 'database' ? machines.database.folder : undefined,
      );
    }
    for (const block of commandsOf(readFileSync(join(ROOT, 'docs/running-on-several.md'), 'utf8'))) {
      const [, on] = /^# on (.*)$/m.exec(block) ?? [];
      // What needs an engine for containers names no machine.
      if (!on) continue;
      for (const name of on.split(', ')) {
        const failed = await machines[name].follow(block, say);
        expectThat(`on ${name}: ${block.trim().split('\n')[1]} …`, failed === undefined, failed ?? '');
        if (failed !== undefined) return;
        // The document asks for them to be carried by hand.
        if (block.includes(`cat > /${SECRETS}`)) carry(machines, name);
      }
    }
    const ask = proxyAt(address('proxy'));
    const { said } = machines.desk1;
    const signedIn = await review({ expectThat, said, motion, ask });
    if (!signedIn) return;
    const query = (name, sql) =>
      machines[name].within(`runuser -u postgres -- psql --tuples-only --no-align ypsigraph --command "${sql}"`);
    const follows = query('database', 'SELECT count(*) FROM pg_stat_replication').stdout.trim();
    expectThat('the replica follows', follows === '1', follows);
    const asked = () =>
      Number(query('replica', "SELECT xact_commit FROM pg_stat_database WHERE datname = 'ypsigraph'").stdout.trim());
    // A server of PostgreSQL tells what it did of late, every ten seconds where it has nothing to do.
    await sleep(12_000);
    const before = asked();
    for (let k = 0; k < 20; k++) await ask('GET', '/api/docket', signedIn.instructor);
    await sleep(12_000);
    expectThat('the docket is read from the replica', asked() - before >= 20, `${asked() - before} transactions`);
    const kept = machines.desk1.within('ls /var/lib/ypsigraph/files').stdout.trim().split('\n');
    const health = await ask('GET', '/api/ready');
    expectThat('files are kept in the store', health.json().files === true, `${health.text}; on desk1 ${kept}`);
    for (const name of ['desk1', 'desk2']) {
      const server = machines[name].children.find((one) => one.name.startsWith('ypsigraph-server'));
      spawnSync('ip', ['netns', 'exec', namespaceOf(name), 'ip', 'link', 'set', 'eth0', 'down']);
      const answers = [];
      for (let k = 0; k < 10; k++) answers.push((await ask('GET', '/api/docket', signedIn.instructor)).status);
      spawnSync('ip', ['netns', 'exec', namespaceOf(name), 'ip', 'link', 'set', 'eth0', 'up']);
      expectThat(
        `while ${name} can’t be reached, the other desk answers`,
        answers.every((status) => status === 200) && server?.child.exitCode === null,
        answers.join(' '),
      );
      await sleep(11_000);
    }
    const log = Object.values(machines)
      .flatMap(({ children }) => children.map((one) => one.log()))
      .concat(readFileSync(join(machines.proxy.folder, 'var/log/nginx/ypsigraph.log'), 'utf8'))
      .join('');
    expectNoInvitation({ expectThat, said, log });
  } finally {
    for (const machine of Object.values(machines).reverse()) await machine.end();
    await store?.end();
    pullCables();
  }
}

/** Carries the secrets from one machine to the others. */
function carry(machines, from) {
  for (const [name, machine] of Object.entries(machines))
    if (name !== from) capture('cp', ['-p', join(machines[from].folder, SECRETS), join(machine.folder, SECRETS)]);
}
