import { Injectable } from '@nestjs/common';
import { Op, type Transaction, UniqueConstraintError } from 'sequelize';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { readMotion } from '@ypsigraph/core/formats/read-motion';
import type { Person } from '@ypsigraph/contract/people';
import type { RevisionEvent, RevisionSettings, SendBack, SignOff } from '@ypsigraph/contract/shots';
import type { RevisionState } from '@ypsigraph/contract/vocabulary';
import { CoursePolicy } from '../courses/course.policy.ts';
import { Database } from '../database/database.module.ts';
import {
  AssignmentModel,
  BriefModel,
  FileModel,
  MarkEventModel,
  MarkModel,
  RevisionEventModel,
  RevisionModel,
  ShotModel,
} from '../database/models.ts';
import { conflict, notAllowed, refusedFile } from '../http/problem.ts';
import { JobQueue } from '../jobs/jobs.module.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import type { ReceivedHandIn } from './hand-in.ts';
import { RevisionNews } from './revision-news.ts';

/** Files up to this size are read within the hand-in, so that a bad one is refused at once; larger ones only by the job. */
const READ_AT_ONCE_BYTES = 8 * 1024 * 1024;

@Injectable()
export class RevisionService {
  constructor(
    private readonly database: Database,
    private readonly courses: CoursePolicy,
    private readonly shots: ShotPolicy,
    private readonly queue: JobQueue,
    private readonly news: RevisionNews,
  ) {}

  /** Whether someone may hand in for an exercise at all: asked before their file is taken in. */
  async openFor(person: Person, assignmentId: string): Promise<AssignmentModel> {
    const assignment = await this.courses.assignment(person, assignmentId);
    if (assignment.closedAt) throw conflict('This exercise is closed.', 'Ask your instructor to open it again.');
    return assignment;
  }

  /** Stores a hand-in as the next revision of the student's shot and queues its reading, all or nothing. */
  async handIn(
    person: Person,
    assignmentId: string,
    { fields, file, fileName }: ReceivedHandIn,
  ): Promise<{ shot: string; revision: string }> {
    try {
      const assignment = await this.openFor(person, assignmentId);
      if (file.bytes <= READ_AT_ONCE_BYTES) refuseUnreadable(await file.read());
      const brief = (await BriefModel.findByPk(assignment.briefId))!;
      return await this.database.transaction(async (transaction) => {
        const [shot] = await ShotModel.findOrCreate({ where: { assignmentId, studentId: person.id }, transaction });
        await ShotModel.findByPk(shot.id, { transaction, lock: transaction.LOCK.UPDATE });
        const earlier = await RevisionModel.findAll({
          where: { shotId: shot.id },
          order: [['number', 'ASC']],
          transaction,
        });
        refuseOutOfTurn(earlier, file.sha256);
        await FileModel.findOrCreate({
          where: { sha256: file.sha256 },
          defaults: { sha256: file.sha256, bytes: file.bytes },
          transaction,
        });
        const revision = await RevisionModel.create(
          {
            shotId: shot.id,
            number: (earlier.at(-1)?.number ?? 0) + 1,
            stage: fields.stage,
            fileSha256: file.sha256,
            fileName,
            note: fields.note,
            firstFrame: fields.firstFrame ?? brief.firstFrame,
            loop: fields.loop ?? brief.loop,
            // A role that was corrected once stays corrected.
            roles: earlier.at(-1)?.roles ?? {},
          },
          { transaction },
        );
        await this.record(revision, person, 'handed in', {}, transaction);
        await this.queue.readShot(revision.id, transaction);
        await file.keep();
        return { shot: shot.id, revision: revision.id };
      });
    } catch (error) {
      await file.discard();
      if (error instanceof UniqueConstraintError) throw conflict('This revision was handed in a moment ago.');
      throw error;
    }
  }

  /** Corrects what the file was taken for and reads it again. Its student may, and whoever reviews it. */
  async change(person: Person, id: string, settings: RevisionSettings): Promise<void> {
    await this.shots.revision(person, id);
    await this.database.transaction(async (transaction) => {
      const revision = await this.locked(id, transaction);
      if (person.role === 'student' && revision.state !== 'handed in') {
        throw notAllowed('It is being reviewed; ask your instructor to correct it.');
      }
      revision.set({ ...settings, ...(settings.roles && { roles: { ...revision.roles, ...settings.roles } }) });
      await this.readAnew(revision, person, 'corrected', { ...settings }, transaction);
    });
  }

  async readAgain(person: Person, id: string): Promise<void> {
    await this.shots.revision(person, id);
    await this.database.transaction(async (transaction) => {
      await this.readAnew(await this.locked(id, transaction), person, 'read again', {}, transaction);
    });
  }

  async takeOnDesk(person: Person, id: string): Promise<void> {
    await this.move(person, id, ['handed in', 'on the desk'], 'on the desk', {});
  }

  /** Sends a revision back: from now on its student sees the marks. */
  async sendBack(person: Person, id: string, { words, asked }: SendBack): Promise<void> {
    await this.move(
      person,
      id,
      ['handed in', 'on the desk'],
      'sent back',
      { words, asked, judgedAt: new Date() },
      async (revision, transaction) => {
        await this.releaseMarks(revision, person, transaction);
      },
    );
  }

  /** Signs a shot off. Marks that are still open or answered must be cleared or waived first: nobody signs off unknowingly. */
  async signOff(person: Person, id: string, { words }: SignOff): Promise<void> {
    await this.move(
      person,
      id,
      ['handed in', 'on the desk'],
      'signed off',
      { words, judgedAt: new Date() },
      async (revision, transaction) => {
        const revisions = await RevisionModel.findAll({
          where: { shotId: revision.shotId },
          attributes: ['id'],
          transaction,
        });
        const open = await MarkModel.count({
          where: { revisionId: revisions.map((r) => r.id), archivedAt: null, state: ['open', 'answered'] },
          transaction,
        });
        if (open > 0) {
          throw conflict(
            `${open === 1 ? 'One mark is' : `${open} marks are`} still open.`,
            'Clear or waive every mark before you sign off.',
          );
        }
        await this.releaseMarks(revision, person, transaction);
      },
    );
  }

  async withdraw(person: Person, id: string): Promise<void> {
    await this.move(person, id, ['handed in'], 'withdrawn', {});
  }

  async state(id: string): Promise<RevisionEvent | null> {
    const revision = await RevisionModel.findByPk(id);
    return (
      revision && {
        revision: id,
        state: revision.state,
        reading: revision.readingState,
        reason: revision.readingReason,
      }
    );
  }

  private async move(
    person: Person,
    id: string,
    from: readonly RevisionState[],
    to: RevisionState,
    changes: Partial<Pick<RevisionModel, 'words' | 'asked' | 'judgedAt'>>,
    besides?: (revision: RevisionModel, transaction: Transaction) => Promise<void>,
  ): Promise<void> {
    await this.shots.revision(person, id);
    await this.database.transaction(async (transaction) => {
      const revision = await this.locked(id, transaction);
      if (revision.state === to) return;
      if (!from.includes(revision.state))
        throw conflict(`This revision is ${revision.state}; it can't be ${verb(to)} now.`);
      await besides?.(revision, transaction);
      revision.set({ ...changes, state: to });
      await revision.save({ transaction });
      await this.record(revision, person, to, { ...changes }, transaction);
      await this.news.tell(id, transaction);
    });
  }

  private async releaseMarks(revision: RevisionModel, person: Person, transaction: Transaction): Promise<void> {
    const unsent = await MarkModel.findAll({
      where: { revisionId: revision.id, sentAt: { [Op.is]: null }, archivedAt: null },
      transaction,
    });
    if (unsent.length === 0) return;
    const ids = unsent.map((mark) => mark.id);
    await MarkModel.update({ sentAt: new Date() }, { where: { id: ids }, transaction });
    await MarkEventModel.bulkCreate(
      ids.map((markId) => ({ markId, authorId: person.id, what: 'sent' })),
      { transaction },
    );
  }

  private async readAnew(
    revision: RevisionModel,
    person: Person,
    what: string,
    data: Record<string, unknown>,
    transaction: Transaction,
  ): Promise<void> {
    revision.set({ readingState: 'queued', readingReason: null });
    await revision.save({ transaction });
    await this.record(revision, person, what, data, transaction);
    await this.queue.readShot(revision.id, transaction);
    await this.news.tell(revision.id, transaction);
  }

  private async locked(id: string, transaction: Transaction): Promise<RevisionModel> {
    return (await RevisionModel.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE }))!;
  }

  private async record(
    revision: RevisionModel,
    person: Person,
    what: string,
    data: Record<string, unknown>,
    transaction: Transaction,
  ): Promise<void> {
    await RevisionEventModel.create({ revisionId: revision.id, authorId: person.id, what, data }, { transaction });
  }
}

const verb = (state: RevisionState): string => (state === 'on the desk' ? 'taken on the desk' : state);

/** @throws ProblemException with the file's line and what was expected there */
function refuseUnreadable(bytes: Uint8Array): void {
  try {
    readMotion(bytes);
  } catch (error) {
    if (error instanceof FormatError) throw refusedFile('This file can’t be read.', error.message);
    throw error;
  }
}

/** @throws ProblemException where the shot can't take a revision now, or has had this one before */
function refuseOutOfTurn(earlier: readonly RevisionModel[], sha256: string): void {
  const standing = earlier.filter((revision) => revision.state !== 'withdrawn');
  const same = standing.find((revision) => revision.fileSha256 === sha256);
  if (same)
    throw conflict(`This is the same file as revision ${same.number}.`, 'Export your new version and hand that in.');
  const newest = standing.at(-1);
  if (newest?.state === 'handed in') {
    throw conflict(
      `Revision ${newest.number} still waits for review.`,
      'Withdraw it first if this one is to take its place.',
    );
  }
  if (newest?.state === 'on the desk')
    throw conflict(`Revision ${newest.number} is being reviewed.`, 'Wait until it comes back.');
  if (newest?.state === 'signed off') throw conflict('This shot is signed off.', 'There is nothing more to hand in.');
}
