// Signing in with a school's own provider of identities (OpenID Connect), against a provider of the registry on the loopback.
import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import type { Session } from '@ypsigraph/contract/people';
import { readConfiguration } from '../src/config.ts';
import { openSchool, type School } from './harness.ts';

const ACCOUNTS = [
  { sub: 'a-1', email: 'Farid.Qasemi@saltwick.example', email_verified: true, name: 'Farid Q.' },
  { sub: 'b-2', email: 'ottoline.farrow@saltwick.example', email_verified: false, name: 'Not Ottoline' },
  { sub: 'c-3', email: 'stranger@saltwick.example', email_verified: true, name: 'A Stranger' },
  {
    ...{ sub: 'd-4', email: 'wren.abara@saltwick.example', email_verified: true, name: 'Wren Abara' },
    ...{ groups: ['choir', 'animation-students', 'animation-teachers'], cohorts: ['Thursday loft', 'No such loft'] },
  },
  { sub: 'e-5', email: 'bram.hoekstra@saltwick.example', email_verified: true, name: 'Bram' },
  { sub: 'f-6', name: 'Nobody at all' },
];

let school: School;
let provider: ChildProcess;
let home: string;

beforeAll(async () => {
  const program = join(__dirname, '../../../scripts/lib/oidc-stand-in.mjs');
  provider = spawn(process.execPath, [program, JSON.stringify(ACCOUNTS)], {
    stdio: ['ignore', 'pipe', 'ignore', 'ipc'],
  });
  const [line] = (await once(provider.stdout!, 'data')) as [Buffer];
  provider.unref();
  school = await openSchool({
    OIDC_ISSUER: line.toString().trim(),
    OIDC_CLIENT_ID: 'ypsigraph',
    OIDC_CLIENT_SECRET: 'only for trying, on the loopback',
    OIDC_NAME: 'Saltwick’s account',
    OIDC_ROLES: 'animation-students=student, animation-teachers=instructor',
  });
  const { port } = school.app.getHttpServer().address() as { port: number };
  home = `http://127.0.0.1:${port}`;
  provider.send({ back: `${home}/api/session/oidc/back` });
});
afterAll(async () => {
  const ended = once(provider, 'exit');
  provider.kill();
  await ended;
  await school.close();
});

/** As much of a browser as is needed: cookies, by their host and port, and being sent on. */
class Browser {
  private readonly jars = new Map<string, Map<string, string>>();

  async ask(
    address: string,
    form?: Record<string, string>,
  ): Promise<{ address: string; body: string; status: number }> {
    const { host } = new URL(address);
    const jar = this.jars.get(host) ?? new Map<string, string>();
    this.jars.set(host, jar);
    const answer = await fetch(address, {
      redirect: 'manual',
      headers: { cookie: [...jar].map(([name, value]) => `${name}=${value}`).join('; ') },
      ...(form && { method: 'POST', body: new URLSearchParams(form) }),
    });
    for (const cookie of answer.headers.getSetCookie()) {
      const [, name, value] = /^([^=]+)=([^;]*)/.exec(cookie)!;
      if (value === '') jar.delete(name!);
      else jar.set(name!, value!);
    }
    const next = answer.headers.get('location');
    if (next) return this.ask(new URL(next, address).href);
    return { address, body: await answer.text(), status: answer.status };
  }

  /** Signs in at the provider as an account, and agrees to what is asked. */
  async comeInAs(sub: string): Promise<string> {
    let page = await this.ask(`${home}/api/session/oidc`);
    const forms: Record<string, string>[] = [
      { prompt: 'login', login: sub, password: 'anything' },
      { prompt: 'consent' },
    ];
    for (const form of forms) {
      const [, action] = /<form[^>]*action="([^"]+)"/.exec(page.body)!;
      page = await this.ask(new URL(action!, page.address).href, form);
    }
    return page.address;
  }

  async session(): Promise<Session> {
    return JSON.parse((await this.ask(`${home}/api/session`)).body) as Session;
  }
}

const people = async (): Promise<number> =>
  Number((await school.database.query('SELECT count(*) FROM people')).rows[0].count);

test('whoever the roster has comes in by an address that the provider has verified, and is known by its name later', async () => {
  const browser = new Browser();
  expect(await browser.session()).toMatchObject({ person: null, provider: 'Saltwick’s account' });
  expect(await browser.comeInAs('a-1')).toBe(`${home}/`);
  expect((await browser.session()).person).toMatchObject({ name: 'Farid Qasemi', role: 'student' });
  // Their address here is another now: they are who they were.
  await school.database.query(`UPDATE people SET email = 'farid@elsewhere.example' WHERE name = 'Farid Qasemi'`);
  const later = new Browser();
  await later.comeInAs('a-1');
  expect((await later.session()).person?.name).toBe('Farid Qasemi');
});

test.each([
  ['an address that is not verified', 'b-2', 'unverified'],
  ['no address', 'f-6', 'unverified'],
  ['nobody’s address, in no group', 'c-3', 'unknown'],
])('an account with %s lets nobody in, and says why', async (_, sub, why) => {
  const before = await people();
  const browser = new Browser();
  expect(await browser.comeInAs(sub)).toBe(`${home}/?refused=${why}`);
  expect((await browser.session()).person).toBeNull();
  expect(await people()).toBe(before);
});

test('whoever has left is not let in, by the roster nor as they were known', async () => {
  await school.database.query(`UPDATE people SET archived_at = now() WHERE name = 'Bram Hoekstra'`);
  const browser = new Browser();
  expect(await browser.comeInAs('e-5')).toBe(`${home}/?refused=unknown`);
  await school.database.query(`UPDATE people SET archived_at = NULL WHERE name = 'Bram Hoekstra'`);
  const other = new Browser();
  expect(await other.comeInAs('e-5')).toBe(`${home}/`);
  await school.database.query(`UPDATE people SET archived_at = now() WHERE name = 'Bram Hoekstra'`);
  expect(await new Browser().comeInAs('e-5')).toBe(`${home}/?refused=unknown`);
});

test('a group gives its role, the first that is configured, and the cohorts that are there', async () => {
  const browser = new Browser();
  expect(await browser.comeInAs('d-4')).toBe(`${home}/`);
  expect((await browser.session()).person).toMatchObject({ name: 'Wren Abara', role: 'student' });
  const { rows } = await school.database.query(
    `SELECT c.name, e.role FROM enrolments e JOIN people p ON p.id = e.person_id JOIN cohorts c ON c.id = e.cohort_id WHERE p.name = 'Wren Abara'`,
  );
  expect(rows).toEqual([{ name: 'Thursday loft', role: 'student' }]);
  // Twice is once.
  const before = await people();
  await new Browser().comeInAs('d-4');
  expect(await people()).toBe(before);
});

test('what did not begin here, was changed on its way, or comes twice, lets nobody in', async () => {
  const back = (query: string): string => `${home}/api/session/oidc/back?${query}`;
  const refused = `${home}/?refused=failed`;
  expect((await new Browser().ask(back('code=made-up&state=made-up'))).address).toBe(refused);
  const browser = new Browser();
  // Begun, and answered by somebody else.
  const page = await browser.ask(`${home}/api/session/oidc`);
  expect(page.address).toContain('/interaction/');
  expect((await browser.ask(back('code=made-up&state=made-up'))).address).toBe(refused);
  expect((await browser.ask(back('error=access_denied&state=x'))).address).toBe(refused);
  expect((await browser.session()).person).toBeNull();
});

test('while the provider is away it is said, and it is asked again', async () => {
  const away = await openSchool({ OIDC_ISSUER: 'http://127.0.0.1:9', OIDC_CLIENT_ID: 'ypsigraph' });
  try {
    const { port } = away.app.getHttpServer().address() as { port: number };
    for (let k = 0; k < 2; k++) {
      const answer = await fetch(`http://127.0.0.1:${port}/api/session/oidc`, { redirect: 'manual' });
      expect([answer.status, answer.headers.get('location')]).toEqual([302, '/?refused=away']);
    }
  } finally {
    await away.close();
  }
});

test('a provider is asked over HTTPS, or on this machine; without one there is no such way', async () => {
  const set = (environment: Record<string, string>) => () =>
    readConfiguration({
      ...{
        DATABASE_URL: 'postgres://x',
        FILES_DIR: '/tmp',
        SESSION_SECRET: 'only for tests, on the loopback, thrown away',
      },
      ...environment,
    });
  expect(set({ OIDC_ISSUER: 'http://accounts.example', OIDC_CLIENT_ID: 'x' })).toThrow('over HTTPS only');
  expect(set({ OIDC_ISSUER: 'https://accounts.example' })).toThrow('OIDC_CLIENT_ID');
  expect(set({ OIDC_ISSUER: 'https://accounts.example', OIDC_CLIENT_ID: 'x', OIDC_ROLES: 'a=king' })).toThrow(
    'group=role',
  );
  expect(set({ OIDC_ISSUER: 'https://accounts.example', OIDC_CLIENT_ID: 'x', OIDC_ROLES: 'a=student' })).not.toThrow();
  const without = await openSchool();
  try {
    const server = without.app.getHttpServer();
    const { port } = server.address() as { port: number };
    expect((await fetch(`http://127.0.0.1:${port}/api/session/oidc`, { redirect: 'manual' })).status).toBe(404);
  } finally {
    await without.close();
  }
});
