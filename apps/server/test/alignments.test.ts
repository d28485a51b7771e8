import { randomUUID } from 'node:crypto';
import type { MarkEvent } from '@ypsigraph/contract/marks';
import type { Carried } from '@ypsigraph/contract/alignments';
import { carryLabels } from '@ypsigraph/core/align/carry';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import { nightRound, openSchool, type School, untilRead, type Visitor } from './harness.ts';

let school: School;
let student: Visitor;
let teacher: Visitor;
let shot: string;
let revisions: readonly string[];

const walkOf = (length: number): string => writeBvh(walkExemplar({ length }, {}));

/** Hands in a walk of so many frames a cycle, waits until it is read, and sends it back. */
async function handedIn(length: number, back: boolean): Promise<void> {
  const { body, status } = await student.handIn(await nightRound(school, 'Monday loft'), walkOf(length));
  expect([status, body.title]).toEqual([201, undefined]);
  shot = body.shot as string;
  const read = await untilRead(teacher, shot);
  revisions = read.revisions.map(({ id }) => id);
  if (back)
    await teacher.post(`/api/revisions/${revisions.at(-1)}/send-back`, { words: 'retime it', asked: '' }).expect(200);
}

/** Where marks lie in a revision, once all of it has been made. */
async function carriedTo(revision: string): Promise<Carried> {
  for (let k = 0; k < 150; k++) {
    const { body } = await teacher.get(`/api/revisions/${revision}/carried`).expect(200);
    if ((body as Carried).from.every(({ outcome }) => outcome !== null)) return body as Carried;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error('the revisions were not aligned');
}

beforeAll(async () => {
  school = await openSchool();
  [student, teacher] = [await school.as('Jomo Wanyama'), await school.as('Ottoline Farrow')];
  for (const [length, back] of [
    [40, true],
    [24, true],
    [20, false],
  ] as const)
    await handedIn(length, back);
});
afterAll(() => school.close());

test('a cycle of 40 frames, then 24, then 20: every earlier revision is aligned with the newest, and kept', async () => {
  const { from, places } = await carriedTo(revisions[2]!);
  expect([from.map(({ revision }) => revision), places]).toEqual([revisions.slice(0, 2), []]);
  for (const [k, length] of [40, 24].entries()) {
    const outcome = from[k]!.outcome!;
    if (!('map' in outcome)) throw new Error(outcome.why);
    const half = carryLabels({ from: 1 + length / 2, to: 1 + length / 2 }, outcome.map)!;
    expect(Math.abs(half.from - 11)).toBeLessThanOrEqual(1);
  }
  // Asked for again it is the same, and nothing is made anew.
  const before = await school.database.query('SELECT tries FROM alignments');
  await carriedTo(revisions[2]!);
  expect((await school.database.query('SELECT tries FROM alignments')).rows).toEqual(before.rows);
  // The first has none before it.
  expect((await carriedTo(revisions[0]!)).from).toEqual([]);
});

test('where a mark lies is put right by hand, by whoever reviews it, and taken back', async () => {
  const key = randomUUID();
  await teacher
    .post(`/api/revisions/${revisions[0]}/marks`, { key, kind: 'note', from: 1, to: 20, point: null, words: 'late' })
    .expect(201);
  const [, , newest] = revisions;
  const placing = { revision: newest, place: { from: 3, to: 9 } };
  const placed = await teacher.post(`/api/marks/${key}/place`, placing).expect(200);
  expect((placed.body as Carried).places).toEqual([{ mark: key, from: 3, to: 9, author: 'Ottoline Farrow' }]);
  await teacher.post(`/api/marks/${key}/place`, { ...placing, place: { from: 9, to: 3 } }).expect(400);
  // A mark lies in its own revision where it was made, and in nobody else's at all.
  await teacher.post(`/api/marks/${key}/place`, { ...placing, revision: revisions[0] }).expect(409);
  await student.post(`/api/marks/${key}/place`, placing).expect(403);
  const gone = await teacher.post(`/api/marks/${key}/place`, { ...placing, place: null }).expect(200);
  expect((gone.body as Carried).places).toEqual([]);
  const { rows } = await school.database.query(`SELECT what FROM mark_events WHERE mark_id = $1 AND what = 'placed'`, [
    key,
  ]);
  expect(rows).toHaveLength(2);
});

test('what has happened to a mark is told in order; its student is told from when it was sent', async () => {
  const key = randomUUID();
  const [, , newest] = revisions;
  const body = { key, kind: 'note', from: 1, to: 3, point: null, words: 'the knees' };
  await teacher.post(`/api/revisions/${newest}/marks`, body).expect(201);
  await teacher.patch(`/api/marks/${key}`, { words: 'the knees lock' }).expect(200);
  await student.get(`/api/marks/${key}/history`).expect(404);
  await teacher.post(`/api/revisions/${newest}/send-back`, { words: 'look at the knees', asked: '' }).expect(200);
  await student.post(`/api/marks/${key}/replies`, { key: randomUUID(), words: 'bent them' }).expect(201);
  await teacher.post(`/api/marks/${key}/verdict`, { state: 'cleared' }).expect(200);
  const told = async (visitor: Visitor): Promise<string[]> => {
    const { body: events } = await visitor.get(`/api/marks/${key}/history`).expect(200);
    return (events as MarkEvent[]).map(({ what, author }) => `${what} by ${author.name}`);
  };
  const sent = ['sent by Ottoline Farrow', 'answered by Jomo Wanyama', 'cleared by Ottoline Farrow'];
  expect(await told(teacher)).toEqual(['made by Ottoline Farrow', 'changed by Ottoline Farrow', ...sent]);
  expect(await told(student)).toEqual(sent);
  await (await school.as('Hoku Kealoha')).get(`/api/marks/${key}/history`).expect(403);
});

test('a revision whose first frame was corrected is aligned anew', async () => {
  await teacher.patch(`/api/revisions/${revisions[2]}`, { firstFrame: 101 }).expect(200);
  await untilRead(teacher, shot);
  const { from } = await carriedTo(revisions[2]!);
  const outcome = from.at(-1)!.outcome!;
  if (!('map' in outcome)) throw new Error(outcome.why);
  expect(outcome.map[0]![1]).toBeGreaterThan(99);
});

test('what has gone wrong three times says so, and who died over it is not waited for', async () => {
  await school.database.query(
    `UPDATE alignments SET outcome = NULL, tries = 3, claimed_at = now() - interval '1 hour' WHERE to_revision = $1`,
    [revisions[2]],
  );
  const { from } = await carriedTo(revisions[2]!);
  expect(from.map(({ outcome }) => outcome)).toEqual(
    from.map(() => ({ why: 'something went wrong here while they were aligned' })),
  );
});
