import { Inject, Injectable } from '@nestjs/common';
import { Op, type Transaction, UniqueConstraintError } from 'sequelize';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import type { Poses } from '@ypsigraph/contract/marks';
import { MAX_FILE_BYTES } from '@ypsigraph/contract/vocabulary';
import { ClipError } from '@ypsigraph/pictures/clip-error';
import { checkClip } from '@ypsigraph/pictures/read-clip';
import type { Person } from '@ypsigraph/contract/people';
import type { ClipPlace, RevisionSettings, SendBack, SignOff } from '@ypsigraph/contract/shots';
import type { Media, RevisionState } from '@ypsigraph/contract/vocabulary';
import { CoursePolicy } from '../courses/course.policy.ts';
import { Database } from '../database/database.module.ts';
import type { AssignmentModel, RevisionModel } from '../database/models.ts';
import { lockFile } from '../files/file-sweeper.ts';
import { conflict, notAllowed, notFound, notNow, ProblemException, quotaUsed, refusedFile } from '../http/problem.ts';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { ReadingInterrupted, ReadingProcesses } from '../readings/process/reading-processes.ts';
import { JobQueue } from '../jobs/jobs.module.ts';
import { moveClipBeside, placeClipBeside, storeClipBeside } from '../pictures/clips-beside.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';
import type { NamedFile, ReceivedHandIn } from './hand-in.ts';
import { News } from '../news/news.ts';

/** Files up to this size are read within the hand-in, so that a bad one is refused at once; larger ones only by the job. */
const READ_AT_ONCE_BYTES = 8 * 1024 * 1024;
const READ_AT_ONCE_SECONDS = 20;
/** So often in ten minutes one revision is read again. */
const READ_AGAIN_MOST = 5;

@Injectable()
export class RevisionService {
  constructor(
    private readonly database: Database,
    private readonly courses: CoursePolicy,
    private readonly shots: ShotPolicy,
    private readonly queue: JobQueue,
    private readonly news: News,
    private readonly processes: ReadingProcesses,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  /** Whether someone may hand in for an exercise at all: asked before their file is taken in. */
  async openFor(person: Person, assignmentId: string): Promise<AssignmentModel> {
    const assignment = await this.courses.assignment(person, assignmentId);
    if (assignment.closedAt) throw conflict('This exercise is closed.', 'Ask your instructor to open it again.');
    return assignment;
  }

  /**
   * How much room a student's files take and may take, bytes.
   */
  async roomOf(personId: string): Promise<{ used: number; most: number }> {
    const [row] = await this.database.select<{ used: string }>(
      `SELECT coalesce(sum(f.bytes), 0) AS used FROM files f
        WHERE f.sha256 IN (SELECT n.sha256 FROM named_files n JOIN revisions r ON r.id = n.revision_id
                           JOIN shots s ON s.id = r.shot_id WHERE s.student_id = $1)`,
      [personId],
    );
    return { used: Number(row!.used), most: this.configuration.QUOTA_MB * 1024 * 1024 };
  }

  /**
   * Bytes a student may still hand in.
   * @throws ProblemException where there are none
   */
  async roomLeft(person: Pick<Person, 'id'>): Promise<number> {
    const { used, most } = await this.roomOf(person.id);
    if (used >= most) throw quotaUsed();
    return most - used;
  }

  /** Stores a hand-in as the next revision of the student's shot and queues its reading, all or nothing. */
  async handIn(
    person: Person,
    assignmentId: string,
    { fields, file, fileName, clip }: ReceivedHandIn,
  ): Promise<{ shot: string; revision: string }> {
    try {
      const assignment = await this.openFor(person, assignmentId);
      const media = await this.mediaOf(file, fileName);
      if (media === 'motion' && file.bytes <= READ_AT_ONCE_BYTES) await this.refuseUnreadable(file.path);
      if (clip) await this.refuseBeside(media, clip);
      const brief = (await this.database.models.Brief.findByPk(assignment.briefId))!;
      return await this.database.transaction(async (transaction) => {
        for (const sha256 of [file.sha256, ...(clip ? [clip.file.sha256] : [])].sort())
          await lockFile(this.database, sha256, transaction);
        const [shot] = await this.database.models.Shot.findOrCreate({
          where: { assignmentId, studentId: person.id },
          transaction,
        });
        await this.database.models.Shot.findByPk(shot.id, { transaction, lock: transaction.LOCK.UPDATE });
        const earlier = await this.database.models.Revision.findAll({
          where: { shotId: shot.id },
          order: [['number', 'ASC']],
          transaction,
        });
        refuseOutOfTurn(earlier, file.sha256);
        await this.database.models.File.findOrCreate({
          where: { sha256: file.sha256 },
          defaults: { sha256: file.sha256, bytes: file.bytes },
          transaction,
        });
        const revision = await this.database.models.Revision.create(
          {
            shotId: shot.id,
            number: (earlier.at(-1)?.number ?? 0) + 1,
            stage: fields.stage,
            fileSha256: file.sha256,
            fileName,
            media,
            note: fields.note,
            firstFrame: fields.firstFrame ?? brief.firstFrame,
            // A clip of a cycle may or may not have its first frame once more at its end.
            loop: fields.loop ?? (media === 'pictures' && brief.loop !== 'none' ? 'auto' : brief.loop),
            // A role that was corrected once stays corrected.
            roles: earlier.at(-1)?.roles ?? {},
          },
          { transaction },
        );
        if (clip) await this.storeBeside(revision, clip, fields.clipFirst ?? revision.firstFrame, transaction);
        await this.record(revision, person, 'handed in', {}, transaction);
        await this.queue.readShot({ revision: revision.id, settings: revision.settingsVersion }, transaction, {
          somebodyWaits: true,
        });
        await file.keep();
        await clip?.file.keep();
        return { shot: shot.id, revision: revision.id };
      });
    } catch (error) {
      await file.discard();
      await clip?.file.discard();
      if (error instanceof UniqueConstraintError) throw conflict('This revision was handed in a moment ago.');
      throw error;
    }
  }

  /** @throws ProblemException where what goes with a motion is no clip, or there is no motion that it could go with */
  private async refuseBeside(media: Media, { file, fileName }: NamedFile): Promise<void> {
    if (media === 'pictures')
      throw refusedFile(
        'Both files are pictures.',
        'A motion and the clip of it go together: hand in one of these by itself, or the motion with it.',
      );
    if ((await this.mediaOf(file, fileName)) !== 'pictures')
      throw refusedFile('What came with the motion is no clip.', 'It can be a clip or a zip of numbered drawings.');
  }

  private async storeBeside(
    revision: RevisionModel,
    { file, fileName }: NamedFile,
    firstLabel: number,
    transaction: Transaction,
  ): Promise<void> {
    const { sha256, bytes } = file;
    await this.database.models.File.findOrCreate({ where: { sha256 }, defaults: { sha256, bytes }, transaction });
    await storeClipBeside(this.database, revision.id, { sha256, fileName, firstLabel }, transaction);
  }

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
      await this.readAnew(revision, person, 'read again', {}, transaction);
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

  /**
   * Whether a file is a motion or a clip, by what is in it.
   * @throws ProblemException where it is named as a clip and is none, or holds no picture
   */
  private async mediaOf(file: ReceivedHandIn['file'], fileName: string): Promise<Media> {
    try {
      if (await checkClip(file.path, fileName)) return 'pictures';
    } catch (error) {
      if (error instanceof ClipError) throw refusedFile('This clip can’t be taken.', `${capital(error.message)}.`);
      throw error;
    }
    if (file.bytes > MAX_FILE_BYTES)
      throw refusedFile(
        'The file is larger than 64 MB.',
        'Export fewer frames, or leave out joints that do not move.',
        413,
      );
    return 'motion';
  }

  /** @throws ProblemException with the file's line and what was expected there */
  private async refuseUnreadable(path: string): Promise<void> {
    try {
      const answer = await this.processes.read('check', { path }, READ_AT_ONCE_SECONDS);
      if ('refused' in answer) throw refusedFile('This file can’t be read.', answer.refused);
      if ('failed' in answer) throw new Error(answer.failed);
    } catch (error) {
      if (error instanceof ReadingInterrupted) throw notNow('The file could not be looked at just now.');
      throw error;
    }
  }

  private async move(
    person: Person,
    id: string,
    from: readonly RevisionState[],
    to: RevisionState,
    changes: Partial<Pick<RevisionModel, 'words' | 'asked' | 'judgedAt'>>,
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
      readingBeat: new Date(),
      settingsVersion: revision.settingsVersion + 1,
    });
    await revision.save({ transaction });
    await this.record(revision, person, what, data, transaction);
    await this.queue.readShot({ revision: revision.id, settings: revision.settingsVersion }, transaction, {
      somebodyWaits: true,
    });
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

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

const verb = (state: RevisionState): string => (state === 'on the desk' ? 'taken on the desk' : state);

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
