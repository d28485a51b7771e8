import { type FileHandle, open, readFile, rm } from 'node:fs/promises';

/**
 * Pictures one behind the other in one file, so that any stretch of frames is one piece of it. Which picture begins where is told by their sizes,
 * which are kept beside it.
 */
export class PackWriter {
  readonly sizes: number[] = [];

  private constructor(private readonly file: FileHandle) {}

  static async at(path: string): Promise<PackWriter> {
    return new PackWriter(await open(path, 'w'));
  }

  async add(picture: Uint8Array): Promise<void> {
    await this.file.write(picture);
    this.sizes.push(picture.length);
  }

  /** Takes a picture's file over: it is gone then. */
  async take(path: string): Promise<void> {
    await this.add(await readFile(path));
    await rm(path);
  }

  /** Once, or again. */
  async end(): Promise<void> {
    await this.file.close();
  }
}
