import { Injectable, Logger } from '@nestjs/common';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { readMotion } from '@ypsigraph/core/formats/read-motion';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { reportShot } from '@ypsigraph/core/measure/report';
import { prepareShot } from '@ypsigraph/core/motion/prepared-shot';
import type { StoredReport } from '@ypsigraph/contract/shots';
import { AssignmentModel, BriefModel, ReadingModel, RevisionModel, ShotModel } from '../database/models.ts';
import { Database } from '../database/database.module.ts';
import { FileStore } from '../files/file-store.ts';
import { RevisionNews } from '../revisions/revision-news.ts';

/** Reads a revision's file and stores what was measured. Doing it twice leaves the same readings as doing it once. */
@Injectable()
export class ShotReader {
  private readonly logger = new Logger(ShotReader.name);

  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
    private readonly news: RevisionNews,
  ) {}

  /**
   * @param last whether this is the last try: a failure is then a state with a reason, not another try
   * @throws whatever went wrong and may go right next time
   */
  async read(revisionId: string, last: boolean): Promise<void> {
    const revision = await RevisionModel.findByPk(revisionId);
    if (!revision) return;
    await this.mark(revision, 'reading', null);
    try {
      const report = await this.measure(revision);
      await this.database.transaction(async (transaction) => {
        await ReadingModel.upsert({ revisionId, coreVersion: CORE_VERSION, report }, { transaction });
        await RevisionModel.update(
          { readingState: 'read', readingReason: null },
          { where: { id: revisionId }, transaction },
        );
        await this.news.tell(revisionId, transaction);
      });
    } catch (error) {
      if (error instanceof FormatError) return this.mark(revision, 'failed', error.message);
      this.logger.error({ err: error, revision: revisionId }, 'a shot could not be read');
      if (last)
        return this.mark(revision, 'failed', 'something went wrong here while the file was read; try reading it again');
      throw error;
    }
  }

  private async measure(revision: RevisionModel): Promise<StoredReport> {
    const { motion, format, warnings } = readMotion(await this.files.read(revision.fileSha256));
    const shot = await ShotModel.findByPk(revision.shotId);
    const assignment = await AssignmentModel.findByPk(shot!.assignmentId);
    const brief = await BriefModel.findByPk(assignment!.briefId);
    const prepared = prepareShot(motion, {
      kind: brief!.kind,
      firstFrame: revision.firstFrame,
      loop: revision.loop,
      roles: revision.roles,
    });
    return reportShot(prepared, { file: revision.fileName, format, warnings }) as StoredReport;
  }

  private async mark(
    revision: RevisionModel,
    readingState: 'reading' | 'failed',
    readingReason: string | null,
  ): Promise<void> {
    await this.database.transaction(async (transaction) => {
      await RevisionModel.update({ readingState, readingReason }, { where: { id: revision.id }, transaction });
      await this.news.tell(revision.id, transaction);
    });
  }
}
