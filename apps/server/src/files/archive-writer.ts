import { once } from 'node:events';
import type { Response } from 'express';
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { FileMissingError } from './file-home.ts';
import type { FileStore } from './file-store.ts';

/** Whoever it was written for has gone away. */
class GoneAwayError extends Error {}

/** An archive (zip) that is written while it is sent: no copy of it stays. */
export class ArchiveWriter {
  private failed: Error | undefined;
  private readonly zip: Zip;

  private constructor(
    private readonly response: Response,
    private readonly files: FileStore,
  ) {
    this.zip = new Zip((error, chunk, final) => {
      if (error) this.failed = error;
      else response.write(chunk);
      if (final) response.end();
    });
  }

  /**
   * Sends an archive. What has begun to go out can only be broken off: an archive that is cut is seen to be one.
   * @param name of the file it is saved as
   */
  static async send(
    response: Response,
    files: FileStore,
    name: string,
    write: (archive: ArchiveWriter) => Promise<void>,
  ): Promise<void> {
    response.set({
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="${name}"`,
      'X-Content-Type-Options': 'nosniff',
      'Cache-Control': 'private, no-store',
    });
    const archive = new ArchiveWriter(response, files);
    try {
      await write(archive);
      archive.zip.end();
    } catch (error) {
      if (error instanceof GoneAwayError) return;
      response.destroy(error as Error);
      throw error;
    }
  }

  /** An entry of text. */
  async text(name: string, words: string): Promise<void> {
    const entry = new ZipDeflate(name);
    this.zip.add(entry);
    entry.push(Buffer.from(words), true);
    await this.sent();
  }

  /** An entry of JSON. */
  json(name: string, value: unknown): Promise<void> {
    return this.text(name, `${JSON.stringify(value, null, 2)}\n`);
  }

  /** A kept file, as it is; of one that was lost none of its bytes, so that the rest is still sent. */
  async file(name: string, sha256: string): Promise<void> {
    const entry = new ZipPassThrough(name);
    this.zip.add(entry);
    for await (const chunk of await this.stream(sha256)) {
      entry.push(chunk as Buffer);
      await this.sent();
    }
    entry.push(new Uint8Array(0), true);
  }

  /** Waits until what was written is on its way. */
  private async sent(): Promise<void> {
    if (this.failed) throw this.failed;
    const { response } = this;
    if (!response.destroyed && response.writableNeedDrain)
      await Promise.race([once(response, 'drain'), once(response, 'close')]);
    if (response.destroyed) throw new GoneAwayError();
  }

  private async stream(sha256: string): Promise<AsyncIterable<unknown>> {
    try {
      return await this.files.open(sha256);
    } catch (error) {
      if (!(error instanceof FileMissingError)) throw error;
      return (async function* () {})();
    }
  }
}

/** A name as a file may have it anywhere. */
export const plainName = (name: string): string => name.replace(/[/\\:*?"<>|\p{Cc}]/gu, '_').slice(0, 120);
