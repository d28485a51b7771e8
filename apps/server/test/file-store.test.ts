import { createHash } from 'node:crypto';
import { mkdtemp, readFile, readdir, rm, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { Configuration } from '../src/config.ts';
import { FileCache } from '../src/files/file-cache.ts';
import { FileStore } from '../src/files/file-store.ts';
import { TooLargeError } from '../src/files/received-file.ts';

let folder: string;
let store: FileStore;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'ypsigraph-store-'));
  store = new FileStore({
    FILES_DIR: folder,
    FILES_HOME: 'folder',
    S3_BUCKET: '',
    FILES_CACHE_MB: 64,
  } as Configuration);
  await store.onModuleInit();
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const files = async (): Promise<string[]> =>
  (await readdir(folder, { recursive: true, withFileTypes: true }))
    .filter((entry) => entry.isFile())
    .map(({ name }) => name);
const stream = (...parts: (string | Error)[]): Readable =>
  Readable.from(
    (async function* () {
      for (const part of parts) {
        if (part instanceof Error) throw part;
        yield Buffer.from(part);
      }
    })(),
  );

describe('the file store', () => {
  test('keeps a file under the SHA-256 of its content, whatever pieces it came in', async () => {
    const received = await store.receive(stream('night ', 'round'), 100);
    const sha256 = createHash('sha256').update('night round').digest('hex');
    expect(received).toMatchObject({ sha256, bytes: 11 });
    expect((await readFile(received.path)).toString()).toBe('night round');
    await received.keep();
    expect((await store.read(sha256)).toString()).toBe('night round');
    expect(await files()).toEqual([sha256]);
  });

  test('keeps the same content once', async () => {
    const a = await store.put(Buffer.from('again'));
    const b = await store.put(Buffer.from('again'));
    expect(b.sha256).toBe(a.sha256);
    expect(await files()).toHaveLength(1);
  });

  test('takes no more than it was told to, and leaves nothing of what is too large', async () => {
    await expect(store.receive(stream('x'.repeat(60), 'x'.repeat(60)), 100)).rejects.toBeInstanceOf(TooLargeError);
    expect(await files()).toEqual([]);
    expect((await store.receive(stream('x'.repeat(100)), 100)).bytes).toBe(100);
  });

  test('leaves nothing of what breaks off, or is discarded', async () => {
    await expect(store.receive(stream('half', new Error('cut')), 100)).rejects.toThrow('cut');
    await (await store.receive(stream('unwanted'), 100)).discard();
    expect(await files()).toEqual([]);
  });

  test('clears away what a process left that ended within an upload, and nothing that is still coming in', async () => {
    const old = join(folder, 'incoming', 'old');
    await writeFile(old, 'half');
    await utimes(old, new Date(0), new Date(0));
    await writeFile(join(folder, 'incoming', 'fresh'), 'coming in');
    await store.onModuleInit();
    expect(await files()).toEqual(['fresh']);
  });
});

test('of copies the longest unused goes where there is no room, and none that is in use', async () => {
  const cache = new FileCache(join(folder, 'copies'), 100);
  const names = ['a', 'b', 'c'].map((letter) => letter.repeat(64));
  for (const name of names) {
    await writeFile(join(folder, 'came'), 'x'.repeat(40));
    await cache.put(join(folder, 'came'), name);
  }
  expect(await cache.sweep()).toBe(0);
  const [first, second, third] = names as [string, string, string];
  const old = (name: string, hours: number) => {
    const at = new Date(Date.now() - hours * 3_600_000);
    return utimes(join(folder, 'copies', name.slice(0, 2), name), at, at);
  };
  for (const [name, hours] of [
    [first, 3],
    [second, 2],
    [third, 1],
  ] as const)
    await old(name, hours);
  // The oldest is wanted again.
  expect(await cache.known(first)).toBeDefined();
  expect(await cache.sweep()).toBe(1);
  expect(await Promise.all(names.map(async (name) => (await cache.known(name)) !== undefined))).toEqual([
    true,
    false,
    true,
  ]);
});
