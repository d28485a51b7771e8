import { createReadStream } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { FileStore as TusStore } from '@tus/file-store';
import type { FileStore } from './file-store.ts';
import { StorageFullError } from './received-file.ts';
import type { UploadPlace } from './upload-place.ts';

/** Uploads in a folder: each a file, and what is noted of it beside it. */
export class FolderUploads implements UploadPlace {
  readonly store: TusStore;

  constructor(private readonly files: FileStore) {
    this.store = new Store(files);
  }

  async names(person?: string): Promise<string[]> {
    const names = (await readdir(this.files.uploads())).map((name) => name.replace(/\.json$/, ''));
    return [...new Set(names)].filter((name) => person === undefined || name.startsWith(`${person}.`));
  }

  async changedAt(name: string): Promise<number> {
    const noted = stat(`${this.path(name)}.json`).catch(() => ({ mtimeMs: 0 }));
    return (await stat(this.path(name)).catch(() => noted)).mtimeMs;
  }

  open(name: string): Promise<Readable> {
    return Promise.resolve(createReadStream(this.path(name)));
  }

  async remove(name: string): Promise<void> {
    await rm(this.path(name), { force: true });
    await rm(`${this.path(name)}.json`, { force: true });
  }

  private path(name: string): string {
    return join(this.files.uploads(), name);
  }
}

/** The protocol's own store tells nobody why it can't write: a full disk is told from everything else here. */
class Store extends TusStore {
  constructor(private readonly files: FileStore) {
    super({ directory: files.uploads() });
  }

  override async write(readable: Readable, id: string, offset: number): Promise<number> {
    try {
      return await super.write(readable, id, offset);
    } catch (error) {
      if (!(await this.files.hasRoomFor(0).catch(() => true))) throw new StorageFullError();
      throw error;
    }
  }
}
