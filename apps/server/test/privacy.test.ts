// What is one person's business reaches nobody else: secrets of invitations, later dates, what was taken back, what is only drafted, and logs.
import { randomUUID } from 'node:crypto';
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import request from 'supertest';
import type { Message, Outbox } from '@ypsigraph/contract/outbox';
import type { Shot } from '@ypsigraph/contract/shots';
import { CONFIGURATION, type Configuration } from '../src/config.ts';
import { safeAddress } from '../src/http/log-secrets.ts';
import { ChangeFeed } from '../src/news/change-feed.ts';
import { SessionService } from '../src/people/session.service.ts';
import { HEADER, nightRound, openSchool, type School, shotOf, type Visitor } from './harness.ts';

let school: School;
let instructor: Visitor;
let monday: string;
beforeAll(async () => {
  school = await openSchool({ PROCESS: 'server' }, 'read');
  instructor = await school.as('Ottoline Farrow');
  monday = (await school.database.query(`SELECT id FROM cohorts WHERE name = 'Monday loft'`)).rows[0].id as string;
});
afterAll(() => school.close());

const idOf = async (name: string): Promise<string> =>
  (await school.database.query('SELECT id FROM people WHERE name = $1', [name])).rows[0].id as string;

describe('invitations', () => {
  const invite = async (name: string): Promise<string> => school.app.get(SessionService).invite(await idOf(name));
  const take = (token: string, password = 'harbour lights 47') =>
    request(school.app.getHttpServer()).post(`/api/invitations/${token}`).set(HEADER).send({ password });

  test('of several the one that is taken ends the others', async () => {
    const [earlier, later, another] = [
      await invite('Tomasz Wieczor'),
      await invite('Tomasz Wieczor'),
      await invite('Jomo Wanyama'),
    ];
    await take(later).expect(200);
    await take(earlier, 'somebody else’s').expect(404);
    await take(another).expect(200);
  });

  test('a password that is changed ends them as well', async () => {
    const token = await invite('Baraka Lundqvist');
    const baraka = await school.as('Baraka Lundqvist');
    await baraka.post('/api/account/password', { old: 'saltwick', password: 'a barge at night' }).expect(200);
    await take(token).expect(404);
  });

  test('their address is seen by an instructor and by no assistant', async () => {
    const csv = 'name,email\nTadeo Ruiz,tadeo.ruiz@saltwick.example';
    await instructor.post(`/api/cohorts/${monday}/roster`, { csv, apply: true }).expect(200);
    const seen = async (visitor: Visitor): Promise<Message> => {
      const { messages } = (await visitor.get('/api/outbox').expect(200)).body as Outbox;
      return messages.find(({ to, about }) => about === 'invited' && to.name === 'Tadeo Ruiz')!;
    };
    const [own, assistants] = [await seen(instructor), await seen(await school.as('Baraka Lundqvist'))];
    expect(own.link).toMatch(/\/invitation\/[\w-]{32}$/);
    expect(assistants.link).toBeNull();
    expect(JSON.stringify(assistants)).not.toContain('/invitation/');
    await request(school.app.getHttpServer())
      .get(`/api/invitations/${own.link!.split('/').at(-1)}`)
      .expect(200);
  });
});

describe('a shot that is shown', () => {
  let shot: string;
  let hoku: Visitor;
  beforeAll(async () => {
    shot = await shotOf(school, 'Greta Almqvist');
    hoku = await school.as('Hoku Kealoha');
    await (await school.as('Greta Almqvist')).post(`/api/shots/${shot}/consent`, { consent: true }).expect(200);
    await instructor.post(`/api/shots/${shot}/showing`, { shown: true }).expect(200);
  });

  test('tells classmates when the exercise was due, and no later date that its student was given', async () => {
    const assignment = await nightRound(school, 'Monday loft');
    const due = '2027-03-01T18:00:00.000Z';
    const later = { person: await idOf('Greta Almqvist'), due, why: 'ill for a week' };
    await instructor.patch(`/api/assignments/${assignment}`, { later }).expect(200);
    const seen = async (visitor: Visitor): Promise<string> =>
      ((await visitor.get(`/api/shots/${shot}`).expect(200)).body as Shot).due;
    expect(await seen(await school.as('Greta Almqvist'))).toBe(due);
    const { rows } = await school.database.query('SELECT due_at FROM assignments WHERE id = $1', [assignment]);
    expect(await seen(hoku)).toBe((rows[0].due_at as Date).toISOString());
  });

  test('shows no revision that was withdrawn, by whichever address it is asked for', async () => {
    const { rows } = await school.database.query(
      'SELECT id FROM revisions WHERE shot_id = $1 ORDER BY number LIMIT 1',
      [shot],
    );
    const id = rows[0].id as string;
    await hoku.get(`/api/revisions/${id}/file`).expect(200);
    await school.database.query(`UPDATE revisions SET state = 'withdrawn', judged_at = NULL WHERE id = $1`, [id]);
    for (const what of ['file', 'report', 'pictures', 'pictures/small?from=0&to=0', 'tracks'])
      expect([what, (await hoku.get(`/api/revisions/${id}/${what}`)).status]).toEqual([what, 404]);
    await (await school.as('Greta Almqvist')).get(`/api/revisions/${id}/file`).expect(200);
    await instructor.get(`/api/revisions/${id}/file`).expect(200);
  });
});

test('a student’s page does not stir while somebody drafts marks on their shot, and does when they are sent', async () => {
  const { rows } = await school.database.query(
    `SELECT s.id AS shot, r.id AS revision FROM shots s JOIN revisions r ON r.shot_id = s.id WHERE r.state = 'handed in' LIMIT 1`,
  );
  const { shot, revision } = rows[0] as Record<string, string>;
  const heard = { student: 0, staff: 0 };
  const news = school.app.get(ChangeFeed);
  const both = [
    news.ofShot(shot!, false).subscribe(() => heard.student++),
    news.ofShot(shot!, true).subscribe(() => heard.staff++),
  ];
  const settled = () => new Promise((resolve) => setTimeout(resolve, 400));
  try {
    const key = randomUUID();
    const note = { kind: 'note', from: 1, to: 2, point: null, words: 'Look here.', key };
    await instructor.post(`/api/revisions/${revision}/marks`, note).expect(201);
    await instructor.patch(`/api/marks/${key}`, { words: 'Look there.' }).expect(200);
    await instructor
      .post(`/api/shots/${shot}/dismissals`, { reading: 'gait.bob', part: null, reason: 'Meant.' })
      .expect(200);
    await school.database.query(
      `INSERT INTO mark_places (mark_id, revision_id, from_frame, to_frame, author_id) VALUES ($1, $2, 3, 4, $3)`,
      [key, revision, await idOf('Ottoline Farrow')],
    );
    await settled();
    expect(heard).toEqual({ student: 0, staff: 4 });
    await instructor.post(`/api/revisions/${revision}/send-back`, { words: 'Again.', asked: '' }).expect(200);
    await settled();
    expect(heard.student).toBeGreaterThan(0);
  } finally {
    for (const one of both) one.unsubscribe();
  }
});

test('what is answered is kept by nobody on its way, unless its address always gives the same', async () => {
  for (const path of [
    '/api/session',
    '/api/docket',
    '/api/cohorts',
    `/api/shots/${await shotOf(school, 'Farid Qasemi')}`,
  ])
    expect([path, (await instructor.get(path).expect(200)).headers['cache-control']]).toEqual([
      path,
      'private, no-store',
    ]);
  const shot = (await instructor.get(`/api/shots/${await shotOf(school, 'Farid Qasemi')}`)).body as Shot;
  const { id, reading } = shot.revisions[0]!;
  const { headers } = await instructor.get(`/api/revisions/${id}/report?of=${reading.report}`).expect(200);
  expect(headers['cache-control']).toMatch(/immutable/);
});

describe('logs', () => {
  test.each([
    ['/api/invitations/AbCdEfGhIjKlMnOpQrStUvWxYz012345?x=1', '/api/invitations/…'],
    ['/API/Invitations/AbCdEfGhIjKlMnOpQrStUvWxYz012345/', '/API/Invitations/…/'],
    ['/api/calendars/AbCdEfGhIjKlMnOpQrStUvWxYz012345.ics', '/api/calendars/…'],
    ['/api/uploads/5d1f3c56-9c1b-4f4e-9a53-0f2f8f0a3b11.2b1c3d4e-1111-4222-8333-444455556666', '/api/uploads/…'],
    ['/api/shots/5d1f3c56-9c1b-4f4e-9a53-0f2f8f0a3b11', '/api/shots/5d1f3c56-9c1b-4f4e-9a53-0f2f8f0a3b11'],
    ['/api/docket?after=WzAsMV0', '/api/docket'],
  ])('%s is logged as %s', (url, logged) => expect(safeAddress(url)).toBe(logged));

  test('at the usual level hold no secret that came in an address, a header or a statement', async () => {
    const { DATABASE_URL, FILES_DIR, SESSION_SECRET } = school.app.get<Configuration>(CONFIGURATION);
    const server = spawn(process.execPath, [join(__dirname, '../dist/main.js'), '--process', 'server', '--port', '0'], {
      env: { PATH: process.env.PATH, DATABASE_URL, FILES_DIR, SESSION_SECRET, DEMO: '1', PORT: '1', PROCESS: 'both' },
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    });
    let log = '';
    for (const stream of [server.stdout!, server.stderr!]) stream.on('data', (text) => (log += String(text)));
    const ended = new Promise((resolve) => server.once('exit', resolve));
    try {
      const address = await new Promise<string>((resolve, reject) => {
        server.once('message', (said) => resolve((said as { address: string }).address));
        void ended.then(() => reject(new Error(log)));
      });
      const token = await school.app.get(SessionService).invite(await idOf('Quirin Abendroth'));
      const at = `${address}/api/invitations/${token}`;
      const answer = await fetch(at, { headers: { referer: `${address}/invitation/${token}` } });
      expect(answer.status).toBe(200);
      const taken = await fetch(at, {
        method: 'POST',
        headers: { ...HEADER, 'content-type': 'application/json' },
        body: JSON.stringify({ password: 'a barge at night' }),
      });
      const cookie = decodeURIComponent(taken.headers.get('set-cookie')!.split(';')[0]!.split('=')[1]!);
      for (let k = 0; k < 30 && !log.includes('request completed'); k++)
        await new Promise((resolve) => setTimeout(resolve, 100));
      expect(log).toContain('/api/invitations/…');
      for (const secret of [token, cookie, cookie.slice(2, 30), 'barge']) expect(log).not.toContain(secret);
    } finally {
      server.kill('SIGTERM');
      await ended;
    }
  });
});
