import { createReadStream } from 'node:fs';
import { access, mkdir, readdir, rename, rm, stat, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Readable } from 'node:stream';
import { type ByteRange, type FileHome, FileMissingError, type KeptFile } from './file-home.ts';
import { synced } from './synced.ts';

/** Files in folders of the file system, under the first two letters of their hash. */
export class FolderHome implements FileHome {
  readonly name: string;

  constructor(private readonly root: string) {
    this.name = root;
  }

  async keep(path: string, sha256: string): Promise<void> {
    const target = this.localPath(sha256);
    await mkdir(dirname(target), { recursive: true });
    await synced(path);
    await rename(path, target);
    // The name itself is on the disk once its folder is.
    await synced(dirname(target));
  }

  async has(sha256: string): Promise<boolean> {
    const path = this.localPath(sha256);
    return access(path).then(
      () => true,
      () => false,
    );
  }

  async open(sha256: string, range?: ByteRange): Promise<Readable> {
    if (!(await this.has(sha256))) throw new FileMissingError();
    return createReadStream(this.localPath(sha256), range);
  }

  localPath(sha256: string): string {
    return join(this.root, sha256.slice(0, 2), sha256);
  }

  async remove(sha256: string): Promise<void> {
    await rm(this.localPath(sha256), { force: true });
  }

  async *list(): AsyncGenerator<KeptFile> {
    for (const folder of await readdir(this.root)) {
      if (!/^[0-9a-f]{2}$/.test(folder)) continue;
      for (const sha256 of await readdir(join(this.root, folder))) {
        const { mtimeMs } = await stat(join(this.root, folder, sha256)).catch(() => ({ mtimeMs: Infinity }));
        yield { sha256, at: mtimeMs };
      }
    }
  }

  async answers(): Promise<boolean> {
    return access(this.root).then(
      () => true,
      () => false,
    );
  }

  /** Notes that a file was used now. */
  async touch(sha256: string): Promise<void> {
    const now = new Date();
    await utimes(this.localPath(sha256), now, now).catch(() => undefined);
  }
}
