import { Controller, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import type { Health, Ready } from '@ypsigraph/contract/health';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { Database } from '../database/database.module.ts';
import { FileStore } from '../files/file-store.ts';
import { On } from '../http/on.ts';

/** A database that has not answered after so long is taken for away. */
const ANSWER_MS = 2_000;

@ApiTags('health')
@Controller()
export class HealthController {
  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
  ) {}

  /** The process lives and answers, whatever the database does: who starts processes anew asks this. */
  @On(ROUTES.health)
  health(): Health {
    return { alive: true, core: CORE_VERSION };
  }

  /**
   * 200 while the database answers or a replica gives what is to be read meanwhile, 503 while neither does or both only hang: who shares requests
   * out asks this. Without the store of files, or room for new ones, pages are served all the same, and it is said.
   */
  @On(ROUTES.ready)
  async ready(@Res({ passthrough: true }) response: Response): Promise<Ready> {
    const [database, reads, files, room] = await Promise.all([
      inTime(this.database.primaryAnswers()),
      inTime(this.database.select('SELECT 1 AS one', []).then(() => true)),
      inTime(this.files.answers()),
      this.files.hasRoom().catch(() => false),
    ]);
    if (!reads) response.status(503);
    response.set('Cache-Control', 'no-store');
    return {
      status: !reads
        ? 'the database does not answer'
        : !database
          ? 'the database does not answer, pages are read from its replica'
          : !files
            ? 'the store of files does not answer'
            : !room
              ? 'there is no room for new files'
              : 'well',
      database,
      files,
      room,
      core: CORE_VERSION,
    };
  }
}

/** What is answered in time; false where it is not, or goes wrong. */
function inTime(asked: Promise<boolean>): Promise<boolean> {
  const tooLong = new Promise<false>((resolve) => setTimeout(() => resolve(false), ANSWER_MS).unref());
  return Promise.race([asked.catch(() => false), tooLong]);
}
