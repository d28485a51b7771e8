import { utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore as TusStore } from '@tus/file-store';
import { FileStore } from '../src/files/file-store.ts';
import { MOST_UPLOADS } from '../src/files/upload-store.ts';
import { ReadingInterrupted, ReadingProcesses } from '../src/readings/process/reading-processes.ts';
import { nightRound, openSchool, type School, untilRead, walk } from './harness.ts';
import { speaker } from './tus-speaker.ts';

let school: School;
beforeAll(async () => void (school = await openSchool({ QUOTA_MB: '2' })));
afterAll(() => school.close());

test('a file comes in pieces, goes on where it was cut, and is handed in once it is whole', async () => {
  const jomo = await speaker(school, 'Jomo Wanyama');
  const assignment = await nightRound(school, 'Monday loft');
  const file = new TextEncoder().encode(walk());
  const begun = await jomo.begin(file.length, 'Jomo’s walk.bvh');
  expect(begun.status).toBe(201);
  const path = begun.headers.get('location')!;
  const half = Math.floor(file.length / 2);
  expect((await jomo.part(path, 0, file.subarray(0, half))).status).toBe(204);
  // Not whole yet: it can't be handed in, and says so.
  const early = await jomo.handIn(assignment, path);
  expect([early.status, ((await early.json()) as { title: string }).title]).toEqual([
    409,
    'The file has not come whole yet.',
  ]);
  // Another day, another connection: how far had it come?
  const state = await jomo.ask('HEAD', path);
  expect(state.headers.get('upload-offset')).toBe(String(half));
  // From the wrong place it is refused.
  expect((await jomo.part(path, half + 7, file.subarray(half + 7))).status).toBe(409);
  const done = await jomo.part(path, half, file.subarray(half));
  expect([done.status, done.headers.get('upload-offset')]).toEqual([204, String(file.length)]);

  const handed = await jomo.handIn(assignment, path);
  expect(handed.status).toBe(201);
  const { shot } = (await handed.json()) as { shot: string };
  const read = await untilRead(await school.as('Jomo Wanyama'), shot);
  expect(read.revisions[0]).toMatchObject({ fileName: 'Jomo’s walk.bvh', bytes: file.length, note: 'in two pieces' });
  // It is a revision now, and no upload any more; asked for again, since the answer was lost, it is that revision.
  const again = await jomo.handIn(assignment, path);
  expect([again.status, await again.json()]).toEqual([201, { shot, revision: read.revisions[0]!.id }]);
  expect((await jomo.ask('HEAD', path)).status).toBe(404);
});

test('an upload is its owner’s alone, and its bytes are given to nobody', async () => {
  const quirin = await speaker(school, 'Quirin Abendroth');
  const path = (await quirin.begin(10)).headers.get('location')!;
  const other = await speaker(school, 'Tomasz Wieczor');
  expect((await other.ask('HEAD', path)).status).toBe(404);
  expect((await other.part(path, 0, new Uint8Array(10))).status).toBe(404);
  expect((await other.ask('DELETE', path)).status).toBe(404);
  expect((await other.handIn(await nightRound(school, 'Thursday loft'), path)).status).toBe(404);
  expect((await quirin.ask('GET', path)).status).toBe(404);
  expect((await quirin.ask('HEAD', '/api/uploads/..%2F..%2Fetc')).status).toBe(404);
  const teacher = await speaker(school, 'Ottoline Farrow');
  // Nor is it theirs who teach.
  expect((await teacher.ask('HEAD', path)).status).toBe(404);
  expect((await teacher.part(path, 0, new Uint8Array(10))).status).toBe(404);
  // Taken away by its owner it is gone.
  expect((await quirin.ask('DELETE', path)).status).toBe(204);
  expect((await quirin.ask('HEAD', path)).status).toBe(404);
});

test('more than there is room for is refused before a byte of it has come', async () => {
  const quirin = await speaker(school, 'Quirin Abendroth');
  expect((await quirin.begin(3 * 1024 * 1024)).status).toBe(413);
});

/** The revision a hand-in has become, where it has. */
const handed = async (answer: Response): Promise<unknown> => [
  answer.status,
  ((await answer.json()) as Handed).revision,
];
interface Handed {
  readonly shot: string;
  readonly revision: string;
}
const offsetOf = async (answer: Promise<Response>): Promise<string | null> =>
  (await answer).headers.get('upload-offset');

describe('an upload stays until it is a revision', () => {
  const file = new TextEncoder().encode(walk({ slide: 2 }));

  test('where the hand-in can’t be looked at just now, or is refused, or names it twice', async () => {
    const quirin = await speaker(school, 'Quirin Abendroth');
    const assignment = await nightRound(school, 'Thursday loft');
    const path = await quirin.whole(file, 'walk.bvh');
    const read = jest
      .spyOn(school.app.get(ReadingProcesses), 'read')
      .mockRejectedValueOnce(new ReadingInterrupted('the process was ended'));
    expect((await quirin.handIn(assignment, path)).status).toBe(503);
    read.mockRestore();
    await school.database.query('UPDATE assignments SET closed_at = now() WHERE id = $1', [assignment]);
    expect((await quirin.handIn(assignment, path)).status).toBe(409);
    await school.database.query('UPDATE assignments SET closed_at = NULL WHERE id = $1', [assignment]);
    const upload = path.split('/').at(-1)!;
    const twice = await quirin.ask(
      'POST',
      `/api/assignments/${assignment}/uploads/${upload}`,
      { 'content-type': 'application/json' },
      JSON.stringify({ stage: 'smoothing', clip: upload }),
    );
    expect([twice.status, ((await twice.json()) as { title: string }).title]).toEqual([
      422,
      'The motion and its clip are one file.',
    ]);
    expect(await offsetOf(quirin.ask('HEAD', path))).toBe(String(file.length));
    expect((await quirin.handIn(assignment, path)).status).toBe(201);
    expect((await quirin.ask('HEAD', path)).status).toBe(404);
  });

  test('handed in several times at once it is one revision, and every answer names it', async () => {
    const name = 'Tomasz Wieczor';
    const tomasz = await speaker(school, name);
    const assignment = await nightRound(school, 'Thursday loft');
    for (let round = 0; round < 4; round++) {
      const own = new TextEncoder().encode(walk({ slide: 3 + round }));
      const path = await tomasz.whole(own, 'walk.bvh');
      const answers = await Promise.all(Array.from({ length: 5 }, () => tomasz.handIn(assignment, path)));
      const told = await Promise.all(answers.map(handed));
      expect(new Set(told.map((one) => JSON.stringify(one))).size).toBe(1);
      const [[status, revision]] = told as [[number, string]];
      expect(status).toBe(201);
      await (await school.as(name)).post(`/api/revisions/${revision}/withdraw`).expect(200);
    }
  });

  test('a small file that is sent again just as it was, since its answer was lost, is the revision it has become', async () => {
    const student = await school.as('Kiri Tamatea');
    const assignment = await nightRound(school, 'Monday loft');
    const once = await student.handIn(assignment, walk({ slide: 9 }), { note: 'The knees.' });
    expect([once.status, once.body.title]).toEqual([201, undefined]);
    const again = await student.handIn(assignment, walk({ slide: 9 }), { note: 'The knees.' });
    expect([again.status, again.body]).toEqual([201, once.body]);
    // With other words it is another hand-in, which can't come before the first one is looked at.
    expect((await student.handIn(assignment, walk({ slide: 9 }), { note: 'The arms.' })).status).toBe(409);
  });
});

test('the address names one upload, whatever stands behind it', async () => {
  const [quirin, jomo] = [await speaker(school, 'Quirin Abendroth'), await speaker(school, 'Jomo Wanyama')];
  const own = (await quirin.begin(10)).headers.get('location')!;
  const theirs = (await jomo.begin(20)).headers.get('location')!;
  await jomo.part(theirs, 0, new Uint8Array(7));
  const other = theirs.split('/').at(-1)!;
  for (const tail of [`?x=/${other}`, `?/${other}`, `#/${other}`, `?x=%2F${other}`]) {
    expect(await offsetOf(quirin.ask('HEAD', own + tail))).toBe('0');
    expect((await quirin.part(own + tail, 7, new Uint8Array(3))).status).toBe(409);
  }
  expect((await quirin.ask('DELETE', `${own}?x=/${other}`)).status).toBe(204);
  expect((await quirin.ask('HEAD', own)).status).toBe(404);
  expect(await offsetOf(jomo.ask('HEAD', theirs))).toBe('7');
  for (const path of [`${own}/${other}`, `/api/uploads/${other}/`, `/api/uploads/..%2F${other}`])
    expect((await quirin.ask('HEAD', path)).status).toBe(404);
});

describe('uploads that are on their way', () => {
  test('count towards the room that somebody has', async () => {
    const student = await school.as('Oisín Brannagh');
    const oisin = await speaker(school, 'Oisín Brannagh');
    const { used } = (await student.get('/api/room').expect(200)).body as { used: number };
    await oisin.begin(1_500_000);
    expect((await student.get('/api/room').expect(200)).body.used).toBe(used + 1_500_000);
    const more = await oisin.begin(1_500_000);
    expect([more.status, ((await more.json()) as { type: string }).type]).toEqual([413, 'quota']);
  });

  test('are so many and no more; what nothing was added to for an hour makes room', async () => {
    const hoku = await speaker(school, 'Hoku Kealoha');
    const first = (await hoku.begin(10)).headers.get('location')!;
    for (let k = 1; k < MOST_UPLOADS; k++) expect((await hoku.begin(10)).status).toBe(201);
    expect((await hoku.begin(10)).status).toBe(429);
    const path = join(school.files, 'uploads', first.split('/').at(-1)!);
    const old = new Date(Date.now() - 2 * 60 * 60 * 1000);
    await utimes(path, old, old);
    expect((await hoku.begin(10)).status).toBe(201);
    expect((await hoku.ask('HEAD', first)).status).toBe(404);
  });

  test('say how long they will be', async () => {
    const hoku = await speaker(school, 'Sunniva Dahlby');
    const answer = await hoku.ask('POST', '/api/uploads', { 'upload-defer-length': '1' });
    expect([answer.status, ((await answer.json()) as { type: string }).type]).toEqual([400, 'invalid']);
  });
});

test('where there is no room for it an upload is refused in words: before it begins, and in its midst', async () => {
  const farid = await speaker(school, 'Farid Qasemi');
  const path = (await farid.begin(40)).headers.get('location')!;
  const room = jest.spyOn(school.app.get(FileStore), 'hasRoomFor');
  const said = async (answer: Response): Promise<unknown> => {
    const { type, title, status } = (await answer.json()) as Record<string, unknown>;
    return [answer.status, answer.headers.get('content-type')?.split(';')[0], type, title, status];
  };
  const full = [
    507,
    'application/problem+json',
    'storage-full',
    'There is no room for files on this server just now.',
    507,
  ];
  try {
    room.mockResolvedValue(false);
    expect(await said(await farid.begin(10))).toEqual(full);
    expect(await said(await farid.part(path, 0, new Uint8Array(40)))).toEqual(full);
    // The disk fills while the bytes are written.
    room.mockResolvedValueOnce(true);
    const write = jest.spyOn(TusStore.prototype, 'write').mockRejectedValue(new Error('the file could not be written'));
    expect(await said(await farid.part(path, 0, new Uint8Array(40)))).toEqual(full);
    write.mockRestore();
  } finally {
    room.mockRestore();
  }
  expect((await farid.part(path, 0, new Uint8Array(40))).status).toBe(204);
});
