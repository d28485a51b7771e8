import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, readFile, rm, stat, statfs } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Inject, Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import { MAX_FILE_BYTES } from '@ypsigraph/contract/vocabulary';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { FileCache } from './file-cache.ts';
import { type FileHome, FileMissingError, FilesAwayError } from './file-home.ts';
import { homesOf } from './homes.ts';
import { ObjectHome } from './object-home.ts';
import { type ReceivedFile, StorageFullError, TooLargeError } from './received-file.ts';

/** Room that is left on the disk when an upload is taken in. */
const SPARE_BYTES = 32 * 1024 * 1024;
/** A half upload older than this is left over from a process that ended within it. */
const LEFT_OVER_MS = 60 * 60 * 1000;

/** A file is asked for so many times where it comes cut or changed, or not at all. */
const FETCHES = 3;

/** Files by the SHA-256 of their content: what comes in, and what is kept in its home. Everything else of the server goes through this. */
@Injectable()
export class FileStore implements OnModuleInit {
  private readonly logger = new Logger(FileStore.name);
  private readonly root: string;
  private readonly home: FileHome;
  private readonly other: FileHome | undefined;
  private readonly cache: FileCache;
  private readonly signsReads: boolean;
  /** When there last was no room. */
  private fullAt = -Infinity;

  constructor(@Inject(CONFIGURATION) configuration: Configuration) {
    this.root = configuration.FILES_DIR;
    ({ home: this.home, other: this.other } = homesOf(configuration));
    this.cache = new FileCache(join(this.root, 'copies'), configuration.FILES_CACHE_MB * 1024 * 1024);
    this.signsReads = configuration.S3_SIGNED_READS;
  }

  async onModuleInit(): Promise<void> {
    await mkdir(this.incoming(), { recursive: true });
    await mkdir(this.uploads(), { recursive: true });
    await mkdir(join(this.root, 'copies'), { recursive: true });
    await this.sweepIncoming();
  }

  /** Takes what killed readings and hand-ins have left away, and copies for which there is no room. */
  async sweepIncoming(now = Date.now()): Promise<number> {
    let swept = 0;
    for (const name of await readdir(this.incoming())) {
      const path = join(this.incoming(), name);
      const { mtimeMs } = await stat(path).catch(() => ({ mtimeMs: 0 }));
      if (now - mtimeMs <= LEFT_OVER_MS) continue;
      await rm(path, { recursive: true, force: true });
      swept++;
    }
    await this.cache.sweep(now);
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
      send: async () => {
        if (this.home.localPath(sha256) === undefined) await this.home.keep(path, sha256, bytes);
      },
      keep: () => this.keep(path, sha256, bytes),
      discard: () => rm(path, { force: true }),
    };
  }

  /** Keeps bytes at hand. */
  async put(bytes: Uint8Array): Promise<{ sha256: string; bytes: number }> {
    const received = await this.receive(Readable.from([bytes]), bytes.length);
    await received.keep();
    return { sha256: received.sha256, bytes: received.bytes };
  }

  /** @throws FileMissingError, FilesAwayError */
  async read(sha256: string): Promise<Buffer> {
    return readFile(await this.pathOf(sha256));
  }

  /** @throws FileMissingError, FilesAwayError */
  async open(sha256: string): Promise<Readable> {
    return createReadStream(await this.pathOf(sha256));
  }

  /**
   * Some bytes of a file, from the first to the last; fetched by themselves where the file lies elsewhere and no copy of it is here.
   * @throws FileMissingError, FilesAwayError
   */
  async range(sha256: string, start: number, end: number): Promise<Readable> {
    const path = await this.lies(sha256);
    if (path !== undefined) return createReadStream(path, { start, end });
    return this.fetched(sha256, async (home) => {
      const chunks: Buffer[] = [];
      for await (const chunk of await home.open(sha256, { start, end })) chunks.push(chunk as Buffer);
      const bytes = Buffer.concat(chunks);
      if (bytes.length !== end - start + 1) throw new FilesAwayError('a range came otherwise than it was asked for');
      return Readable.from([bytes]);
    });
  }

  /**
   * Where a kept file, or a copy of it, lies on this machine.
   * @throws FileMissingError, FilesAwayError
   */
  async pathOf(sha256: string): Promise<string> {
    return (
      (await this.lies(sha256)) ??
      this.cache.pathOf(sha256, () =>
        this.fetched(sha256, async (home) => {
          const file = await this.receive(await home.open(sha256), Infinity);
          if (file.sha256 === sha256) return file;
          await file.discard();
          throw new FilesAwayError('a file came otherwise than it was kept');
        }),
      )
    );
  }

  /** An address at which a browser reads a kept file itself, to be saved; undefined where it reads it from here. */
  async signedAddress(sha256: string, disposition: string): Promise<string | undefined> {
    return this.signsReads && this.home instanceof ObjectHome && (await this.home.has(sha256))
      ? this.home.signedAddress(sha256, disposition)
      : undefined;
  }

  /** Whether what files are kept in answers. */
  answers(): Promise<boolean> {
    return this.home.answers();
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
    for await (const { sha256, at } of this.home.list()) if (now - at > LEFT_OVER_MS) yield sha256;
  }

  async remove(sha256: string): Promise<void> {
    await this.home.remove(sha256);
    await this.other?.remove(sha256);
    await this.cache.remove(sha256);
  }

  private async keep(path: string, sha256: string, bytes: number): Promise<void> {
    try {
      await this.home.keep(path, sha256, bytes);
    } catch (error) {
      throw this.named(error);
    }
    // What was handed in is read next: here it need not be fetched again.
    if (this.home.localPath(sha256) === undefined) await this.cache.put(path, sha256);
  }

  /** Where a file lies on this machine, in its home or as a copy. */
  private async lies(sha256: string): Promise<string | undefined> {
    for (const home of [this.home, this.other]) {
      const path = home?.localPath(sha256);
      if (path !== undefined && (await home!.has(sha256))) return path;
    }
    return this.cache.known(sha256);
  }

  /** What comes of a file from its home, or from the other; tried again where it comes cut or not at all. */
  private async fetched<T>(sha256: string, from: (home: FileHome) => Promise<T>): Promise<T> {
    let away: unknown;
    for (let k = 0; k < FETCHES; k++)
      for (const home of [this.home, this.other])
        try {
          if (home && home.localPath(sha256) === undefined) return await from(home);
        } catch (error) {
          if (!(error instanceof FileMissingError)) away = error;
        }
    if (away !== undefined) throw away instanceof StorageFullError ? away : new FilesAwayError(away);
    this.logger.error({ sha256 }, 'a file that a revision names is missing');
    throw new FileMissingError();
  }

  private named(error: unknown): unknown {
    const { code } = error as NodeJS.ErrnoException;
    if (code !== 'ENOSPC' && code !== 'EDQUOT') return error;
    this.fullAt = Date.now();
    this.logger.error({ err: error }, 'there is no room for a file');
    return new StorageFullError();
  }

  /** The folder of uploads that come in pieces. */
  uploads(): string {
    return join(this.root, 'uploads');
  }

  private incoming(): string {
    return join(this.root, 'incoming');
  }
}
