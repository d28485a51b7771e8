import request from 'supertest';
import { PEOPLE } from '../src/demo/people.ts';
import { DEMO_PASSWORD } from '../src/demo/seed.ts';
import { readConfiguration } from '../src/config.ts';
import { SessionService } from '../src/people/session.service.ts';
import { HEADER, openSchool, type School } from './harness.ts';

let school: School;
beforeAll(async () => void (school = await openSchool({ PROCESS: 'server' })));
afterAll(() => school.close());

const server = () => school.app.getHttpServer();
const signIn = (email: string, password: string) =>
  request(server()).post('/api/session').set(HEADER).send({ email, password });

describe('signing in', () => {
  test('with an address in any case and its password gives a cookie no script can read', async () => {
    const answer = await signIn('Ottoline.Farrow@saltwick.example', DEMO_PASSWORD).expect(200);
    expect(answer.body.person).toMatchObject({ name: 'Ottoline Farrow', role: 'instructor' });
    const cookie = String(answer.headers['set-cookie']);
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Lax/);
  });

  test('with a wrong password or an unknown address is refused in the same words', async () => {
    const wrong = await signIn('ottoline.farrow@saltwick.example', 'guess').expect(401);
    const unknown = await signIn('nobody@saltwick.example', 'guess').expect(401);
    expect(wrong.body.title).toBe(unknown.body.title);
    expect(wrong.headers['content-type']).toContain('application/problem+json');
  });

  test('a session ends when it is signed out of', async () => {
    const agent = request.agent(server());
    await agent
      .post('/api/session')
      .set(HEADER)
      .send({ email: 'farid.qasemi@saltwick.example', password: DEMO_PASSWORD })
      .expect(200);
    await agent.get('/api/worksheet').expect(200);
    await agent.delete('/api/session').set(HEADER).expect(200);
    await agent.get('/api/worksheet').expect(401);
  });

  test('an archived person can’t sign in, and is out of a session they had', async () => {
    const agent = request.agent(server());
    await agent
      .post('/api/session')
      .set(HEADER)
      .send({ email: 'kiri.tamatea@saltwick.example', password: DEMO_PASSWORD })
      .expect(200);
    await school.database.query(`UPDATE people SET archived_at = now() WHERE name = 'Kiri Tamatea'`);
    await agent.get('/api/worksheet').expect(401);
    await signIn('kiri.tamatea@saltwick.example', DEMO_PASSWORD).expect(401);
  });

  test('guessing is slowed down, also many at once; a class behind the same address comes in', async () => {
    const guess = (k: number) => signIn('chiyo.tanabe@saltwick.example', `guess ${k}`);
    const statuses = (await Promise.all(Array.from({ length: 14 }, (_, k) => guess(k)))).map(({ status }) => status);
    expect(statuses.filter((status) => status === 401).length).toBeLessThanOrEqual(5);
    expect(statuses).toContain(429);
    const students = PEOPLE.filter(({ role, name }) => role === 'student' && !/Chiyo|Kiri/.test(name));
    for (const { email } of students) await signIn(email, DEMO_PASSWORD).expect(200);
    // She herself, from another address, is let in; from the guesser's not even with the right password.
    await signIn('chiyo.tanabe@saltwick.example', DEMO_PASSWORD).expect(429);
    await school.database.query(`UPDATE failed_sign_ins SET address = '192.0.2.7'`);
    await signIn('chiyo.tanabe@saltwick.example', DEMO_PASSWORD).expect(200);
  });
});

test('whose word about the address is taken is configured: a guesser who makes addresses up is one guesser', async () => {
  const guesses = async (proxies: string): Promise<number> => {
    const other = await openSchool({ PROCESS: 'server', TRUSTED_PROXIES: proxies });
    try {
      let refused = 0;
      for (let k = 0; k < 8; k++) {
        const { status } = await request(other.app.getHttpServer())
          .post('/api/session')
          .set({ ...HEADER, 'x-forwarded-for': `192.0.2.${k}` })
          .send({ email: 'chiyo.tanabe@saltwick.example', password: `guess ${k}` });
        if (status === 429) refused++;
      }
      return refused;
    } finally {
      await other.close();
    }
  };
  expect(await guesses('')).toBe(3);
  expect(await guesses('1')).toBe(0);
});

describe('an account of one’s own', () => {
  const idOf = async (name: string): Promise<string> =>
    (await school.database.query('SELECT id FROM people WHERE name = $1', [name])).rows[0].id as string;

  test('an invitation is taken once, sets the password, and is of no use afterwards', async () => {
    const token = await school.app.get(SessionService).invite(await idOf('Tomasz Wieczor'));
    const path = `/api/invitations/${token}`;
    const { body } = await request(server()).get(path).expect(200);
    expect(body).toMatchObject({ name: 'Tomasz Wieczor' });
    await request(server()).post(path).set(HEADER).send({ password: 'short' }).expect(400);
    const agent = request.agent(server());
    await agent.post(path).set(HEADER).send({ password: 'a barge at night' }).expect(200);
    await agent.get('/api/worksheet').expect(200);
    await request(server()).post(path).set(HEADER).send({ password: 'somebody else’s' }).expect(404);
    await signIn(body.email, 'a barge at night').expect(200);
    await signIn(body.email, DEMO_PASSWORD).expect(401);
    await request(server()).get('/api/invitations/none-such').expect(404);
  });

  test('a person sees where they are signed in, ends one of those, and changing the password ends all others', async () => {
    const [here, there, elsewhere] = await Promise.all([0, 1, 2].map(() => school.as('Baraka Lundqvist')));
    const { body: sessions } = await here!.get('/api/account/sessions').expect(200);
    expect(sessions).toHaveLength(3);
    expect(sessions.filter(({ own }: { own: boolean }) => own)).toHaveLength(1);
    const { id } = sessions.find(({ own }: { own: boolean }) => !own);
    await here!.delete(`/api/account/sessions/${id}`).expect(200);
    await here!.delete(`/api/account/sessions/${id}`).expect(404);
    const left = await Promise.all([there!, elsewhere!].map(async (v) => (await v.get('/api/docket')).status));
    expect(left.sort()).toEqual([200, 401]);
    const refused = await here!
      .post('/api/account/password', { old: 'wrong', password: 'a new one, longer' })
      .expect(422);
    expect(refused.body.fields[0].field).toBe('old');
    await here!.post('/api/account/password', { old: DEMO_PASSWORD, password: 'a new one, longer' }).expect(200);
    expect((await here!.get('/api/account/sessions')).body).toHaveLength(1);
    for (const visitor of [there!, elsewhere!]) await visitor.get('/api/docket').expect(401);
    await here!.get('/api/docket').expect(200);
  });
});

test('pages may run the server’s own scripts only', async () => {
  const { headers } = await request(server()).get('/api/health').expect(200);
  const policy = String(headers['content-security-policy']);
  expect(policy).toContain("script-src 'self'");
  expect(policy).toContain("object-src 'none'");
  expect(headers['x-content-type-options']).toBe('nosniff');
});

test('a configuration that is not complete says every variable that is missing', () => {
  expect(() => readConfiguration({})).toThrow(/DATABASE_URL[\s\S]*FILES_DIR[\s\S]*SESSION_SECRET/);
  expect(() => readConfiguration({ DATABASE_URL: 'x', FILES_DIR: 'y', SESSION_SECRET: 'short' })).toThrow(
    /32 characters/,
  );
});
