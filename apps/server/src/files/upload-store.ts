import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { DataStore } from '@tus/server';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { conflict, notFound } from '../http/problem.ts';
import { FolderUploads } from './folder-uploads.ts';
import { FileMissingError, FilesAwayError } from './file-home.ts';
import { FileStore } from './file-store.ts';
import { ObjectUploads } from './object-uploads.ts';
import { cleanName, type NamedFile } from './receive-form.ts';
import { StorageFullError } from './received-file.ts';
import type { UploadPlace } from './upload-place.ts';

/** Uploads that one person may have on their way or waiting at once. */
export const MOST_UPLOADS = 8;
/** One that nothing was added to for so long makes room for another of its owner's. */
const IDLE_MS = 60 * 60 * 1000;
/** One that nothing was added to for so long is given up. */
const UNFINISHED_MS = 24 * 60 * 60 * 1000;

/** An upload's name: whose it is, and which. */
const NAME = /^([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})\.[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** Whose upload a name means; undefined where it is no name of one. */
export const ownerOf = (upload: string): string | undefined => NAME.exec(upload)?.[1];

/** What has come of files that are sent in pieces, until they are handed in, let go by their owner, or too old. */
@Injectable()
export class UploadStore implements OnModuleInit {
  private place!: UploadPlace;

  constructor(
    private readonly files: FileStore,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  onModuleInit(): void {
    this.place =
      this.configuration.FILES_HOME === 'objects'
        ? new ObjectUploads(this.configuration)
        : new FolderUploads(this.files);
  }

  /** What the protocol's server writes to. */
  get store(): DataStore {
    return this.place.store;
  }

  /** How many uploads a person has, and the bytes they will come to. */
  async of(person: string): Promise<{ count: number; bytes: number }> {
    const sizes = await Promise.all(
      (await this.place.names(person)).map((name) =>
        this.store.getUpload(name).then(
          ({ size }) => size ?? 0,
          (error: unknown) => {
            if (error instanceof FilesAwayError) throw error;
            return undefined;
          },
        ),
      ),
    );
    const there = sizes.filter((size) => size !== undefined);
    return { count: there.length, bytes: there.reduce((sum, size) => sum + size, 0) };
  }

  /** Lets go of a person's uploads to which nothing was added for an hour, the oldest first, until there are fewer than may be. */
  async makeRoom(person: string, now = Date.now()): Promise<void> {
    const names = await this.place.names(person);
    if (names.length < MOST_UPLOADS) return;
    const known = await Promise.all(names.map(async (name) => ({ name, at: await this.place.changedAt(name) })));
    known.sort((a, b) => a.at - b.at);
    for (const { name, at } of known.slice(0, Math.max(0, known.length - MOST_UPLOADS + 1)))
      if (now - at > IDLE_MS) await this.letGo(name);
  }

  /**
   * A copy of an upload that has come whole, to be handed in. The upload stays until it is let go.
   * @throws ProblemException where there is none, or more of it is to come; StorageFullError where there is no room for a copy; FilesAwayError
   */
  async copyOf(upload: string): Promise<NamedFile> {
    const known = await this.store.getUpload(upload).catch((error: unknown) => {
      throw error instanceof FilesAwayError ? error : notFound('upload');
    });
    if (known.size === undefined || known.offset !== known.size || known.size === 0)
      throw conflict('The file has not come whole yet.', 'Hand it in again: it goes on where it was cut.');
    const file = await this.place
      .open(upload)
      .then((stream) => this.files.receive(stream, Infinity))
      .catch((error: unknown) => {
        if (error instanceof StorageFullError) throw error;
        // Handed in, or let go, a moment ago.
        throw (error as NodeJS.ErrnoException).code === 'ENOENT' || error instanceof FileMissingError
          ? notFound('upload')
          : new FilesAwayError(error);
      });
    if (file.bytes === known.size) return { file, fileName: cleanName(known.metadata?.filename ?? 'untitled') };
    await file.discard();
    throw new FilesAwayError('an upload came otherwise than it was sent');
  }

  /** Forgets an upload: it is a revision now, or its owner wants it no more. */
  async letGo(upload: string): Promise<void> {
    await this.place.remove(upload);
  }

  /** Forgets uploads to which nothing was added for a day. */
  async sweep(now = Date.now()): Promise<number> {
    let swept = 0;
    for (const name of await this.place.names())
      if (now - (await this.place.changedAt(name)) > UNFINISHED_MS) {
        await this.letGo(name);
        swept++;
      }
    return swept;
  }
}
