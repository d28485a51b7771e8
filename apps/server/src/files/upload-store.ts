import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { FileStore as TusStore } from '@tus/file-store';
import { conflict, notFound } from '../http/problem.ts';
import { FileStore, type ReceivedFile, StorageFullError } from './file-store.ts';
import { cleanName, type NamedFile } from './receive-form.ts';

/** Uploads that one person may have on their way or waiting at once. */
export const MOST_UPLOADS = 8;
/** One that nothing was added to for so long makes room for another of its owner's. */
const IDLE_MS = 60 * 60 * 1000;

/** An upload's name: whose it is, and which. */
const NAME = /^([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})\.[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** Whose upload a name means; undefined where it is no name of one. */
export const ownerOf = (upload: string): string | undefined => NAME.exec(upload)?.[1];

/** What has come of files that are sent in pieces, until they are handed in, let go by their owner, or too old. */
@Injectable()
export class UploadStore implements OnModuleInit {
  /** What the protocol's server writes to. */
  store!: TusStore;

  constructor(private readonly files: FileStore) {}

  onModuleInit(): void {
    this.store = new Store(this.files);
  }

  /** How many uploads a person has, and the bytes they will come to. */
  async of(person: string): Promise<{ count: number; bytes: number }> {
    const sizes = await Promise.all(
      (await this.namesOf(person)).map((name) =>
        this.store.getUpload(name).then(
          ({ size }) => size ?? 0,
          () => undefined,
        ),
      ),
    );
    const there = sizes.filter((size) => size !== undefined);
    return { count: there.length, bytes: there.reduce((sum, size) => sum + size, 0) };
  }

  /** Lets go of a person's uploads to which nothing was added for an hour, the oldest first, until there are fewer than may be. */
  async makeRoom(person: string, now = Date.now()): Promise<void> {
    const names = await this.namesOf(person);
    const known = await Promise.all(names.map(async (name) => ({ name, at: await this.changedAt(name) })));
    known.sort((a, b) => a.at - b.at);
    for (const { name, at } of known.slice(0, Math.max(0, known.length - MOST_UPLOADS + 1)))
      if (now - at > IDLE_MS) await this.letGo(name);
  }

  /**
   * A copy of an upload that has come whole, to be handed in. The upload stays until it is let go.
   * @throws ProblemException where there is none, or more of it is to come; StorageFullError where there is no room for a copy
   */
  async copyOf(upload: string): Promise<NamedFile> {
    const known = await this.store.getUpload(upload).catch(() => {
      throw notFound('upload');
    });
    if (known.size === undefined || known.offset !== known.size || known.size === 0)
      throw conflict('The file has not come whole yet.', 'Hand it in again: it goes on where it was cut.');
    const file: ReceivedFile = await this.files.copyOf(this.path(upload)).catch((error: unknown) => {
      // Handed in, or let go, a moment ago.
      throw (error as NodeJS.ErrnoException).code === 'ENOENT' ? notFound('upload') : error;
    });
    return { file, fileName: cleanName(known.metadata?.filename ?? 'untitled') };
  }

  /** Forgets an upload: it → a revision, or its owner wants it no more. */
  async letGo(upload: string): Promise<void> {
    await rm(this.path(upload), { force: true });
    await rm(`${this.path(upload)}.json`, { force: true });
  }

  private async namesOf(person: string): Promise<string[]> {
    return (await readdir(this.files.uploads())).filter((name) => ownerOf(name) === person);
  }

  private async changedAt(name: string): Promise<number> {
    return (await stat(this.path(name)).catch(() => ({ mtimeMs: 0 }))).mtimeMs;
  }

  private path(upload: string): string {
    return join(this.files.uploads(), upload);
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
