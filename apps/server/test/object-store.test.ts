// Files in an object store that several servers reach, and moved there from a folder while people hand in.
import { createHash, randomBytes } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ListObjectsV2Command, PutObjectCommand, S3Client } from '@aws-sdk/client-s3';
import type { NestExpressApplication } from '@nestjs/platform-express';
import request from 'supertest';
import { type ObjectStore, startObjectStore } from '../../../scripts/lib/services.mjs';
import { backUp, restore } from '../src/admin/backup.ts';
import { moveFiles } from '../src/admin/move-files.ts';
import { createApplication } from '../src/application.ts';
import { type Configuration, readConfiguration } from '../src/config.ts';
import { FileMissingError, FilesAwayError } from '../src/files/file-home.ts';
import { FileStore } from '../src/files/file-store.ts';
import { FileSweeper } from '../src/files/file-sweeper.ts';
import { homesOf } from '../src/files/homes.ts';
import { HEADER, nightRound, openSchool, type School, untilRead, walk } from './harness.ts';
import { machines } from './machine.ts';
import { speaker } from './tus-speaker.ts';

let folder: string;
let store: ObjectStore;
let school: School;
/** A second server of the same school, on another machine: it shares the database and the object store, and no folder. */
let second: NestExpressApplication;
let configuration: (own: Record<string, string>) => Configuration;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'ypsigraph-objects-'));
  store = await startObjectStore(join(__dirname, '../../..'), join(folder, 'store'));
  // It begins with its files in a folder, and knows of the store.
  school = await openSchool({ ...store.environment });
  const { host, port, user, password, database } = school.database as unknown as Record<string, string>;
  configuration = (own) =>
    readConfiguration({
      DATABASE_URL: `postgres://${user}:${password}@${host}:${port}/${database}`,
      SESSION_SECRET: 'only for tests, on the loopback, thrown away',
      FILES_DIR: school.files,
      DEMO: '1',
      LOG_LEVEL: 'silent',
      ...store.environment,
      ...own,
    });
  second = await createApplication(
    configuration({ FILES_HOME: 'objects', FILES_DIR: join(folder, 'second'), PROCESS: 'server' }),
  );
  await second.listen(0, '127.0.0.1');
});
afterEach(() => store.answer('well'));
afterAll(async () => {
  await second.close();
  await school.close();
  await store.end();
  await rm(folder, { recursive: true, force: true });
});

const bucket = (): S3Client => {
  const { S3_ENDPOINT, S3_ACCESS_KEY_ID, S3_SECRET_ACCESS_KEY } = store.environment;
  return new S3Client({
    endpoint: S3_ENDPOINT!,
    region: 'us-east-1',
    forcePathStyle: true,
    credentials: { accessKeyId: S3_ACCESS_KEY_ID!, secretAccessKey: S3_SECRET_ACCESS_KEY! },
  });
};
const keys = async (): Promise<string[]> => {
  const { Contents = [] } = await bucket().send(new ListObjectsV2Command({ Bucket: store.environment.S3_BUCKET }));
  return Contents.map(({ Key }) => Key!);
};
const filesOf = (app: NestExpressApplication): FileStore => app.get(FileStore);
const kept = (text: string) => filesOf(second).put(Buffer.from(text));
const elsewhere = (): School => ({ ...school, app: second });

test('what one server keeps another gives, to the byte, whole and in part; large files as well', async () => {
  for (const bytes of [Buffer.from('night round'), randomBytes(36 * 1024 * 1024)]) {
    const { sha256 } = await filesOf(second).put(bytes);
    expect(sha256).toBe(createHash('sha256').update(bytes).digest('hex'));
    const range = await filesOf(school.app).range(sha256, 2, 9);
    const part: Buffer[] = [];
    for await (const chunk of range) part.push(chunk as Buffer);
    expect(Buffer.concat(part).equals(bytes.subarray(2, 10))).toBe(true);
    expect((await filesOf(school.app).read(sha256)).equals(bytes)).toBe(true);
  }
  await expect(filesOf(second).read('0'.repeat(64))).rejects.toBeInstanceOf(FileMissingError);
});

test('a copy that comes otherwise than it was kept is given to nobody', async () => {
  const { sha256 } = await kept('what was kept');
  const { home } = homesOf(configuration({ FILES_HOME: 'objects' }));
  // The store itself refuses what is not the content of its hash …
  const path = join(folder, 'other');
  await writeFile(path, 'what was kepT');
  await home.remove(sha256);
  await expect(home.keep(path, sha256, 13)).rejects.toBeInstanceOf(FilesAwayError);
  // … and what was changed there is seen when it comes.
  await bucket().send(
    new PutObjectCommand({ Bucket: store.environment.S3_BUCKET, Key: `files/${sha256}`, Body: 'what was kepT' }),
  );
  await expect(filesOf(school.app).read(sha256)).rejects.toBeInstanceOf(FilesAwayError);
  await home.remove(sha256);
});

test('an upload goes on at another server, and is handed in there', async () => {
  await using(async (third) => {
    const assignment = await nightRound(school, 'Monday loft');
    const file = new TextEncoder().encode(walk());
    const here = await speaker(elsewhere(), 'Jomo Wanyama');
    const there = await speaker({ ...school, app: third }, 'Jomo Wanyama');
    const path = (await here.begin(file.length)).headers.get('location')!;
    const half = Math.floor(file.length / 2);
    expect((await here.part(path, 0, file.subarray(0, half))).status).toBe(204);
    expect((await there.ask('HEAD', path)).headers.get('upload-offset')).toBe(String(half));
    expect((await there.part(path, half, file.subarray(half))).status).toBe(204);
    const handed = await here.handIn(assignment, path);
    expect(handed.status).toBe(201);
    const { shot } = (await handed.json()) as { shot: string };
    // Read by the first server, which keeps its own files in a folder.
    const read = await untilRead(await school.as('Jomo Wanyama'), shot);
    expect(read.revisions[0]).toMatchObject({ bytes: file.length, reading: { state: 'read' } });
    expect((await there.ask('HEAD', path)).status).toBe(404);
    expect((await keys()).filter((key) => !key.startsWith('files/'))).toEqual([]);
  });
});

test('two servers never write to one upload at once: who comes later is let in, and the earlier request ends', async () => {
  await using(async (third) => {
    const [here, there] = [
      await speaker(elsewhere(), 'Kiri Tamatea'),
      await speaker({ ...school, app: third }, 'Kiri Tamatea'),
    ];
    const file = new TextEncoder().encode(walk());
    const path = (await here.begin(file.length)).headers.get('location')!;
    // A line that hangs in the middle of a piece.
    let hang = (): void => undefined;
    const slow = new ReadableStream({
      start(controller) {
        controller.enqueue(file.subarray(0, 1000));
        hang = () => controller.close();
      },
    });
    const hanging = here
      .ask('PATCH', path, { 'upload-offset': '0', 'content-type': 'application/offset+octet-stream' }, slow as never)
      .catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 500));
    const state = await there.ask('HEAD', path);
    const offset = Number(state.headers.get('upload-offset'));
    expect(state.status).toBe(200);
    expect((await there.part(path, offset, file.subarray(offset))).status).toBe(204);
    hang();
    await hanging;
    expect((await there.ask('HEAD', path)).headers.get('upload-offset')).toBe(String(file.length));
    expect((await there.ask('DELETE', path)).status).toBe(204);
    expect((await school.database.query('SELECT FROM upload_locks')).rowCount).toBe(0);
  });
});

/** Another server of the school, on a machine of its own, for as long as something is done. */
async function using(work: (app: NestExpressApplication) => Promise<void>): Promise<void> {
  const third = await createApplication(
    configuration({ FILES_HOME: 'objects', FILES_DIR: join(folder, 'third'), PROCESS: 'server' }),
  );
  await third.listen(0, '127.0.0.1');
  try {
    await work(third);
  } finally {
    await third.close();
  }
}

test('while the store is away it is said, nothing is handed in, and the file may be sent again; slow or cut answers are waited for', async () => {
  const assignment = await nightRound(school, 'Thursday loft');
  const { port } = second.getHttpServer().address() as AddressInfo;
  const agent = request.agent(`http://127.0.0.1:${port}`);
  const { rows } = await school.database.query(`SELECT id FROM people WHERE name = 'Tomasz Wieczor'`);
  await agent.post('/api/demo/session').set(HEADER).send({ person: rows[0].id }).expect(200);
  const count = async (): Promise<number> => (await school.database.query('SELECT FROM revisions')).rowCount!;
  const handIn = () =>
    agent
      .post(`/api/assignments/${assignment}/revisions`)
      .set(HEADER)
      .field('stage', 'smoothing')
      .attach('file', Buffer.from(walk({ slide: 3 })), 'walk.bvh');
  const before = await count();
  await store.answer('away');
  const refused = await handIn();
  expect([refused.status, refused.body.type]).toEqual([503, 'files-away']);
  expect(await count()).toBe(before);
  const ready = await agent.get('/api/ready').expect(200);
  expect(ready.body).toMatchObject({ status: 'the store of files does not answer', database: true, files: false });
  await store.answer('slow', 300);
  expect((await handIn()).status).toBe(201);
  await store.answer('half', 2);
  const { sha256 } = await kept('what comes in halves');
  await filesOf(second).remove('f'.repeat(64));
  expect((await filesOf(school.app).read(sha256)).toString()).toBe('what comes in halves');
});

// As a store says whose own servers are just coming up again.
test('a store that has no such bucket is away; it is not the file that is missing', async () => {
  const elsewhereNow = homesOf(configuration({ FILES_HOME: 'objects', S3_BUCKET: 'no-such-bucket' })).home;
  await expect(elsewhereNow.open('a'.repeat(64))).rejects.toThrow(FilesAwayError);
  await expect(homesOf(configuration({ FILES_HOME: 'objects' })).home.open('a'.repeat(64))).rejects.toThrow(
    FileMissingError,
  );
});

test('files are moved while they are handed in, looked at by their hash, and read in both homes', async () => {
  const names = await school.database.query<{ sha256: string }>('SELECT DISTINCT sha256 FROM named_files');
  const moving = moveFiles(configuration({ FILES_HOME: 'objects' }), true);
  // The server that still keeps its files in the folder goes on taking them in.
  const quirin = await school.as('Quirin Abendroth');
  const handed = await quirin.handIn(await nightRound(school, 'Thursday loft'), walk({ depth: 2 }));
  expect(handed.status).toBe(201);
  expect(await moving).toMatch(/files moved to the bucket saltwick/);
  expect(await moveFiles(configuration({ FILES_HOME: 'objects' }), true)).toMatch(/were there/);
  const { home, other } = homesOf(configuration({ FILES_HOME: 'objects' }));
  for (const { sha256 } of names.rows)
    expect([await home.has(sha256), await other!.has(sha256)]).toEqual([true, false]);
  // Both servers give every one of them.
  for (const { sha256 } of names.rows.slice(0, 5))
    for (const app of [school.app, second])
      expect(
        createHash('sha256')
          .update(await filesOf(app).read(sha256))
          .digest('hex'),
      ).toBe(sha256);
  // And back.
  expect(await moveFiles(configuration({ FILES_HOME: 'folder' }), false)).toContain(`files moved to ${school.files}`);
  for (const { sha256 } of names.rows) expect(await other!.has(sha256)).toBe(true);
});

test('with one home only nothing can be moved, and a file that is in neither is named', async () => {
  await expect(moveFiles(configuration({ S3_BUCKET: '' }), false)).rejects.toThrow(/one home only/);
  const lost = 'e'.repeat(64);
  await school.database.query('INSERT INTO files (sha256, bytes) VALUES ($1, 1)', [lost]);
  const { rows } = await school.database.query(`SELECT id FROM briefs LIMIT 1`);
  await school.database.query(
    `INSERT INTO brief_files (brief_id, file_sha256, file_name) VALUES ($1, $2, 'lost.txt')`,
    [rows[0].id, lost],
  );
  await expect(moveFiles(configuration({ FILES_HOME: 'objects' }), false)).rejects.toThrow(lost);
  await school.database.query('DELETE FROM brief_files WHERE file_sha256 = $1', [lost]);
  await school.database.query('DELETE FROM files WHERE sha256 = $1', [lost]);
});

test('what nobody names is swept from the store', async () => {
  const { sha256 } = await kept('in nobody’s name');
  const inAnHour = Date.now() + 2 * 60 * 60 * 1000;
  await second.get(FileSweeper).sweep(inAnHour);
  await expect(filesOf(second).read(sha256)).rejects.toBeInstanceOf(FileMissingError);
  expect(await keys()).not.toContain(`files/${sha256}`);
});

test('a backup of files in an object store is whole, and restored into a folder or another bucket', async () => {
  const all = await machines();
  try {
    await moveFiles(configuration({ FILES_HOME: 'objects' }), true);
    const backup = join(folder, 'backup');
    await backUp(configuration({ FILES_HOME: 'objects' }), backup);
    const { files } = JSON.parse(await readFile(join(backup, 'manifest.json'), 'utf8')) as {
      files: { sha256: string }[];
    };
    const empty = await all.empty('objects');
    const other = await startObjectStore(join(__dirname, '../../..'), join(folder, 'other-store'), 'elsewhere');
    const target = readConfiguration({ ...empty, ...other.environment, FILES_HOME: 'objects' });
    expect(await restore(target, backup)).toMatch(/^restored/);
    const { home } = homesOf(target);
    for (const { sha256 } of files) expect(await home.has(sha256)).toBe(true);
    await other.end();
  } finally {
    await all.end();
  }
});

test('with signed reads whoever saves a file is sent to the store for it; a page is not', async () => {
  const third = await createApplication(
    configuration({
      FILES_HOME: 'objects',
      FILES_DIR: join(folder, 'signed'),
      PROCESS: 'server',
      S3_SIGNED_READS: '1',
    }),
  );
  await third.listen(0, '127.0.0.1');
  try {
    const agent = request.agent(third.getHttpServer());
    const { rows } = await school.database.query(
      `SELECT r.id, r.file_name AS name, s.student_id AS student FROM revisions r JOIN shots s ON s.id = r.shot_id WHERE r.state <> 'withdrawn' AND r.media = 'motion' LIMIT 1`,
    );
    await agent.post('/api/demo/session').set(HEADER).send({ person: rows[0].student }).expect(200);
    await agent.get(`/api/revisions/${rows[0].id}/file`).expect(200);
    const sent = await agent.get(`/api/revisions/${rows[0].id}/file`).set('Sec-Fetch-Mode', 'navigate').expect(302);
    const saved = await fetch(sent.headers.location as string);
    expect(saved.status).toBe(200);
    expect((await saved.text()).startsWith('HIERARCHY')).toBe(true);
  } finally {
    await third.close();
  }
});
