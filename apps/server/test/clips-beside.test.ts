import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import type { BriefVersions, ListedBrief } from '@ypsigraph/contract/briefs';
import type { Pictures } from '@ypsigraph/contract/pictures';
import type { Shot } from '@ypsigraph/contract/shots';
import { FileSweeper } from '../src/files/file-sweeper.ts';
import { figureShot } from '@ypsigraph/pictures/drawn/drawn-shots';
import { footsteps } from '@ypsigraph/pictures/drawn/footsteps';
import { CODECS, encodeShot } from '@ypsigraph/pictures/drawn/encode-shot';
import {
  HEADER,
  nightRound,
  openSchool,
  reportOf,
  shotOf,
  type School,
  untilRead,
  type Visitor,
  walk,
} from './harness.ts';
import { speaker } from './tus-speaker.ts';

let school: School;
const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-server-beside-'));
let clip: Buffer;

beforeAll(async () => {
  school = await openSchool();
  const path = join(folder, 'walk.webm');
  const shot = figureShot({ exemplar: 'walk', width: 320, height: 180, leg: 60 });
  await encodeShot(shot, path, { args: CODECS.webm });
  clip = readFileSync(path);
});
afterAll(async () => {
  await school.close();
  rmSync(folder, { recursive: true, force: true });
});

/** The name of an upload that has come whole. */
const uploaded = async (name: string, file: Uint8Array, fileName = 'walk.webm'): Promise<string> => {
  const own = await speaker(school, name);
  return (await own.whole(file, fileName)).split('/').at(-1)!;
};
/** Asks for a shot until the clip of its newest revision has been read, or can't be: the motion does not wait for it. */
async function untilSeen(visitor: Visitor, shot: string): Promise<Shot> {
  for (let k = 0; k < 400; k++) {
    const { body } = await visitor.get(`/api/shots/${shot}`).expect(200);
    const { clip } = (body as Shot).revisions.at(-1)!;
    if (clip!.made || clip!.refused !== null) return body as Shot;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('the clip was never read');
}
const filesOf = async (): Promise<number> =>
  Number((await school.database.query('SELECT count(*) FROM files')).rows[0].count);

test('a sound among a brief’s files is heard with every motion handed in from then on, unless one comes with it', async () => {
  const path = join(folder, 'bell.wav');
  const { rate, samples } = footsteps([6], { fps: 24, frames: 24 });
  writeFileSync(`${path}.f32`, new Uint8Array(samples.buffer));
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'f32le', '-ar', String(rate), '-ac', '1', '-i', `${path}.f32`, path]);
  const instructor = await school.as('Ottoline Farrow');
  const list = (await instructor.get('/api/briefs').expect(200)).body as ListedBrief[];
  const { id } = list.find(({ title }) => title === 'Last ferry')!;
  const agent = request.agent(school.app.getHttpServer());
  const { rows } = await school.database.query(`SELECT id FROM people WHERE name = 'Ottoline Farrow'`);
  await agent.post('/api/demo/session').set(HEADER).send({ person: rows[0].id });
  const add = async (name: string, bytes: Buffer): Promise<BriefVersions['versions'][number]> =>
    (await agent.post(`/api/briefs/${id}/files`).set(HEADER).attach('file', bytes, name).expect(200)).body.versions[0];
  await add('words.wav', Buffer.from('The ferry leaves at ten past nine.'));
  const added = await add('bell.wav', readFileSync(path));
  const [words, bell] = ['words.wav', 'bell.wav'].map((name) => added.files.find((file) => file.name === name)!);
  const hear = (file: string, heard: boolean) => instructor.patch(`/api/briefs/${added.id}/files/${file}`, { heard });
  expect((await hear(words!.id, true)).status).toBe(422);
  const { body: after } = await hear(bell!.id, true).expect(200);
  const [newest] = (after as BriefVersions).versions;
  expect(newest!.files.map(({ name, heard }) => [name, heard])).toEqual([
    ['words.wav', false],
    ['bell.wav', true],
  ]);
  // The exercise as it is set now: who begins gets the newest version.
  const { rows: set } = await school.database.query(
    `SELECT a.id FROM assignments a JOIN cohorts c ON c.id = a.cohort_id JOIN briefs b ON b.id = a.brief_id
      WHERE c.name = 'Thursday loft' AND b.title = 'Last ferry'`,
  );
  await school.database.query('UPDATE assignments SET brief_id = $2 WHERE id = $1', [set[0].id, newest!.id]);
  const student = await school.as('Rosalind Achebe-Moor');
  const { body } = await student.handIn(set[0].id, walk());
  const { revisions } = await untilSeen(student, body.shot);
  expect(revisions[0]!.clip).toMatchObject({
    fileName: 'bell.wav',
    firstLabel: revisions[0]!.firstFrame,
    refused: null,
    made: true,
  });
  await hear(newest!.files[1]!.id, false).expect(200);
});

test('a motion and its sound are one revision: heard with it, from the frame that was said; a sound alone is refused', async () => {
  const path = join(folder, 'steps.wav');
  const { rate, samples } = footsteps([0, 12], { fps: 24, frames: 24 });
  writeFileSync(`${path}.f32`, new Uint8Array(samples.buffer));
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'f32le', '-ar', String(rate), '-ac', '1', '-i', `${path}.f32`, path]);
  const sound = readFileSync(path);
  const student = await school.as('Tomasz Wieczor');
  const exercise = await nightRound(school, 'Thursday loft');
  const alone = await student.handIn(exercise, sound, {}, 'steps.wav');
  expect([alone.status, alone.body.title]).toEqual([422, 'This is a sound alone.']);
  const { body, status } = await student.handIn(exercise, walk(), {
    clip: await uploaded('Tomasz Wieczor', sound, 'steps.wav'),
    clipFirst: '3',
  });
  expect([status, body.title]).toEqual([201, undefined]);
  const shot = await untilSeen(student, body.shot as string);
  const { id, clip } = shot.revisions.at(-1)!;
  expect(clip).toMatchObject({ fileName: 'steps.wav', firstLabel: 3, made: true, refused: null });
  const facts = (await student.get(`/api/revisions/${id}/pictures`).expect(200)).body as Pictures;
  expect(facts).toMatchObject({ format: 'WAV', frames: 0, pictures: [] });
  expect(facts.sound!.onsets.map((at) => Math.round(24 * at))).toEqual([0, 12]);
  await student.get(`/api/revisions/${id}/pictures/shown?from=0&to=0`).expect(404);
  const heard = await student.get(`/api/revisions/${id}/sound`).expect(200);
  expect(heard.headers['content-type']).toMatch(/^audio\/webm/);
});

test('a motion and the clip of it are one revision: it is measured by the motion, and seen with the clip', async () => {
  const student = await school.as('Jomo Wanyama');
  const { body, status } = await student.handIn(await nightRound(school, 'Monday loft'), walk(), {
    clip: await uploaded('Jomo Wanyama', clip),
    clipFirst: '-4',
  });
  expect([status, body.title]).toEqual([201, undefined]);
  await untilRead(student, body.shot as string);
  const shot = await untilSeen(student, body.shot as string);
  const revision = shot.revisions.at(-1)!;
  expect(revision).toMatchObject({
    media: 'motion',
    clip: { fileName: 'walk.webm', firstLabel: -4, under: null, made: true, refused: null },
  });
  expect((await reportOf(student, shot)).format).toBe('bvh');
  const facts = (await student.get(`/api/revisions/${revision.id}/pictures`).expect(200)).body as Pictures;
  expect(facts).toMatchObject({ format: 'WebM', frames: 24, width: 320 });
  const frame = await student.get(`/api/revisions/${revision.id}/pictures/shown?from=3&to=3`).expect(200);
  expect(frame.body).toHaveLength(facts.sizes[3]!);
  // Points are put on what is measured: of this revision that is the motion.
  const none = { version: 0, points: [], still: [], pairs: [], shapes: [], ground: null, exposures: null };
  await student.post(`/api/revisions/${revision.id}/tracks`, none).expect(404);

  // Its clip is moved by whoever may, and nothing is measured again for that.
  const place = { firstLabel: 3, under: { x: 0.25, y: -0.5, height: 2.4 } };
  const teacher = await school.as('Ottoline Farrow');
  const moved = await teacher.post(`/api/revisions/${revision.id}/clip`, place).expect(200);
  expect(moved.body.revisions.at(-1)).toMatchObject({ clip: place, reading: revision.reading });
  await teacher.post(`/api/revisions/${revision.id}/clip`, { ...place, firstLabel: 0.5 }).expect(400);
  await teacher.post(`/api/revisions/${revision.id}/clip`, { ...place, under: { x: 0, y: 0, height: 0 } }).expect(400);
  // Its frames are called otherwise now: the clip stays beside those that it lay beside.
  await teacher.patch(`/api/revisions/${revision.id}`, { firstFrame: revision.firstFrame + 100 }).expect(200);
  expect((await untilRead(teacher, shot.id)).revisions.at(-1)!.clip!.firstLabel).toBe(103);
  await teacher.post(`/api/revisions/${revision.id}/desk`).expect(200);
  await student.post(`/api/revisions/${revision.id}/clip`, place).expect(403);

  // The clip is named by a revision: it stays when leftovers are swept, and counts towards the student's room.
  await school.app.get(FileSweeper).sweep(Date.now() + 1e8);
  await student.get(`/api/revisions/${revision.id}/pictures/small?from=0&to=3`).expect(200);
  expect((await student.get('/api/room').expect(200)).body.used).toBe(revision.bytes + clip.length);
});

test('a motion alone has no clip that could be moved', async () => {
  const student = await school.as('Ottoline Farrow');
  const shot = await untilRead(student, await shotOf(school, 'Hoku Kealoha'));
  const { id, clip: none } = shot.revisions.at(-1)!;
  expect(none).toBeNull();
  await student.post(`/api/revisions/${id}/clip`, { firstLabel: 1, under: null }).expect(404);
  await student.get(`/api/revisions/${id}/pictures`).expect(404);
});

test('two clips, or something else than a clip, are refused in words, and nothing of either is kept', async () => {
  const name = 'Quirin Abendroth';
  const student = await school.as(name);
  const assignment = await nightRound(school, 'Thursday loft');
  const before = await filesOf();
  const said = async (file: string | Buffer, fileName: string, upload: string): Promise<unknown> => {
    const { body, status } = await student.handIn(assignment, file, { clip: upload }, fileName);
    return [status, body.title];
  };
  expect(await said(clip, 'walk.webm', await uploaded(name, clip))).toEqual([422, 'Both files are pictures.']);
  const motion = new TextEncoder().encode(walk({ slide: 3 }));
  expect(await said(walk(), 'walk.bvh', await uploaded(name, motion, 'other.bvh'))).toEqual([
    422,
    'What came with the motion is no clip.',
  ]);
  const broken = clip.subarray(0, 300);
  expect(await said(walk(), 'walk.bvh', await uploaded(name, broken))).toEqual([422, 'This clip can’t be taken.']);
  // Somebody else's upload, and one that was never begun, are none.
  const theirs = await uploaded('Jomo Wanyama', clip);
  expect((await said(walk(), 'walk.bvh', theirs)) as number[]).toContain(404);
  const worksheet = await student.get('/api/worksheet').expect(200);
  expect(worksheet.status).toBe(200);
  expect(await filesOf()).toBe(before);
});

test('a clip that can’t be read to its end says why beside the motion, which is measured all the same', async () => {
  const name = 'Quirin Abendroth';
  const student = await school.as(name);
  // It begins as it should, and then has nothing but noise in its frames.
  const noise = Buffer.from(clip);
  for (let k = 700; k < noise.length; k++) noise[k] = (k * 7919) % 251;
  const { body, status } = await student.handIn(await nightRound(school, 'Thursday loft'), walk(), {
    clip: await uploaded(name, noise),
  });
  if (status === 422) return void expect(body.title).toBe('This clip can’t be taken.');
  await untilRead(student, body.shot as string);
  const revision = (await untilSeen(student, body.shot as string)).revisions.at(-1)!;
  expect(revision.reading.state).toBe('read');
  expect(revision.clip!.made || revision.clip!.refused !== null).toBe(true);
});
