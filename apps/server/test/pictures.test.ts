import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Pictures, Tracks } from '@ypsigraph/contract/pictures';
import type { Shot } from '@ypsigraph/contract/shots';
import { SmallPicture } from '@ypsigraph/contract/small-pictures';
import { type DrawnShot, figureShot } from '@ypsigraph/pictures/drawn/drawn-shots';
import { CODECS, encodeShot } from '@ypsigraph/pictures/drawn/encode-shot';
import { footsteps } from '@ypsigraph/pictures/drawn/footsteps';
import { zip } from '../../../packages/pictures/test/clips.ts';
import { nightRound, openSchool, reportOf, type School, shotOf, untilRead, type Visitor } from './harness.ts';

let school: School;
const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-server-clips-'));
const walk = figureShot({ exemplar: 'walk', width: 640, height: 360, leg: 120 });

async function clip(shot: DrawnShot, name: string, format: 'webm' | 'mp4', steps?: readonly number[]): Promise<Buffer> {
  const path = join(folder, name);
  await encodeShot(shot, path, { args: CODECS[format], ...(steps && { sound: footsteps(steps, shot) }) });
  return readFileSync(path);
}

beforeAll(async () => void (school = await openSchool()));
afterAll(async () => {
  await school.close();
  rmSync(folder, { recursive: true, force: true });
});

const handIn = async (
  name: string,
  file: Buffer | string,
  fileName: string,
): Promise<{ student: Visitor; shot: Shot }> => {
  const student = await school.as(name);
  const { rows } = await school.database.query(
    `SELECT c.name FROM people p JOIN enrolments e ON e.person_id = p.id JOIN cohorts c ON c.id = e.cohort_id WHERE p.name = $1`,
    [name],
  );
  const { body, status } = await student.handIn(await nightRound(school, rows[0].name as string), file, {}, fileName);
  expect([status, body.title]).toEqual([201, undefined]);
  return { student, shot: await untilRead(student, body.shot as string) };
};

/** The points of a drawn shot, as somebody would have placed them at every frame. */
const placed = (shot: DrawnShot): Tracks => ({
  version: 0,
  points: Object.keys(shot.points(0)).map((name) => ({
    name,
    places: Array.from(
      { length: shot.frames },
      (_, f) => [f, ...shot.points(f)[name]!, 1] as [number, number, number, number],
    ),
  })),
  ...{ still: [], pairs: [['hand.L', 'hand.R']], shapes: [], chains: [], ground: null, exposures: null },
});

test('a clip is read frame by frame; with its points it is measured as a motion is, for whoever may', async () => {
  const { student, shot } = await handIn('Jomo Wanyama', await clip(walk, 'walk.mp4', 'mp4'), 'walk.mp4');
  const revision = shot.revisions[0]!;
  expect(revision).toMatchObject({ media: 'pictures', tracks: 0, reading: { state: 'read', reason: null } });
  const before = await reportOf(student, shot);
  expect(before.readings.find(({ id }) => id === 'exposure.pattern')).toMatchObject({ value: 'ones' });
  expect(before.unmade.find(({ id }) => id === 'gait.slide')!.why).toMatch(/no points have been followed/);

  const facts = (await student.get(`/api/revisions/${revision.id}/pictures`).expect(200)).body as Pictures;
  expect(facts).toMatchObject({ format: 'MP4', fps: 24, frames: 24, width: 640, height: 360 });
  const all = await student.get(`/api/revisions/${revision.id}/pictures/shown?from=0&to=23`).expect(200);
  const bytes = all.body as Buffer;
  expect(bytes).toHaveLength(facts.sizes.reduce((a, b) => a + b, 0));
  // Each picture is a JPEG of its own (ISO/IEC 10918-1: it begins with SOI, FF D8, and ends with EOI, FF D9).
  let at = 0;
  for (const size of facts.sizes) {
    expect(bytes.readUInt16BE(at)).toBe(0xffd8);
    at += size;
    expect(bytes.readUInt16BE(at - 2)).toBe(0xffd9);
  }
  await student.get(`/api/revisions/${revision.id}/pictures/shown?from=20&to=24`).expect(404);
  await student.get(`/api/revisions/${revision.id}/pictures/shown?from=-1&to=2`).expect(404);
  await student.get(`/api/revisions/${revision.id}/pictures/large?from=0&to=2`).expect(404);
  const other = await school.as('Hoku Kealoha');
  await other.get(`/api/revisions/${revision.id}/pictures/small?from=0&to=2`).expect(403);

  const teacher = await school.as('Ottoline Farrow');
  const tracks = placed(walk);
  await teacher.post(`/api/revisions/${revision.id}/tracks`, tracks).expect(200);
  // The same once more, because its answer was lost, is the same; something else on the old version is a conflict.
  await teacher.post(`/api/revisions/${revision.id}/tracks`, tracks).expect(200);
  await teacher.post(`/api/revisions/${revision.id}/tracks`, { ...tracks, still: ['hips'] }).expect(409);
  const read = await untilRead(teacher, shot.id);
  expect(read.revisions[0]!.tracks).toBe(1);
  const report = await reportOf(teacher, read);
  const value = (id: string) => report.readings.find((reading) => reading.id === id)?.value;
  // What the exemplar is made with: no slide, a bob of 4.4 % of a leg, arms against legs (docs/measures of the exemplar).
  expect(value('gait.slide')).toBeLessThan(0.5);
  expect(value('gait.bob')).toBeGreaterThan(3.5);
  expect(value('gait.bob')).toBeLessThan(5.5);
  expect(value('gait.opposition')).toBeLessThan(-0.8);
  expect(report.readings.filter(({ id }) => id === 'pair.length').length).toBeGreaterThan(0);
  expect(report.unmade.find(({ id }) => id === 'gait.track')!.why).toMatch(/depth/);
});

test('a clip that sounds is heard by whoever may see it, whole or in part', async () => {
  const { student, shot } = await handIn('Kiri Tamatea', await clip(walk, 'heard.mp4', 'mp4', [2, 14]), 'heard.mp4');
  const { id } = shot.revisions.at(-1)!;
  const { body } = await student.get(`/api/revisions/${id}/pictures`).expect(200);
  const { sound } = body as Pictures;
  expect(sound!.onsets.map((at) => Math.round(24 * at))).toEqual([2, 14]);
  const whole = await student.get(`/api/revisions/${id}/sound`).expect(200);
  expect(whole.headers).toMatchObject({
    'content-type': 'audio/webm',
    'cache-control': expect.stringContaining('immutable'),
  });
  const part = await student.get(`/api/revisions/${id}/sound`).set('Range', 'bytes=4-9').expect(206);
  expect(part.headers['content-range']).toBe(`bytes 4-9/${whole.headers['content-length']}`);
  await student.get(`/api/revisions/${id}/sound`).set('Range', 'bytes=99999999-').expect(416);
  await (await school.as('Farid Qasemi')).get(`/api/revisions/${id}/sound`).expect(403);
  // A motion has none.
  const motion = await shotOf(school, 'Farid Qasemi');
  const { body: other } = await (await school.as('Ottoline Farrow')).get(`/api/shots/${motion}`).expect(200);
  const { id: ofMotion } = (other as Shot).revisions[0]!;
  await (await school.as('Ottoline Farrow')).get(`/api/revisions/${ofMotion}/sound`).expect(404);
});

test('points that can’t be are refused, and nothing of them is kept', async () => {
  const { shot } = await handIn('Tomasz Wieczor', await clip(walk, 'walk.webm', 'webm'), 'walk.webm');
  const teacher = await school.as('Ottoline Farrow');
  const path = `/api/revisions/${shot.revisions.at(-1)!.id}/tracks`;
  const good = placed(walk);
  const [hips, ...rest] = good.points;
  const wrong: Partial<Tracks>[] = [
    { points: [hips!, hips!] },
    { points: [{ name: '', places: [] }] },
    { points: [{ ...hips!, places: [...hips!.places].reverse() }] },
    { points: [{ ...hips!, places: [[0, NaN, 1, 1]] }] },
    { points: [{ ...hips!, places: [[0, 1e9, 1, 1]] }] },
    { exposures: [{ from: 1, to: 3 }] },
    { exposures: [{ from: 3, to: 1 }] },
  ];
  for (const own of wrong) await teacher.post(path, { ...good, points: rest, ...own }).expect(400);
  expect((await teacher.get(path).expect(200)).body).toMatchObject({ version: 0, points: [] });
});

test('drawings in an archive run at the rate of the exercise; what is missing among them is held, and said', async () => {
  const drawings = await Promise.all(
    [1, 2, 3, 6].map(async (k): Promise<[string, Uint8Array]> => [
      `scene/${String(k).padStart(4, '0')}.png`,
      await sharp(Buffer.from(walk.svg(k)))
        .png()
        .toBuffer(),
    ]),
  );
  const archive = readFileSync(zip(join(folder, 'drawings.zip'), drawings));
  const { student, shot } = await handIn('Quirin Abendroth', archive, 'drawings.zip');
  const report = await reportOf(student, shot);
  expect(report).toMatchObject({ format: 'drawings', fps: 24, frames: 6 });
  expect(report.warnings.join(' ')).toMatch(/4–5 are missing: the one before stands in its place/);
  await student.post(`/api/revisions/${shot.revisions.at(-1)!.id}/withdraw`).expect(200);
});

test('what is no clip is refused at once, in words', async () => {
  const student = await school.as('Quirin Abendroth');
  const assignment = await nightRound(school, 'Thursday loft');
  const said = async (file: string | Buffer, name: string): Promise<string> => {
    const { status, body } = await student.handIn(assignment, file, {}, name);
    expect(status).toBe(422);
    return body.detail as string;
  };
  expect(await said('no clip', 'walk.mp4')).toMatch(/called \.mp4, but no such clip is in it/);
  expect(await said(Buffer.from('%PDF-1.7\n'), 'walk.pdf')).toMatch(/PDF file; what can be handed in is/);
  expect(await said((await clip(walk, 'cut.mp4', 'mp4')).subarray(0, 400), 'cut.mp4')).toMatch(/broken, or cut off/);
});

test('pictures that are lost are made again from the clip', async () => {
  const { rows } = await school.database.query('SELECT file_sha256, pack_sha256 AS pack FROM pictures LIMIT 1');
  const { pack, file_sha256: sha256 } = rows[0] as { pack: string; file_sha256: string };
  const path = join(school.files, pack.slice(0, 2), pack);
  await rm(path);
  const revision = (await school.database.query('SELECT id, shot_id FROM revisions WHERE file_sha256 = $1', [sha256]))
    .rows[0];
  const teacher = await school.as('Ottoline Farrow');
  await teacher.post(`/api/revisions/${revision.id as string}/read-again`).expect(200);
  await untilRead(teacher, revision.shot_id as string);
  expect(await readdir(join(school.files, pack.slice(0, 2)))).toContain(pack);
  await teacher.get(`/api/revisions/${revision.id as string}/pictures/shown?from=0&to=1`).expect(200);
  expect(await readdir(join(school.files, 'incoming'))).toEqual([]);
});

test('lists show a few poses of a motion, and some of a clip’s pictures; nothing of what is not read', async () => {
  const small = async (name: string): Promise<{ id: string; body: SmallPicture; kept: string }> => {
    const student = await school.as(name);
    const { id } = (await untilRead(student, await shotOf(school, name))).revisions.at(-1)!;
    const { body, headers } = await student.get(`/api/revisions/${id}/small`).expect(200);
    return { id, body: SmallPicture.parse(body), kept: headers['cache-control'] as string };
  };
  const figure = await small('Farid Qasemi');
  expect(figure).toMatchObject({ body: { kind: 'figure', width: 120 }, kept: 'private, max-age=604800' });
  expect(JSON.stringify(figure.body).length).toBeLessThan(12_000);
  expect((await small('Jomo Wanyama')).body).toMatchObject({ kind: 'pictures', pictures: expect.arrayContaining([0]) });
  await school.database.query('DELETE FROM readings WHERE revision_id = $1', [figure.id]);
  expect(await small('Farid Qasemi')).toMatchObject({ body: { kind: 'none' }, kept: 'private, no-store' });
});
