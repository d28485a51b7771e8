import { Injectable, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import { Hourly } from '../hourly.ts';
import { Database } from '../database/database.module.ts';
import { lockKey } from '../database/advisory-lock.ts';
import { FileStore } from './file-store.ts';
import { UploadStore } from './upload-store.ts';

/** Held, shared, by whoever needs every file to stay: nothing is swept meanwhile. */
export const FILES_ARE_KEPT = 'files are kept';

/** Once an hour takes away what killed uploads left, and files that no revision names. */
@Injectable()
export class FileSweeper implements OnApplicationBootstrap, OnModuleDestroy {
  private hourly: Hourly | undefined;

  constructor(
    private readonly files: FileStore,
    private readonly uploads: UploadStore,
    private readonly database: Database,
  ) {}

  onApplicationBootstrap(): void {
    this.hourly = new Hourly(FileSweeper.name, 'files could not be swept', () => this.sweep());
  }

  onModuleDestroy(): void {
    this.hourly?.end();
  }

  /** @param now for tests: files older than an hour before it are looked at */
  async sweep(now = Date.now()): Promise<number> {
    let swept = (await this.files.sweepIncoming(now)) + (await this.uploads.sweep(now));
    await this.database.run(`DELETE FROM failed_sign_ins WHERE at < now() - interval '1 day'`, []);
    for await (const sha256 of this.files.kept(now)) if (await this.sweepFile(sha256)) swept++;
    return swept;
  }

  private sweepFile(sha256: string): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      const [{ free } = { free: false }] = await this.database.select<{ free: boolean }>(
        'SELECT pg_try_advisory_xact_lock($1) AS free',
        [lockKey(FILES_ARE_KEPT)],
        transaction,
      );
      if (!free) return false;
      // Nobody hands the same file in meanwhile.
      await lockFile(this.database, sha256, transaction);
      const [named] = await this.database.select(
        `SELECT 1 FROM named_files WHERE sha256 = $1
         UNION ALL SELECT 1 FROM pictures WHERE $1 IN (pack_sha256, small_sha256, sound_sha256) LIMIT 1`,
        [sha256],
        transaction,
      );
      if (named) return false;
      await this.database.run('DELETE FROM pictures WHERE file_sha256 = $1', [sha256], transaction);
      await this.database.run('DELETE FROM files WHERE sha256 = $1', [sha256], transaction);
      await this.files.remove(sha256);
      return true;
    });
  }
}

/** Holds a file's content until the transaction ends: it is not swept while it is handed in. */
export const lockFile = (
  database: Database,
  sha256: string,
  transaction: Parameters<Database['run']>[2],
): Promise<void> => database.run('SELECT pg_advisory_xact_lock($1)', [lockKey(sha256)], transaction);
