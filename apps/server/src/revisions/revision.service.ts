import { Injectable } from '@nestjs/common';
import { Op, type Transaction } from 'sequelize';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import type { Poses } from '@ypsigraph/contract/marks';
import type { Person } from '@ypsigraph/contract/people';
import type { ClipPlace, RevisionSettings, SendBack, SignOff } from '@ypsigraph/contract/shots';
import type { RevisionState } from '@ypsigraph/contract/vocabulary';
import { requestId } from '../http/request-id.ts';
import { Database } from '../database/database.module.ts';
import type { RevisionModel } from './revision.models.ts';
import { conflict, notAllowed, notFound, ProblemException } from '../http/problem.ts';
import { moveClipBeside, placeClipBeside, retryClipBeside } from '../pictures/clips-beside.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import { ChangeFeed } from '../news/change-feed.ts';
import { OutboxService } from '../outbox/outbox.service.ts';

/** So often in ten minutes one revision is read again. */
const READ_AGAIN_MOST = 5;

@Injectable()
export class RevisionService {
  constructor(
    private readonly database: Database,
    private readonly shots: ShotPolicy,
    private readonly news: ChangeFeed,
    private readonly outbox: OutboxService,
  ) {}

  /** Says where the clip of a motion lies. Its student may, and whoever reviews it. Nothing is measured by it. */
  async placeClip(person: Person, id: string, place: ClipPlace): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const revision = await this.shots.revision(person, id, { transaction, revision: 'change' });
      if (person.role === 'student' && revision.state !== 'handed in')
        throw notAllowed('It is being reviewed; ask your instructor to move its clip.');
      if (!(await placeClipBeside(this.database, id, place, transaction))) throw notFound('clip');
      await this.record(revision, person, 'clip placed', place, transaction);
      await this.news.tell(id, transaction);
    });
  }

  /** Corrects what the file was taken for and reads it again. Its student may, and whoever reviews it. */
  async change(person: Person, id: string, settings: RevisionSettings): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const revision = await this.shots.revision(person, id, { transaction, revision: 'change' });
      if (person.role === 'student' && revision.state !== 'handed in') {
        throw notAllowed('It is being reviewed; ask your instructor to correct it.');
      }
      const moved = (settings.firstFrame ?? revision.firstFrame) - revision.firstFrame;
      if (moved !== 0) await moveClipBeside(this.database, id, moved, transaction);
      revision.set({ ...settings, ...(settings.roles && { roles: { ...revision.roles, ...settings.roles } }) });
      await this.readAnew(revision, person, 'corrected', { ...settings }, transaction);
    });
  }

  /** Key poses as somebody set them by hand; in order of frames, a frame once. */
  async setPoses(person: Person, id: string, { poses }: Poses): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const revision = await this.shots.revision(person, id, { transaction, revision: 'change' });
      const own = poses && [...new Map(poses.map((pose) => [pose.label, pose])).values()];
      revision.poses = own && own.sort((a, b) => a.label - b.label);
      await revision.save({ transaction });
      await this.record(revision, person, 'poses set', { poses: revision.poses }, transaction);
    });
  }

  /** Reads a file once more. One that waits to be read, or is being read, is not queued twice; and nobody asks without end. */
  async readAgain(person: Person, id: string): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const revision = await this.shots.revision(person, id, { transaction, revision: 'change' });
      if (revision.readingState === 'queued' || revision.readingState === 'reading') return;
      const lately = await this.database.models.RevisionEvent.count({
        where: { revisionId: id, what: 'read again', at: { [Op.gt]: new Date(Date.now() - 10 * 60_000) } },
        transaction,
      });
      if (lately >= READ_AGAIN_MOST)
        throw new ProblemException(
          429,
          'too-often',
          'This file was read again five times just now.',
          'Wait ten minutes.',
        );
      await retryClipBeside(this.database, id, transaction);
      await this.readAnew(revision, person, 'read again', {}, transaction);
    });
  }

  async takeOnDesk(person: Person, id: string): Promise<void> {
    await this.move(person, id, ['handed in', 'on the desk'], 'on the desk', {});
  }

  /** Sends a revision back: from now on its student sees the marks. */
  async sendBack(person: Person, id: string, { words, asked, askedBy = null }: SendBack): Promise<void> {
    await this.move(
      person,
      id,
      ['handed in', 'on the desk'],
      'sent back',
      { words, asked, askedBy: askedBy === null ? null : new Date(askedBy), judgedAt: new Date() },
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
        const revisions = await this.database.models.Revision.findAll({
          where: { shotId: revision.shotId },
          attributes: ['id'],
          transaction,
        });
        const open = await this.database.models.Mark.count({
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

  /**
   * The report of a revision's reading by this version of the core, as JSON text: it is passed on as it is stored.
   * @throws ProblemException where there is none yet
   */
  async report(id: string): Promise<string> {
    const [row] = await this.database.select<{ report: string }>(
      'SELECT report::text AS report FROM readings WHERE revision_id = $1 AND core_version = $2',
      [id, CORE_VERSION],
    );
    if (!row) throw notFound('reading');
    return row.report;
  }

  /** Its points were changed: it is measured again. */
  async pointsChanged(
    revision: RevisionModel,
    person: Person,
    data: Record<string, unknown>,
    transaction: Transaction,
  ): Promise<void> {
    await this.readAnew(revision, person, 'points set', data, transaction);
  }

  private async move(
    person: Person,
    id: string,
    from: readonly RevisionState[],
    to: RevisionState,
    changes: Partial<Pick<RevisionModel, 'words' | 'asked' | 'askedBy' | 'judgedAt'>>,
    besides?: (revision: RevisionModel, transaction: Transaction) => Promise<void>,
  ): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const revision = await this.shots.revision(person, id, { transaction, revision: 'change' });
      if (revision.state === to) {
        const stands = Object.entries(changes).filter(([key]) => key === 'words' || key === 'asked');
        if (stands.every(([key, value]) => (revision[key as 'words' | 'asked'] ?? '') === (value ?? ''))) return;
        throw conflict(
          `This revision was ${verb(to)} already, with other words.`,
          `What stands: “${[revision.words, revision.asked].filter(Boolean).join(' — ')}”`,
        );
      }
      if (!from.includes(revision.state))
        throw conflict(`This revision is ${revision.state}; it can't be ${verb(to)} now.`);
      await besides?.(revision, transaction);
      revision.set({ ...changes, state: to });
      await revision.save({ transaction });
      await this.record(revision, person, to, { ...changes }, transaction);
      if (to === 'sent back' || to === 'signed off') await this.outbox.tellJudged(id, to, transaction);
      await this.news.tell(id, transaction);
    });
  }

  private async releaseMarks(revision: RevisionModel, person: Person, transaction: Transaction): Promise<void> {
    const unsent = await this.database.models.Mark.findAll({
      where: { revisionId: revision.id, sentAt: { [Op.is]: null }, archivedAt: null },
      transaction,
    });
    if (unsent.length === 0) return;
    const ids = unsent.map((mark) => mark.id);
    await this.database.models.Mark.update({ sentAt: new Date() }, { where: { id: ids }, transaction });
    await this.database.models.MarkEvent.bulkCreate(
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
    // A reading that is under way with older settings is dropped when it is done.
    revision.set({
      readingState: 'queued',
      readingReason: null,
      readingTries: 0,
      readingWaited: true,
      readingFrom: this.database.literal('now()') as unknown as Date,
      readingProgress: null,
      readingRequest: requestId(),
      settingsVersion: revision.settingsVersion + 1,
    });
    await revision.save({ transaction });
    await this.record(revision, person, what, data, transaction);
    await this.news.tell(revision.id, transaction);
  }

  private async record(
    revision: RevisionModel,
    person: Person,
    what: string,
    data: Record<string, unknown>,
    transaction: Transaction,
  ): Promise<void> {
    await this.database.models.RevisionEvent.create(
      { revisionId: revision.id, authorId: person.id, what, data },
      { transaction },
    );
  }
}

const verb = (state: RevisionState): string => (state === 'on the desk' ? 'taken on the desk' : state);
