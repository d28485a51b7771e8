import request from 'supertest';
import { DEMO_PASSWORD } from '../src/demo/seed.ts';
import { readConfiguration } from '../src/config.ts';
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

  test('guessing is slowed down', async () => {
    const statuses: number[] = [];
    for (let i = 0; i < 14; i++) statuses.push((await signIn('chiyo.tanabe@saltwick.example', `guess ${i}`)).status);
    expect(statuses).toContain(429);
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
