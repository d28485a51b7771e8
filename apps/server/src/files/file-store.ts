import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { access, mkdir, readdir, readFile, rename, rm, stat, statfs } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Inject, Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import { MAX_FILE_BYTES } from '@ypsigraph/contract/vocabulary';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { synced } from './synced.ts';

/** A file that has come in whole and is not kept yet. */
export interface ReceivedFile {
  readonly sha256: string;
  readonly bytes: number;
  /** Where its bytes are until it is kept or discarded. */
  readonly path: string;
  /** Keeps it under its hash, on the disk and not only in the system's memory. The same content is kept once. */
  keep(): Promise<void>;
  /** Forgets it. */
  discard(): Promise<void>;
}

/** More bytes came than are taken in. */
export class TooLargeError extends Error {}

/** The disk is full, or its share is used up. */
export class StorageFullError extends Error {}

/** A file that was kept is not there. */
export class FileMissingError extends Error {}

/** Room that is left on the disk when an upload is taken in. */
const SPARE_BYTES = 32 * 1024 * 1024;
/** A half upload older than this is left over from a process that ended within it. */
const LEFT_OVER_MS = 60 * 60 * 1000;
/** An upload that comes in pieces may go on for so long after its last. */
const UNFINISHED_MS = 24 * LEFT_OVER_MS;

/** Files by the SHA-256 of their content, in folders of the file system. Everything else of the server goes through this. */
@Injectable()
export class FileStore implements OnModuleInit {
  private readonly logger = new Logger(FileStore.name);
  private readonly root: string;
  /** When there last was no room. */
  private fullAt = -Infinity;

  constructor(@Inject(CONFIGURATION) configuration: Configuration) {
    this.root = configuration.FILES_DIR;
  }

  async onModuleInit(): Promise<void> {
    await mkdir(this.incoming(), { recursive: true });
    await mkdir(this.uploads(), { recursive: true });
    await this.sweepIncoming();
  }

  /** Takes what killed uploads and readings have left away. */
  async sweepIncoming(now = Date.now()): Promise<number> {
    let swept = 0;
    for (const [folder, after] of [
      [this.incoming(), LEFT_OVER_MS],
      [this.uploads(), UNFINISHED_MS],
    ] as const)
      for (const name of await readdir(folder)) {
        const path = join(folder, name);
        // What is noted of an upload is as old as the upload.
        const changed = await Promise.all([path, path.replace(/\.json$/, '')].map(changedAt));
        if (now - Math.max(...changed) <= after) continue;
        await rm(path, { recursive: true, force: true });
        swept++;
      }
    return swept;
  }

  /**
   * Takes a stream in, hashing and counting as it goes. Where the stream breaks or is too long nothing is left behind.
   * @throws TooLargeError past `most` bytes; StorageFullError where there is no room
   */
  async receive(stream: Readable, most: number): Promise<ReceivedFile> {
    const path = join(this.incoming(), randomUUID());
    const hash = createHash('sha256');
    let bytes = 0;
    const count = new Transform({
      transform(chunk: Buffer, _, done) {
        bytes += chunk.length;
        if (bytes > most) return done(new TooLargeError());
        hash.update(chunk);
        done(null, chunk);
      },
    });
    try {
      await pipeline(stream, count, createWriteStream(path, { flags: 'wx' }));
    } catch (error) {
      await rm(path, { force: true }).catch(() => undefined);
      throw this.named(error);
    }
    const sha256 = hash.digest('hex');
    return {
      sha256,
      bytes,
      path,
      keep: () => this.keep(path, sha256),
      discard: () => rm(path, { force: true }),
    };
  }

  /**
   * Takes a copy of a file that lies beside the store, hashing it. The file itself stays where it is.
   * @throws StorageFullError where there is no room for it
   */
  copyOf(path: string): Promise<ReceivedFile> {
    return this.receive(createReadStream(path), Infinity);
  }

  /** Keeps bytes at hand. */
  async put(bytes: Uint8Array): Promise<{ sha256: string; bytes: number }> {
    const received = await this.receive(Readable.from([bytes]), bytes.length);
    await received.keep();
    return { sha256: received.sha256, bytes: received.bytes };
  }

  /** @throws FileMissingError */
  async read(sha256: string): Promise<Buffer> {
    return readFile(await this.pathOf(sha256));
  }

  /** @throws FileMissingError */
  async open(sha256: string): Promise<Readable> {
    return createReadStream(await this.pathOf(sha256));
  }

  /**
   * Where a kept file is.
   * @throws FileMissingError
   */
  async pathOf(sha256: string): Promise<string> {
    const path = this.path(sha256);
    await access(path).catch(() => {
      this.logger.error({ sha256 }, 'a file that a revision names is missing');
      throw new FileMissingError('the file is not where it was kept: tell whoever runs this server');
    });
    return path;
  }

  /** A path for something that is only needed for a moment; swept like a half upload where nobody removes it. */
  scratch(): string {
    return join(this.incoming(), randomUUID());
  }

  /** Whether there is room: not where a file was refused a minute ago, or where a largest one would not fit. */
  async hasRoom(): Promise<boolean> {
    if (Date.now() - this.fullAt < 60_000) return false;
    const { bavail, bsize } = await statfs(this.root);
    return bavail * bsize > MAX_FILE_BYTES;
  }

  /** Whether so many bytes would fit, with some room left for everything else that is written. */
  async hasRoomFor(bytes: number): Promise<boolean> {
    const { bavail, bsize } = await statfs(this.root);
    const fits = bavail * bsize >= bytes + SPARE_BYTES;
    if (!fits) this.fullAt = Date.now();
    return fits;
  }

  /** Hashes of the files that were kept longer ago than an hour. */
  async *kept(now = Date.now()): AsyncGenerator<string> {
    for (const folder of await readdir(this.root)) {
      if (!/^[0-9a-f]{2}$/.test(folder)) continue;
      for (const name of await readdir(join(this.root, folder))) {
        const { mtimeMs } = await stat(join(this.root, folder, name)).catch(() => ({ mtimeMs: Infinity }));
        if (now - mtimeMs > LEFT_OVER_MS) yield name;
      }
    }
  }

  async remove(sha256: string): Promise<void> {
    await rm(this.path(sha256), { force: true });
  }

  private async keep(path: string, sha256: string): Promise<void> {
    const target = this.path(sha256);
    try {
      await mkdir(dirname(target), { recursive: true });
      await synced(path);
      await rename(path, target);
      // The name itself is on the disk once its folder is.
      await synced(dirname(target));
    } catch (error) {
      throw this.named(error);
    }
  }

  private named(error: unknown): unknown {
    const { code } = error as NodeJS.ErrnoException;
    if (code !== 'ENOSPC' && code !== 'EDQUOT') return error;
    this.fullAt = Date.now();
    this.logger.error({ err: error }, 'there is no room for a file');
    return new StorageFullError();
  }

  private path(sha256: string): string {
    return join(this.root, sha256.slice(0, 2), sha256);
  }

  /** The folder of uploads that come in pieces. */
  uploads(): string {
    return join(this.root, 'uploads');
  }

  private incoming(): string {
    return join(this.root, 'incoming');
  }
}

/** When something was last changed, milliseconds; 0 where it is not there. */
const changedAt = async (path: string): Promise<number> => (await stat(path).catch(() => ({ mtimeMs: 0 }))).mtimeMs;
