import { randomUUID } from 'node:crypto';
import { readdir } from 'node:fs/promises';
import { connect } from 'node:net';
import { join } from 'node:path';
import type { AddressInfo } from 'node:net';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { Docket } from '@ypsigraph/contract/courses';
import { Mark } from '@ypsigraph/contract/marks';
import { type Shot } from '@ypsigraph/contract/shots';
import {
  HEADER,
  nightRound,
  openSchool,
  reportOf,
  type School,
  shotOf,
  untilRead,
  type Visitor,
  walk,
} from './harness.ts';

let school: School;
let instructor: Visitor;
let monday: string;
let thursday: string;

beforeAll(async () => {
  school = await openSchool();
  instructor = await school.as('Ottoline Farrow');
  monday = await nightRound(school, 'Monday loft');
  thursday = await nightRound(school, 'Thursday loft');
});

afterAll(() => school.close());

const count = async (table: string): Promise<number> =>
  Number((await school.database.query(`SELECT count(*) FROM ${table}`)).rows[0].count);

/** Names of everything in the file store, uploads in progress included. */
async function stored(): Promise<string[]> {
  const entries = await readdir(school.files, { recursive: true, withFileTypes: true });
  return entries.filter((entry) => entry.isFile()).map((entry) => join(entry.parentPath, entry.name));
}

/** Waits until no file is being read: a reading has a file of its own beside the uploads while it goes on. */
async function untilNothingIsRead(): Promise<void> {
  for (let i = 0; i < 600; i++) {
    const { rows } = await school.database.query(
      `SELECT count(*)::int AS busy FROM revisions WHERE reading_state IN ('queued', 'reading')`,
    );
    if (rows[0].busy === 0) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('files are still being read');
}

/** Runs something that must be refused, and checks that nothing of it was stored. */
async function leavesNothing(work: () => Promise<{ status: number; body: { title: string; detail?: string } }>) {
  await untilNothingIsRead();
  const before = [await count('revisions'), await count('files'), (await stored()).length];
  const answer = await work();
  expect([await count('revisions'), await count('files'), (await stored()).length]).toEqual(before);
  return { status: answer.status, said: `${answer.body.title} ${answer.body.detail ?? ''}` };
}

describe('handing in', () => {
  test('stores the revision, queues its reading, and the readings arrive', async () => {
    const jomo = await school.as('Jomo Wanyama');
    const answer = await jomo.handIn(monday, walk({ pop: 26 }), { note: 'My first.' }, 'jomo.bvh');
    expect(answer.status).toBe(201);
    const shot = await untilRead(jomo, answer.body.shot);
    const [revision] = shot.revisions;
    expect(revision).toMatchObject({
      number: 1,
      state: 'handed in',
      fileName: 'jomo.bvh',
      note: 'My first.',
      reading: { state: 'read', reason: null, report: `${CORE_VERSION}.1` },
    });
    const report = await reportOf(jomo, shot);
    const pop = report.readings.find((reading) => reading.id === 'arc.pop' && reading.part === 'foreArm.R');
    expect(pop!.frames).toEqual([9]);
    expect(report.roles['hand.R']).toBe('hand.R');
  });

  test('gives back the very bytes that were handed in, as nothing a browser would run', async () => {
    const shot = await shotOf(school, 'Jomo Wanyama');
    const jomo = await school.as('Jomo Wanyama');
    const { body } = await jomo.get(`/api/shots/${shot}`);
    const file = await jomo
      .get(`/api/revisions/${(body as Shot).revisions[0]!.id}/file`)
      .buffer(true)
      .parse((response, done) => {
        const parts: Buffer[] = [];
        response.on('data', (part: Buffer) => parts.push(part));
        response.on('end', () => done(null, Buffer.concat(parts)));
      });
    expect((file.body as Buffer).toString()).toBe(walk({ pop: 26 }));
    expect(file.headers['content-type']).toBe('application/octet-stream');
    expect(file.headers['x-content-type-options']).toBe('nosniff');
    expect(file.headers['content-disposition']).toContain('attachment');
  });

  test.each<[string, () => Buffer | string, number, RegExp]>([
    ['a letter', () => 'Dear Ottoline', 422, /expected the word HIERARCHY/],
    [
      'a file that was cut',
      () => walk().slice(0, 9000),
      422,
      /line \d+: expected 72 numbers, found \d+: the file ends within a frame/,
    ],
    ['a zip that was renamed', () => Buffer.from([0x50, 0x4b, 3, 4, 20, 0, 0, 0]), 422, /archive is broken/],
    [
      'no frames',
      () => walk().replace(/Frames: \d+[\s\S]*/, 'Frames: 0\nFrame Time: 0.0416667\n'),
      422,
      /no row of numbers/,
    ],
    ['a negative frame time', () => walk().replace(/Frame Time: .*/, 'Frame Time: -0.04'), 422, /above 0 seconds/],
    ['a row too short', () => walk().replace(/(\n[-\d. ]+) \S+\n$/, '$1\n'), 422, /expected 72 numbers, found 71/],
    ['a joint without braces', () => walk().replace(/JOINT spine\n\s*\{/, 'JOINT spine'), 422, /\{ after joint “spine/],
    ['an empty file', () => '', 422, /empty/],
    ['70 MB', () => Buffer.alloc(70 * 1024 * 1024, 'a'), 413, /larger than 64 MB/],
  ])('%s is refused in words, and nothing is left of it', async (_, file, status, message) => {
    const quirin = await school.as('Quirin Abendroth');
    const refused = await leavesNothing(() => quirin.handIn(thursday, file()));
    expect(refused.status).toBe(status);
    expect(refused.said).toMatch(message);
  });

  test('names in another script are taken as they are', async () => {
    const quirin = await school.as('Quirin Abendroth');
    const answer = await quirin.handIn(thursday, walk().replaceAll('spine', 'ხერხემალი'), {}, 'სიარული.bvh');
    expect(answer.status).toBe(201);
    const shot = await untilRead(quirin, answer.body.shot);
    expect(shot.revisions[0]!.fileName).toBe('სიარული.bvh');
    expect((await reportOf(quirin, shot)).readings.length).toBeGreaterThan(10);
  });

  test('a form without a file, or with a stage there is none of, is refused', async () => {
    const tomasz = await school.as('Tomasz Wieczor');
    const refused = await leavesNothing(() => tomasz.handIn(thursday, walk(), { stage: 'perfection' }));
    expect(refused.status).toBe(400);
    const nothing = await tomasz.post(`/api/assignments/${thursday}/revisions`, {});
    expect(nothing.status).toBeGreaterThanOrEqual(400);
    expect(nothing.body.title).toBeDefined();
  });

  test('a closed exercise takes nothing in, and takes it in again once it is open', async () => {
    const tomasz = await school.as('Tomasz Wieczor');
    await instructor.patch(`/api/assignments/${thursday}`, { closed: true }).expect(200);
    const refused = await leavesNothing(() => tomasz.handIn(thursday, walk()));
    expect([refused.status, refused.said]).toEqual([409, expect.stringContaining('closed')]);
    await instructor.patch(`/api/assignments/${thursday}`, { closed: false }).expect(200);
    expect((await tomasz.handIn(thursday, walk())).status).toBe(201);
  });

  test('while one revision waits, is reviewed, or was signed off, no other is taken in', async () => {
    for (const [student, said] of [
      ['Farid Qasemi', /still waits/],
      ['Liesl Achterberg', /being reviewed/],
      ['Chiyo Tanabe', /signed off/],
    ] as const) {
      const visitor = await school.as(student);
      const refused = await leavesNothing(() => visitor.handIn(monday, walk({ slide: 9 })));
      expect(refused.status).toBe(409);
      expect(refused.said).toMatch(said);
    }
  });

  test('the same file twice is told by the revision it was', async () => {
    const emeka = await school.as('Emeka Brightwater');
    const refused = await leavesNothing(() => emeka.handIn(monday, walk({ twinArms: 1 })));
    expect([refused.status, refused.said]).toEqual([409, expect.stringContaining('same file as revision 1')]);
  });

  test('two at once make one revision', async () => {
    const rosalind = await school.as('Rosalind Achebe-Moor');
    const answers = await Promise.all([
      rosalind.handIn(thursday, walk({ bigBob: 1 })),
      rosalind.handIn(thursday, walk({ bigBob: 2 })),
    ]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
  });

  test('a connection that is cut in mid-upload leaves nothing behind', async () => {
    const greta = (await school.database.query(`SELECT id FROM people WHERE name = 'Greta Almqvist'`)).rows[0]
      .id as string;
    await untilNothingIsRead();
    const before = [await count('revisions'), (await stored()).length];
    const { port } = school.app.getHttpServer().address() as AddressInfo;
    const signedIn = await fetch(`http://127.0.0.1:${port}/api/demo/session`, {
      method: 'POST',
      headers: { ...HEADER, 'content-type': 'application/json' },
      body: JSON.stringify({ person: greta }),
    });
    const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!;
    await new Promise<void>((resolve, reject) => {
      const socket = connect(port, '127.0.0.1', () => {
        const head = `--cut\r\nContent-Disposition: form-data; name="stage"\r\n\r\npolish\r\n--cut\r\nContent-Disposition: form-data; name="file"; filename="w.bvh"\r\n\r\n`;
        socket.write(
          `POST /api/assignments/${monday}/revisions HTTP/1.1\r\nHost: here\r\nCookie: ${cookie}\r\nx-ypsigraph: 1\r\nContent-Type: multipart/form-data; boundary=cut\r\nContent-Length: 500000\r\n\r\n${head}${walk().slice(0, 8000)}`,
        );
        setTimeout(() => {
          socket.destroy();
          setTimeout(resolve, 500);
        }, 300);
      });
      socket.on('error', reject);
    });
    expect([await count('revisions'), (await stored()).length]).toEqual(before);
  });
});

describe('a file that only fails while it is measured', () => {
  test('is a state with a reason, and is read again when asked', async () => {
    const shot = await shotOf(school, 'Sunniva Dahlby');
    const sunniva = await school.as('Sunniva Dahlby');
    const revision = (await untilRead(sunniva, shot)).revisions.at(-1)!.id;
    const bad = await school.database.query(`SELECT file_sha256 AS sha FROM revisions WHERE id = $1`, [revision]);
    // The stored file is damaged behind the server's back.
    const { writeFile, readFile } = await import('node:fs/promises');
    const path = join(school.files, bad.rows[0].sha.slice(0, 2), bad.rows[0].sha);
    const whole = await readFile(path);
    await writeFile(path, 'HIERARCHY\nROOT');
    await sunniva.post(`/api/revisions/${revision}/read-again`).expect(200);
    const failed = (await untilRead(sunniva, shot)).revisions.at(-1)!;
    expect(failed.reading.state).toBe('failed');
    expect(failed.reading.reason).toMatch(/line 2: expected \{/);
    await writeFile(path, whole);
    await sunniva.post(`/api/revisions/${revision}/read-again`).expect(200);
    expect((await untilRead(sunniva, shot)).revisions.at(-1)!.reading).toMatchObject({ state: 'read', reason: null });
  });
});

describe('corrections', () => {
  test('a role that is put right is kept, measured anew, and stays for the next revision', async () => {
    const shot = await shotOf(school, 'Hoku Kealoha');
    const revision = (await untilRead(instructor, shot)).revisions.at(-1)!.id;
    await instructor
      .patch(`/api/revisions/${revision}`, { roles: { head: 'neck' }, firstFrame: 0, loop: 'follow', up: '+Z' })
      .expect(200);
    // A report that was made with other corrections has no name any more.
    const [waiting] = ((await instructor.get(`/api/shots/${shot}`)).body as Shot).revisions.slice(-1);
    if (waiting!.reading.state !== 'read') expect(waiting!.reading.report).toBeNull();
    const after = await reportOf(instructor, await untilRead(instructor, shot));
    expect(after).toMatchObject({ firstFrame: 0, loop: 'follow', up: '+Z', roles: { head: 'neck' } });
    await instructor.post(`/api/revisions/${revision}/send-back`, { words: 'Again.', asked: '' }).expect(200);
    const hoku = await school.as('Hoku Kealoha');
    const next = await hoku.handIn(monday, walk({ halfHeight: 1 }));
    const again = await reportOf(hoku, await untilRead(hoku, next.body.shot));
    expect([again.roles.head, again.up]).toEqual(['neck', '+Z']);
  });
});

describe('the story of a mark', () => {
  test('unsent, sent, answered, cleared; every step with its author and time', async () => {
    const shot = await shotOf(school, 'Ulugbek Saidov');
    const ulugbek = await school.as('Ulugbek Saidov');
    const revision = (await untilRead(instructor, shot)).revisions.at(-1)!.id;
    const key = randomUUID();
    const mark = { kind: 'timing', from: 25, to: 26, point: null, words: 'A doubled frame.', key };
    await instructor.post(`/api/revisions/${revision}/desk`).expect(200);
    await instructor.post(`/api/revisions/${revision}/marks`, mark).expect(201);
    // A page that did not hear the answer sends it again.
    const again = await instructor.post(`/api/revisions/${revision}/marks`, mark).expect(201);
    expect(Mark.parse(again.body)).toMatchObject({ id: key, words: 'A doubled frame.' });
    expect(((await instructor.get(`/api/shots/${shot}`)).body as Shot).marks).toHaveLength(1);
    await instructor.patch(`/api/marks/${key}`, { words: 'A doubled frame at the end.' }).expect(200);
    expect(((await ulugbek.get(`/api/shots/${shot}`)).body as Shot).marks).toHaveLength(0);
    await instructor
      .post(`/api/revisions/${revision}/send-back`, { words: 'Nearly.', asked: 'One frame less.' })
      .expect(200);
    const seen = (await ulugbek.get(`/api/shots/${shot}`)).body as Shot;
    expect(seen.marks).toMatchObject([{ words: 'A doubled frame at the end.', state: 'open' }]);
    expect(seen.revisions.at(-1)).toMatchObject({ state: 'sent back', words: 'Nearly.', asked: 'One frame less.' });
    // What the student has read can't be changed under them.
    await instructor.patch(`/api/marks/${key}`, { words: 'I never said that.' }).expect(409);
    await instructor.delete(`/api/marks/${key}`).expect(409);
    await ulugbek.post(`/api/marks/${key}/replies`, { words: 'Took it out.', key: randomUUID() }).expect(201);
    const next = await ulugbek.handIn(thursday, walk({ bigBob: 0.5 }));
    expect(next.status).toBe(201);
    const refused = await instructor.post(`/api/revisions/${next.body.revision}/sign-off`, { words: '' });
    expect([refused.status, refused.body.detail]).toEqual([409, expect.stringContaining('Clear or waive')]);
    await instructor.post(`/api/marks/${key}/verdict`, { state: 'cleared' }).expect(200);
    const signed = await instructor
      .post(`/api/revisions/${next.body.revision}/sign-off`, { words: 'Done.' })
      .expect(200);
    expect((signed.body as Shot).revisions.at(-1)).toMatchObject({ state: 'signed off', words: 'Done.' });
    const events = await school.database.query(
      'SELECT e.what, p.name FROM mark_events e JOIN people p ON p.id = e.author_id WHERE mark_id = $1 ORDER BY e.id',
      [key],
    );
    expect(events.rows.map(({ what, name }) => `${name.split(' ')[0]} ${what}`)).toEqual([
      'Ottoline made',
      'Ottoline changed',
      'Ottoline sent',
      'Ulugbek answered',
      'Ottoline cleared',
    ]);
  });

  test.each([
    ['the last frame before the first', { to: 3 }, 'to'],
    ['no words', { words: '   ' }, 'words'],
    ['a kind there is none of', { kind: 'vibes' }, 'kind'],
    ['half a frame', { from: 1.5 }, 'from'],
  ])('with %s it is refused, field by field', async (_, change, field) => {
    const shot = await shotOf(school, 'Farid Qasemi');
    const revision = ((await instructor.get(`/api/shots/${shot}`)).body as Shot).revisions[0]!.id;
    const mark = { kind: 'arc', from: 9, to: 9, point: 'hand.R', words: 'It pops.', key: randomUUID(), ...change };
    const { body } = await instructor.post(`/api/revisions/${revision}/marks`, mark).expect(400);
    expect(body.type).toBe('invalid');
    expect(body.fields[0].field).toBe(field);
  });

  test('a revision that was judged can’t be judged again, and a withdrawn one not at all', async () => {
    for (const student of ['Chiyo Tanabe', 'Kiri Tamatea']) {
      const shot = await shotOf(school, student);
      const { revisions } = (await instructor.get(`/api/shots/${shot}`)).body as Shot;
      await instructor.post(`/api/revisions/${revisions.at(-1)!.id}/send-back`, { words: 'x', asked: '' }).expect(409);
    }
  });
});

describe('lists', () => {
  test('the docket has what waits, late shots first, then the longest-waiting', async () => {
    const { body } = await instructor.get('/api/docket').expect(200);
    const { entries, waiting, late } = Docket.parse(body);
    expect([waiting, late]).toEqual([entries.length, entries.filter((entry) => entry.late).length]);
    expect(entries.length).toBeGreaterThan(5);
    expect(new Set(entries.map(({ state }) => state))).toEqual(new Set(['handed in', 'on the desk']));
    const order = entries.map(({ late, handedIn }) => `${late ? 0 : 1} ${handedIn}`);
    expect(order).toEqual([...order].sort());
  });

  test('the ledger has every student and a cell an exercise', async () => {
    const { body: cohorts } = await instructor.get('/api/cohorts').expect(200);
    expect(cohorts.map(({ name, students }: { name: string; students: number }) => [name, students])).toEqual([
      ['Monday loft', 12],
      ['Thursday loft', 9],
    ]);
    const { body } = await instructor.get(`/api/cohorts/${cohorts[0].id}/ledger`).expect(200);
    expect(body.rows).toHaveLength(12);
    const ids = body.assignments.map(({ id }: { id: string }) => id);
    for (const row of body.rows)
      expect(row.cells.map(({ assignment }: { assignment: string }) => assignment)).toEqual(ids);
    const states = body.rows.map(
      (row: { cells: { revision: { state: string } | null }[] }) => row.cells[0]!.revision?.state ?? 'nothing',
    );
    for (const state of ['handed in', 'on the desk', 'sent back', 'signed off', 'withdrawn'])
      expect(states).toContain(state);
  });

  test('setting an exercise twice for one cohort is refused', async () => {
    const { body: cohorts } = await instructor.get('/api/cohorts');
    const { body: briefs } = await instructor.get('/api/briefs');
    const brief = briefs.find((b: { title: string }) => b.title === 'Foghorn').id;
    const due = new Date(Date.now() + 1e8).toISOString();
    await instructor.post('/api/assignments', { brief, cohort: cohorts[0].id, due }).expect(201);
    await instructor.post('/api/assignments', { brief, cohort: cohorts[0].id, due }).expect(409);
    // One that is set last and due first: its column, and its cells, stand first.
    const early = briefs.find((b: { title: string }) => b.title === 'Gangplank').id;
    await instructor
      .post('/api/assignments', { brief: early, cohort: cohorts[1].id, due: new Date(Date.now() + 1e6).toISOString() })
      .expect(201);
    const { body: ledger } = await instructor.get(`/api/cohorts/${cohorts[1].id}/ledger`).expect(200);
    const ids = ledger.assignments.map(({ id }: { id: string }) => id);
    expect(ledger.assignments[0].brief.title).toBe('Gangplank');
    for (const row of ledger.rows)
      expect(row.cells.map(({ assignment }: { assignment: string }) => assignment)).toEqual(ids);
    const student = await school.as('Amara Oyelaran');
    const { body: sheet } = await student.get('/api/worksheet').expect(200);
    expect(sheet.map((entry: { assignment: { brief: { title: string } } }) => entry.assignment.brief.title)).toEqual([
      'Night round',
      'Foghorn',
    ]);
  });
});
