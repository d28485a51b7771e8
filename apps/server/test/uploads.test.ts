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
  // It is a revision now, and no upload any more.
  expect((await jomo.handIn(assignment, path)).status).toBe(404);
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
  expect((await teacher.begin(10)).status).toBe(403);
  // Taken away by its owner it is gone.
  expect((await quirin.ask('DELETE', path)).status).toBe(204);
  expect((await quirin.ask('HEAD', path)).status).toBe(404);
});

test('more than there is room for is refused before a byte of it has come', async () => {
  const quirin = await speaker(school, 'Quirin Abendroth');
  expect((await quirin.begin(3 * 1024 * 1024)).status).toBe(413);
});
