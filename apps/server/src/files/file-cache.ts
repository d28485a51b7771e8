import { mkdir, rename, rm, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import { FolderHome } from './folder-home.ts';
import type { ReceivedFile } from './received-file.ts';

/** A copy that was used so lately stays, whatever room it takes: somebody may be about to open it. */
const IN_USE_MS = 10 * 60 * 1000;

/** Copies, on this machine, of files that are kept elsewhere: fetched when they are wanted, the longest unused removed first. */
export class FileCache {
  private readonly folder: FolderHome;
  private readonly fetching = new Map<string, Promise<string>>();

  /** @param mostBytes that the copies may come to; those in use are kept beyond it */
  constructor(
    root: string,
    private readonly mostBytes: number,
  ) {
    this.folder = new FolderHome(root);
  }

  /**
   * Where the copy of a file lies, fetched where there is none; once, however many ask for it.
   * @param fetch gives the file, held against its hash
   */
  async pathOf(sha256: string, fetch: () => Promise<ReceivedFile>): Promise<string> {
    const there = await this.known(sha256);
    if (there !== undefined) return there;
    const known = this.fetching.get(sha256);
    if (known) return known;
    const fetched = this.fetch(sha256, fetch).finally(() => this.fetching.delete(sha256));
    this.fetching.set(sha256, fetched);
    return fetched;
  }

  /** Puts a copy there of a file that was just kept: it is wanted next. The file is moved. */
  async put(path: string, sha256: string): Promise<void> {
    const target = this.folder.localPath(sha256);
    await mkdir(dirname(target), { recursive: true });
    await rename(path, target);
  }

  async remove(sha256: string): Promise<void> {
    await this.folder.remove(sha256);
  }

  /** Where the copy of a file lies, which is in use from now on; undefined where there is none. */
  async known(sha256: string): Promise<string | undefined> {
    if (!(await this.folder.has(sha256))) return undefined;
    await this.folder.touch(sha256);
    return this.folder.localPath(sha256);
  }

  /** Removes copies, the longest unused first, until they come to no more bytes than they may. */
  async sweep(now = Date.now()): Promise<number> {
    const copies: { sha256: string; at: number; bytes: number }[] = [];
    for await (const { sha256, at } of this.folder.list()) {
      const { size } = await stat(this.folder.localPath(sha256)).catch(() => ({ size: 0 }));
      copies.push({ sha256, at, bytes: size });
    }
    copies.sort((a, b) => a.at - b.at);
    let left = copies.reduce((sum, { bytes }) => sum + bytes, 0);
    let removed = 0;
    for (const { sha256, at, bytes } of copies) {
      if (left <= this.mostBytes || now - at < IN_USE_MS) break;
      await rm(this.folder.localPath(sha256), { force: true });
      left -= bytes;
      removed++;
    }
    return removed;
  }

  private async fetch(sha256: string, fetch: () => Promise<ReceivedFile>): Promise<string> {
    const received = await fetch();
    await this.put(received.path, sha256);
    return this.folder.localPath(sha256);
  }
}
