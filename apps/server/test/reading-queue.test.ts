// What waits to be read, and in which order: motions never behind clips, nobody's second clip before another's first, and hostile clips not at all.
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import type { RevisionEvent, Shot } from '@ypsigraph/contract/shots';
import { Database } from '../src/database/database.module.ts';
import { ChangeFeed } from '../src/news/change-feed.ts';
import { ReadingQueue } from '../src/readings/reading-queue.ts';
import { clipFolder, zip } from '../../../packages/pictures/test/clips.ts';
import { nightRound, openSchool, type School, shotOf, walk } from './harness.ts';

let school: School;
let queue: ReadingQueue;
beforeAll(async () => {
  school = await openSchool({ PROCESS: 'server' }, 'read');
  queue = new ReadingQueue(school.app.get(Database), school.app.get(ChangeFeed));
});
afterAll(() => school.close());

/** Somebody's newest revision, made one that waits: as a motion, or as a clip that is not decoded yet. */
async function waits(student: string, media: 'motion' | 'pictures', exercise = 'Night round'): Promise<string> {
  const shot = await shotOf(school, student, exercise);
  const { rows } = await school.database.query(
    `UPDATE revisions SET media = $2, reading_state = 'queued', reading_from = clock_timestamp(), reading_waited = true
      WHERE id = (SELECT id FROM revisions WHERE shot_id = $1 ORDER BY number DESC LIMIT 1) RETURNING id`,
    [shot, media],
  );
  return rows[0].id as string;
}
const claimed = async (lane: 'measuring' | 'decoding'): Promise<string | undefined> =>
  (await queue.claim(lane))?.revision;
const cleared = (): Promise<unknown> =>
  school.database.query(
    `UPDATE revisions SET reading_state = 'read', media = 'motion' WHERE reading_state IN ('queued', 'reading')`,
  );
afterEach(cleared);

test('a person’s second clip waits behind others’ first, and a motion waits for no clip at all', async () => {
  const first = await waits('Farid Qasemi', 'pictures');
  const { rows } = await school.database.query(
    `SELECT b.title FROM shots s JOIN people p ON p.id = s.student_id JOIN briefs b ON b.id = s.brief_id
      WHERE p.name = 'Farid Qasemi' AND b.title <> 'Night round'`,
  );
  // Two more of his, one after the other; then others come.
  const more: string[] = [];
  for (const { title } of rows.slice(0, 2) as { title: string }[])
    more.push(await waits('Farid Qasemi', 'pictures', title));
  expect(await claimed('decoding')).toBe(first);
  const others = [await waits('Hoku Kealoha', 'pictures'), await waits('Sunniva Dahlby', 'pictures')];
  const motion = await waits('Amara Oyelaran', 'motion');
  expect(await claimed('measuring')).toBe(motion);
  const order: (string | undefined)[] = [];
  for (let k = 0; k < others.length + more.length; k++) order.push(await claimed('decoding'));
  expect(order).toEqual([...others, ...more]);
  expect([await claimed('decoding'), await claimed('measuring')]).toEqual([undefined, undefined]);
});

test('what somebody waits for comes before what nobody waits for, and what is to be tried later comes later', async () => {
  const nobodys = await waits('Farid Qasemi', 'motion');
  await school.database.query('UPDATE revisions SET reading_waited = false WHERE id = $1', [nobodys]);
  const later = await waits('Hoku Kealoha', 'motion');
  await school.database.query(`UPDATE revisions SET reading_from = now() + interval '1 hour' WHERE id = $1`, [later]);
  const somebodys = await waits('Sunniva Dahlby', 'motion');
  expect([await claimed('measuring'), await claimed('measuring'), await claimed('measuring')]).toEqual([
    somebodys,
    nobodys,
    undefined,
  ]);
});

test('of several readers each takes another one', async () => {
  const all = [
    await waits('Farid Qasemi', 'motion'),
    await waits('Hoku Kealoha', 'motion'),
    await waits('Sunniva Dahlby', 'motion'),
  ];
  const taken = await Promise.all(Array.from({ length: 6 }, () => claimed('measuring')));
  expect(taken.filter((id) => id !== undefined).sort()).toEqual(all.sort());
});

test('the place in the queue and how far a clip has come are seen, in the shot and in its stream', async () => {
  const before = [await waits('Farid Qasemi', 'pictures'), await waits('Hoku Kealoha', 'pictures')];
  const id = await waits('Sunniva Dahlby', 'pictures');
  const sunniva = await school.as('Sunniva Dahlby');
  const shot = await shotOf(school, 'Sunniva Dahlby');
  const reading = async () => ((await sunniva.get(`/api/shots/${shot}`)).body as Shot).revisions.at(-1)!.reading;
  expect(await reading()).toMatchObject({ state: 'queued', ahead: before.length, progress: null });
  const heard: RevisionEvent[] = [];
  const stream = school.app
    .get(ChangeFeed)
    .of(id)
    .subscribe((event) => heard.push(event));
  try {
    await queue.claim('decoding');
    expect((await reading()).ahead).toBe(1);
    // Nobody says so, and whoever waits hears it all the same.
    await school.database.query(
      `UPDATE revisions SET reading_state = 'reading', reading_progress = 0.4 WHERE id = $1`,
      [id],
    );
    expect(await reading()).toMatchObject({ state: 'reading', ahead: null, progress: expect.closeTo(0.4, 5) });
    for (let k = 0; k < 60 && heard.at(-1)?.reading !== 'reading'; k++)
      await new Promise((resolve) => setTimeout(resolve, 100));
    expect(heard.at(-1)).toMatchObject({ reading: 'reading', ahead: null, progress: expect.closeTo(0.4, 5) });
    expect(heard[0]).toMatchObject({ reading: 'queued', ahead: 2 });
  } finally {
    stream.unsubscribe();
  }
});

/** A GIF of many frames of one pixel on a screen of so many: small, and decoded picture by picture it is vast (GIF89a, W3C). */
function gifBomb(frames: number, side: number): Buffer {
  const word = (value: number): number[] => [value & 255, value >> 8];
  const head = [...Buffer.from('GIF89a'), ...word(side), ...word(side), 0x80, 0, 0, 0, 0, 0, 255, 255, 255];
  const frame = [
    ...[0x21, 0xf9, 4, 0, ...word(2), 0, 0],
    ...[0x2c, ...word(0), ...word(0), ...word(1), ...word(1), 0, 2, 2, 0x44, 1, 0],
  ];
  return Buffer.from([...head, ...Array.from({ length: frames }, () => frame).flat(), 0x3b]);
}

const clips = clipFolder();
afterAll(clips.end);
const zipped = (count: number, file: (k: number) => readonly [string, Uint8Array]): Buffer =>
  readFileSync(
    zip(
      clips.path('bomb.zip'),
      Array.from({ length: count }, (_, k) => file(k)),
    ),
  );

describe('clips that would keep everybody waiting are refused before any of them is decoded', () => {
  const refused = async (file: Buffer, fileName: string): Promise<{ status: number; body: Record<string, string> }> => {
    const jomo = await school.as('Jomo Wanyama');
    return jomo.handIn(await nightRound(school, 'Monday loft'), file, {}, fileName);
  };

  test('9,000 frames of 4096 × 4096 in a GIF of a few hundred kilobytes', async () => {
    const bomb = gifBomb(9_000, 4096);
    expect(bomb.length).toBeLessThan(300_000);
    const { status, body } = await refused(bomb, 'walk.gif');
    expect([status, body.title]).toEqual([422, 'This clip can’t be taken.']);
    expect(body.detail).toMatch(/It has 9000 pictures of 4096 × 4096; of that size up to \d+ can be taken/);
  });

  test('599 drawings of 4096 × 4096 in a small zip', async () => {
    const white = { width: 4096, height: 4096, channels: 3, background: '#fff' } as const;
    const drawing = await sharp({ create: white }).png({ palette: true, compressionLevel: 9 }).toBuffer();
    const bomb = zipped(599, (k) => [`${String(k + 1).padStart(4, '0')}.png`, drawing]);
    const { status, body } = await refused(bomb, 'walk.zip');
    expect(status).toBe(422);
    expect(body.detail).toMatch(/It has 599 pictures of 4096 × 4096/);
  });

  test('an archive that names more files than anybody draws', async () => {
    const bomb = zipped(21_000, (k) => [`${k}.txt`, new Uint8Array(0)]);
    const { status, body } = await refused(bomb, 'walk.zip');
    expect(status).toBe(422);
    expect(body.detail).toMatch(/21000 files in the archive; up to 20000/);
  });

  test('and an ordinary motion is taken all the while', async () => {
    const [bomb, motion] = await Promise.all([
      refused(gifBomb(9_000, 4096), 'walk.gif'),
      (await school.as('Quirin Abendroth')).handIn(await nightRound(school, 'Thursday loft'), walk()),
    ]);
    expect([bomb.status, motion.status]).toEqual([422, 201]);
  });
});
