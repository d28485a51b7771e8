import { get } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Shot } from '@ypsigraph/contract/shots';
import { createApplication } from '../src/application.ts';
import { CONFIGURATION, type Configuration } from '../src/config.ts';
import { HEADER, nightRound, openSchool, type School, untilRead, walk } from './harness.ts';

let school: School;
beforeAll(async () => void (school = await openSchool({ PROCESS: 'server' })));
afterAll(() => school.close());

/** The data of the stream's events, as they come, until the server ends it or the test does. */
async function listen(path: string, personId: string): Promise<{ events: { reading: string }[]; close: () => void }> {
  const { port } = school.app.getHttpServer().address() as AddressInfo;
  const signedIn = await fetch(`http://127.0.0.1:${port}/api/demo/session`, {
    method: 'POST',
    headers: { ...HEADER, 'content-type': 'application/json' },
    body: JSON.stringify({ person: personId }),
  });
  const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!;
  const events: { reading: string }[] = [];
  const request = get({ port, host: '127.0.0.1', path, headers: { cookie } }, (response) => {
    response.setEncoding('utf8').on('data', (text: string) => {
      for (const line of text.split('\n')) if (line.startsWith('data: {')) events.push(JSON.parse(line.slice(6)));
    });
  });
  request.on('error', () => undefined);
  return { events, close: () => request.destroy() };
}

test('a server process queues, a worker process reads, and the page that waits at the server hears of it', async () => {
  const jomo = await school.as('Jomo Wanyama');
  const { body } = await jomo.handIn(await nightRound(school, 'Monday loft'), walk());
  const waiting = (await jomo.get(`/api/shots/${body.shot}`).expect(200)).body as Shot;
  expect(waiting.revisions[0]!.reading.state).toBe('queued');

  const { rows } = await school.database.query(`SELECT id FROM people WHERE name = 'Jomo Wanyama'`);
  const stream = await listen(`/api/revisions/${body.revision}/events`, rows[0].id as string);
  const configuration = school.app.get<Configuration>(CONFIGURATION);
  const worker = await createApplication({ ...configuration, PROCESS: 'worker' });
  await worker.init();
  try {
    await untilRead(jomo, body.shot);
    for (let i = 0; i < 50 && stream.events.at(-1)?.reading !== 'read'; i++)
      await new Promise((done) => setTimeout(done, 100));
    expect(stream.events.map(({ reading }) => reading)).toEqual(expect.arrayContaining(['queued', 'read']));
  } finally {
    stream.close();
    await worker.close();
  }
});

test('a worker that starts with another version of the core makes the readings again', async () => {
  const sunniva = await school.as('Sunniva Dahlby');
  const { rows } = await school.database.query(
    `SELECT s.id FROM shots s JOIN people p ON p.id = s.student_id WHERE p.name = 'Sunniva Dahlby'`,
  );
  const shot = rows[0].id as string;
  const start = async () => {
    const worker = await createApplication({ ...school.app.get<Configuration>(CONFIGURATION), PROCESS: 'worker' });
    await worker.init();
    return worker;
  };
  const first = await start();
  await untilRead(sunniva, shot);
  await first.close();
  await school.database.query(`UPDATE readings SET core_version = '0.0.1'`);
  expect((await sunniva.get(`/api/shots/${shot}`)).body.revisions[0].report).toBeNull();
  const second = await start();
  await untilRead(sunniva, shot);
  await second.close();
  expect((await sunniva.get(`/api/shots/${shot}`)).body.revisions[0].report.readings.length).toBeGreaterThan(10);
});
