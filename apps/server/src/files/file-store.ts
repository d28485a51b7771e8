import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { CONFIGURATION, type Configuration } from '../config.ts';

/** A file that has come in whole and is not kept yet. */
export interface ReceivedFile {
  readonly sha256: string;
  readonly bytes: number;
  /** Its bytes. */
  read(): Promise<Buffer>;
  /** Keeps it under its hash. The same content is kept once. */
  keep(): Promise<void>;
  /** Forgets it. */
  discard(): Promise<void>;
}

/** More bytes came than are taken in. */
export class TooLargeError extends Error {}

/** A half upload older than this is left over from a process that ended within it. */
const LEFT_OVER_MS = 60 * 60 * 1000;

/** Files by the SHA-256 of their content, in folders of the file system. Everything else of the server goes through this. */
@Injectable()
export class FileStore implements OnModuleInit {
  private readonly root: string;

  constructor(@Inject(CONFIGURATION) configuration: Configuration) {
    this.root = configuration.FILES_DIR;
  }

  async onModuleInit(): Promise<void> {
    await mkdir(this.incoming(), { recursive: true });
    for (const name of await readdir(this.incoming())) {
      const path = join(this.incoming(), name);
      const { mtimeMs } = await stat(path).catch(() => ({ mtimeMs: Infinity }));
      if (Date.now() - mtimeMs > LEFT_OVER_MS) await rm(path, { force: true });
    }
  }

  /**
   * Takes a stream in, hashing and counting as it goes. Where the stream breaks or is too long nothing is left behind.
   * @throws TooLargeError past `most` bytes
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
      await rm(path, { force: true });
      throw error;
    }
    const sha256 = hash.digest('hex');
    return {
      sha256,
      bytes,
      read: () => readFile(path),
      keep: async () => {
        const target = this.path(sha256);
        await mkdir(join(target, '..'), { recursive: true });
        await rename(path, target);
      },
      discard: () => rm(path, { force: true }),
    };
  }

  /** Keeps bytes at hand. */
  async put(bytes: Uint8Array): Promise<{ sha256: string; bytes: number }> {
    const received = await this.receive(Readable.from([bytes]), bytes.length);
    await received.keep();
    return { sha256: received.sha256, bytes: received.bytes };
  }

  read(sha256: string): Promise<Buffer> {
    return readFile(this.path(sha256));
  }

  open(sha256: string): Readable {
    return createReadStream(this.path(sha256));
  }

  private path(sha256: string): string {
    return join(this.root, sha256.slice(0, 2), sha256);
  }

  private incoming(): string {
    return join(this.root, 'incoming');
  }
}
