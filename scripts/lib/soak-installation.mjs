// The documented installation, in an empty Debian root: every command of docs/running.md as it stands there, the processes as their units say, and then
// a review from the first invitation to a shot that is sent back, through the proxy.
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:https';
import { connect } from 'node:net';
import { join } from 'node:path';
import { capture, ensurePackages, ROOT, run } from './run.mjs';
import { environmentFile, startedAs } from './units.mjs';

const SUITE = 'trixie';
const HOST = 'desk.example';
const PORTS = [80, 443, 3001, 3002, 5432];
const CERTIFICATES = '/etc/ssl/certs/ca-certificates.crt';
const ENVIRONMENT = {
  PATH: '/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin',
  HOME: '/root',
  LANG: 'C.UTF-8',
  DEBIAN_FRONTEND: 'noninteractive',
  NODE_EXTRA_CA_CERTS: CERTIFICATES,
};
const PASSWORD = 'harbour lights 47';
/** Stands in for the init system that an empty root has none of: it writes down what it was asked for. */
const SYSTEMCTL = '#!/bin/sh\necho "$@" >> /run/systemctl.asked\n';

/** The commands of a document, a block at a time. */
export const commandsOf = (markdown) => [...markdown.matchAll(/^```sh\n([\s\S]*?)^```$/gm)].map(([, block]) => block);

const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
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
  ensurePackages([{ name: 'debootstrap', present: () => existsSync('/usr/sbin/debootstrap') }]);
  const root = keep ?? join(folder, 'root');
  const mounted = [];
  const children = [];
  const within = (command) =>
    spawnSync('chroot', [root, '/bin/bash', '-c', command], { encoding: 'utf8', maxBuffer: 64e6, env: ENVIRONMENT });
  try {
    if (!existsSync(join(root, 'etc/debian_version'))) {
      say(`making an empty root of Debian’s ${SUITE} …`);
      mkdirSync(root, { recursive: true });
      capture('debootstrap', ['--variant=minbase', '--include=ca-certificates', SUITE, root]);
    }
    for (const place of ['proc', 'dev']) {
      run('mount', ['--bind', `/${place}`, join(root, place)]);
      mounted.push(join(root, place));
    }
    for (const file of ['resolv.conf', 'hosts']) cpSync(`/etc/${file}`, join(root, 'etc', file), { dereference: true });
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

    const said = [];
    let where = '/root';
    for (const [k, block] of commandsOf(readFileSync(join(ROOT, 'docs/running.md'), 'utf8')).entries()) {
      const before = readdirSync(join(root, 'run')).includes('systemctl.asked')
        ? readFileSync(join(root, 'run/systemctl.asked'), 'utf8')
        : '';
      const result = within(`set -euo pipefail\ncd ${where}\ntrap 'pwd > /run/where' EXIT\n${block}`);
      said.push(result.stdout);
      const title = block.trim().split('\n')[0];
      expectThat(
        `commands ${k + 1} of the document: ${title} …`,
        result.status === 0,
        result.status === 0 ? '' : result.stderr.slice(-800),
      );
      if (result.status !== 0) return;
      where = readFileSync(join(root, 'run/where'), 'utf8').trim();
      // What a machine that has booted does by itself: its database runs as soon as it is installed.
      if (block.includes('apt-get install')) {
        const started = within('service postgresql start');
        expectThat('Debian’s database starts', started.status === 0, started.stderr);
      }
      const path = join(root, 'run/systemctl.asked');
      const asked = existsSync(path) ? readFileSync(path, 'utf8').slice(before.length) : '';
      for (const line of asked.split('\n').filter(Boolean)) children.push(...obey(root, line, say));
      if (asked) await sleep(4_000);
    }
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
    await review({ expectThat, said: said.join('\n'), motion });
    const log =
      children.map((one) => one.log()).join('') + readFileSync(join(root, 'var/log/nginx/ypsigraph.log'), 'utf8');
    const tokens = [...said.join('\n').matchAll(/\/invitation\/([\w-]+)/g)].map(([, token]) => token);
    expectThat(
      'no log holds an invitation',
      log.length > 0 && tokens.length > 0 && !tokens.some((token) => log.includes(token)),
    );
  } finally {
    for (const { child } of children.reverse()) {
      child.kill('SIGTERM');
      await Promise.race([
        new Promise((resolve) => (child.exitCode === null ? child.once('exit', resolve) : resolve())),
        sleep(8_000),
      ]);
    }
    within('service postgresql stop');
    for (const place of mounted.reverse()) spawnSync('umount', ['-l', place]);
    if (!keep) rmSync(root, { recursive: true, force: true });
  }
}

/** Does what the init system would: starts what is enabled as its unit says. */
function obey(root, line, say) {
  say(`systemctl ${line}`);
  const [what, ...names] = line.split(' ').filter((word) => !word.startsWith('--'));
  if (what === 'enable')
    return names.map((name) => {
      const [unit, instance] = name.split('@');
      const path = `/etc/systemd/system/${unit}@.service`;
      const text = readFileSync(join(root, path), 'utf8');
      const { environmentPath } = startedAs(text, instance, {});
      const file = environmentFile(readFileSync(join(root, environmentPath), 'utf8'));
      const { command, program, args, folder, user, environment } = startedAs(text, instance, file);
      const set = Object.entries({ PATH: '/usr/bin:/bin', ...environment }).map(([key, value]) => `${key}=${value}`);
      return follow(name, root, [
        'runuser',
        '-u',
        user,
        '--',
        'env',
        '-i',
        '-C',
        folder,
        ...set,
        command,
        program,
        ...args,
      ]);
    });
  if (/^(reload-or-)?(re)?start$/.test(what))
    return names.map((name) => follow(name, root, [name, '-g', 'daemon off;']));
  return [];
}

function follow(name, root, command) {
  const child = spawn('chroot', [root, ...command], { stdio: ['ignore', 'pipe', 'pipe'] });
  let log = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (log += String(text)));
  return { name, child, log: () => log };
}

/** A review through the proxy: two invitations, an exercise, a motion and then a clip, each sent back. */
async function review({ expectThat, said, motion }) {
  const [teaches, learns] = [...said.matchAll(/https:\/\/[^\s/]+\/invitation\/[\w-]+/g)].map(([address]) => address);
  const come = async (address) => {
    const token = address.split('/').at(-1);
    const answer = await ask('POST', `/api/invitations/${token}`, undefined, { password: PASSWORD });
    expectThat(
      'an invitation is taken through the proxy, over HTTPS',
      answer.status === 200,
      `${answer.status} ${answer.text.slice(0, 200)}`,
    );
    return (answer.headers['set-cookie'] ?? []).map((cookie) => cookie.split(';')[0]).join('; ');
  };
  const [instructor, student] = [await come(teaches), await come(learns)];
  const [cohort] = (await ask('GET', '/api/cohorts', instructor)).json();
  const [brief] = (await ask('GET', '/api/briefs', instructor)).json();
  const due = new Date(Date.now() + 1e8).toISOString();
  const set = (await ask('POST', '/api/assignments', instructor, { brief: brief.id, cohort: cohort.id, due })).json();
  for (const [name, bytes] of [
    ['walk.bvh', Buffer.from(motion)],
    ['walk.gif', smallGif(24, 64)],
  ]) {
    const handed = await ask(
      'POST',
      `/api/assignments/${set.id}/revisions`,
      student,
      form({ stage: 'smoothing' }, name, bytes),
    );
    expectThat(`${name} is handed in`, handed.status === 201, `${handed.status} ${handed.text.slice(0, 200)}`);
    if (handed.status !== 201) return;
    const { shot, revision } = handed.json();
    let reading;
    for (let k = 0; k < 60 && reading?.state !== 'read' && reading?.state !== 'failed'; k++) {
      await sleep(500);
      reading = (await ask('GET', `/api/shots/${shot}`, instructor)).json().revisions.at(-1).reading;
    }
    expectThat(
      `${name} is read by the worker`,
      reading?.state === 'read',
      `${reading?.state} ${reading?.reason ?? ''}`,
    );
    const back = await ask('POST', `/api/revisions/${revision}/send-back`, instructor, {
      words: 'Mind the hand at 9.',
      asked: '',
    });
    expectThat(`${name} is sent back`, back.status === 200, `${back.status}`);
  }
}

/** A GIF of frames that differ by one pixel (GIF89a, W3C). */
function smallGif(frames, side) {
  const word = (value) => [value & 255, value >> 8];
  const head = [...Buffer.from('GIF89a'), ...word(side), ...word(side), 0x80, 0, 0, 0, 0, 0, 255, 255, 255];
  const frame = (k) => [
    0x21,
    0xf9,
    4,
    0,
    ...word(4),
    0,
    0,
    0x2c,
    ...word(k),
    ...word(k),
    ...word(1),
    ...word(1),
    0,
    2,
    2,
    0x4c,
    1,
    0,
  ];
  return Buffer.from([...head, ...Array.from({ length: frames }, (_, k) => frame(k)).flat(), 0x3b]);
}

function form(fields, fileName, bytes) {
  const line = `soak${Date.now()}`;
  const parts = Object.entries(fields).map(([name, value]) =>
    Buffer.from(`--${line}\r\nContent-Disposition: form-data; name="${name}"\r\n\r\n${value}\r\n`),
  );
  const head = Buffer.from(
    `--${line}\r\nContent-Disposition: form-data; name="file"; filename="${fileName}"\r\nContent-Type: application/octet-stream\r\n\r\n`,
  );
  return {
    type: `multipart/form-data; boundary=${line}`,
    bytes: Buffer.concat([...parts, head, bytes, Buffer.from(`\r\n--${line}--\r\n`)]),
  };
}

/** A request to the proxy on this machine, whose certificate is only for trying. */
function ask(method, path, cookie, body) {
  const isForm = body?.bytes !== undefined;
  const bytes = body === undefined ? undefined : isForm ? body.bytes : Buffer.from(JSON.stringify(body));
  const headers = {
    host: HOST,
    'x-ypsigraph': '1',
    ...(cookie && { cookie }),
    ...(bytes && { 'content-type': isForm ? body.type : 'application/json', 'content-length': bytes.length }),
  };
  return new Promise((resolve, reject) => {
    const sent = request(
      { host: '127.0.0.1', port: 443, servername: HOST, rejectUnauthorized: false, method, path, headers },
      (response) => {
        let text = '';
        response.setEncoding('utf8').on('data', (chunk) => (text += chunk));
        response.on('end', () =>
          resolve({ status: response.statusCode, headers: response.headers, text, json: () => JSON.parse(text) }),
        );
      },
    );
    sent.on('error', reject);
    sent.end(bytes);
  });
}
