import { Inject, Injectable } from '@nestjs/common';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import { againstTheBrief, type ReadMotion } from '@ypsigraph/contract/against-the-brief';
import type { Person } from '@ypsigraph/contract/people';
import type { Media } from '@ypsigraph/contract/vocabulary';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { CoursePolicy } from '../courses/course.policy.ts';
import { Database } from '../database/database.module.ts';
import type { AssignmentModel } from '../courses/course.models.ts';
import type { BriefModel } from '../briefs/brief.model.ts';
import type { RevisionModel } from './revision.models.ts';
import { lockFile } from '../files/file-sweeper.ts';
import type { NamedFile } from '../files/receive-form.ts';
import { UploadStore } from '../files/upload-store.ts';
import { conflict, quotaUsed, refusedFile } from '../http/problem.ts';
import { requestId } from '../http/request-id.ts';
import { soundOfBrief } from '../briefs/brief-sound.ts';
import { storeClipBeside } from '../pictures/clips-beside.ts';
import { FileLook } from './file-look.ts';
import type { ReceivedHandIn } from './hand-in.ts';
import { withdrawAll } from './withdraw-all.ts';

/** What came a moment after a drill's clock ran out was sent before. */
const GRACE_MS = 60_000;

/** Where a hand-in is to be found. */
export interface HandedIn {
  readonly shot: string;
  readonly revision: string;
}

/** Taking a student's files in as the next revision of a shot. */
@Injectable()
export class HandInService {
  constructor(
    private readonly database: Database,
    private readonly courses: CoursePolicy,
    private readonly looks: FileLook,
    private readonly uploads: UploadStore,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  /** Whether someone may hand in for an exercise at all: asked before their file is taken in. */
  async openFor(person: Person, assignmentId: string): Promise<AssignmentModel> {
    const assignment = await this.courses.assignment(person, assignmentId);
    if (assignment.closedAt) throw conflict('This exercise is closed.', 'Ask your instructor to open it again.');
    await this.refuseAfterTheClock(person, assignment);
    return assignment;
  }

  /** How much room a student's files take and may take, bytes; uploads that are on their way take theirs as well. */
  async roomOf(personId: string): Promise<{ used: number; most: number }> {
    const [row] = await this.database.select<{ used: string }>(
      `SELECT coalesce(sum(f.bytes), 0) AS used FROM files f
        WHERE f.sha256 IN (SELECT n.sha256 FROM named_files n JOIN revisions r ON r.id = n.revision_id
                           JOIN shots s ON s.id = r.shot_id WHERE s.student_id = $1)`,
      [personId],
    );
    const { bytes } = await this.uploads.of(personId);
    return { used: Number(row!.used) + bytes, most: this.configuration.QUOTA_MB * 1024 * 1024 };
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

  /** What an upload has become already: a hand-in that is repeated, since its answer was lost, is answered with its revision. */
  async handedIn(person: Person, assignmentId: string, upload: string): Promise<HandedIn | undefined> {
    const [row] = await this.database.select<HandedIn>(
      `SELECT s.id AS shot, r.id AS revision FROM revisions r JOIN shots s ON s.id = r.shot_id
          LEFT JOIN clips_beside k ON k.revision_id = r.id
        WHERE (r.upload = $1 OR k.upload = $1) AND s.student_id = $2 AND s.assignment_id = $3`,
      [upload, person.id, assignmentId],
    );
    return row;
  }

  /**
   * Stores a hand-in as the next revision of the student's shot, which queues its reading: all or nothing. Repeated as it was, it is answered with
   * the revision it has become.
   */
  async handIn(person: Person, assignmentId: string, received: ReceivedHandIn): Promise<HandedIn> {
    const { fields, file, fileName, clip, upload } = received;
    try {
      const assignment = await this.openFor(person, assignmentId);
      const brief = await this.briefOf(person, assignment);
      const { media, motion } = await this.looks.at(received, brief);
      if (media === 'sound') throw refusedFile('This is a sound alone.', 'Hand it in with the motion it belongs to.');
      refuseOther(brief, motion);
      if (clip) await this.refuseBeside(media, clip, brief);
      await file.send();
      await clip?.file.send();
      return await this.database.transaction(async (transaction) => {
        for (const sha256 of [file.sha256, ...(clip ? [clip.file.sha256] : [])].sort())
          await lockFile(this.database, sha256, transaction);
        const shownBeside = person.role === 'student' ? null : (fields.beside ?? null);
        if (shownBeside !== null) await this.mustBeOf(assignmentId, shownBeside, transaction);
        const [shot] = await this.database.models.Shot.findOrCreate({
          where: { assignmentId, studentId: person.id, shownBeside },
          defaults: { assignmentId, studentId: person.id, briefId: assignment.briefId, shownBeside },
          transaction,
        });
        await this.database.models.Shot.findByPk(shot.id, { transaction, lock: transaction.LOCK.UPDATE });
        if (person.role !== 'student')
          await this.database.run(
            'INSERT INTO demonstrations (shot_id) VALUES ($1) ON CONFLICT DO NOTHING',
            [shot.id],
            transaction,
          );
        const earlier = await this.database.models.Revision.findAll({
          where: { shotId: shot.id },
          order: [['number', 'ASC']],
          transaction,
        });
        const same = repeated(earlier, received);
        if (same) return { shot: shot.id, revision: same.id };
        const shows = person.role !== 'student';
        refuseOutOfTurn(earlier, file.sha256, brief.clockMinutes !== null && !shows, shows);
        // Another take of who shows how: the one before is there no more.
        if (shows) await withdrawAll(this.database, earlier, person, transaction);
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
            upload: upload ?? null,
            note: fields.note,
            firstFrame: fields.firstFrame ?? brief.firstFrame,
            // A clip of a cycle may or may not have its first frame once more at its end.
            loop: fields.loop ?? (media === 'pictures' && brief.loop !== 'none' ? 'auto' : brief.loop),
            // What was corrected once stays corrected.
            up: earlier.at(-1)?.up ?? 'auto',
            animation: fields.animation ?? null,
            figure: fields.figure ?? null,
            roles: { ...earlier.at(-1)?.roles, ...fields.roles },
            workedOn: fields.workedOn,
            curesSeen: fields.curesSeen,
            readingRequest: requestId(),
          },
          { transaction },
        );
        if (clip)
          await this.storeBeside(revision, clip, fields.clipFirst ?? revision.firstFrame, fields.clip, transaction);
        else if (media === 'motion') {
          const sound = await soundOfBrief(this.database, brief.id, transaction);
          const place = { firstLabel: revision.firstFrame, upload: undefined };
          if (sound) await storeClipBeside(this.database, revision.id, { ...sound, ...place }, transaction);
        }
        await this.database.models.RevisionEvent.create(
          { revisionId: revision.id, authorId: person.id, what: 'handed in' },
          { transaction },
        );
        await file.keep();
        await clip?.file.keep();
        return { shot: shot.id, revision: revision.id };
      });
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw conflict('This revision was handed in a moment ago.');
      throw error;
    } finally {
      await file.discard();
      await clip?.file.discard();
    }
  }

  /** @throws ProblemException where what goes with a motion is neither a clip nor a sound, or there is no motion that it could go with */
  private async refuseBeside(media: Media, clip: NamedFile, brief: BriefModel): Promise<void> {
    if (media === 'pictures')
      throw refusedFile(
        'Both files are pictures.',
        'A motion and the clip of it go together: hand in one of these by itself, or the motion with it.',
      );
    if ((await this.looks.at(clip, brief, 0)).media === 'motion')
      throw refusedFile(
        'What came with the motion is no clip.',
        'It can be a clip, a zip of numbered drawings, or a sound.',
      );
  }

  private async storeBeside(
    revision: RevisionModel,
    { file, fileName }: NamedFile,
    firstLabel: number,
    upload: string | undefined,
    transaction: Transaction,
  ): Promise<void> {
    const { sha256, bytes } = file;
    await this.database.models.File.findOrCreate({ where: { sha256 }, defaults: { sha256, bytes }, transaction });
    await storeClipBeside(this.database, revision.id, { sha256, fileName, firstLabel, upload }, transaction);
  }

  private async mustBeOf(assignmentId: string, shotId: string, transaction: Transaction): Promise<void> {
    const shot = await this.database.models.Shot.findOne({ where: { id: shotId, assignmentId }, transaction });
    if (!shot) throw conflict('That shot is none of this exercise.');
  }

  /** The version of the brief that counts: of a shot that is begun, the one it was begun with. */
  private async briefOf({ id }: Person, { id: assignmentId, briefId }: AssignmentModel): Promise<BriefModel> {
    const { Brief, Shot } = this.database.models;
    const shot = await Shot.findOne({ where: { assignmentId, studentId: id } });
    return (await Brief.findByPk(shot?.briefId ?? briefId))!;
  }

  /** Starts the clock of a timed drill. Started twice, it runs from the first time. */
  async beginDrill(person: Person, assignmentId: string): Promise<void> {
    const assignment = await this.courses.assignment(person, assignmentId);
    if (assignment.closedAt) throw conflict('This exercise is closed.', 'Ask your instructor to open it again.');
    const brief = await this.briefOf(person, assignment);
    if (brief.clockMinutes === null) throw conflict('This exercise has no clock.', 'Hand it in when it is done.');
    await this.database.run(
      'INSERT INTO drills_begun (assignment_id, person_id) VALUES ($1, $2) ON CONFLICT DO NOTHING',
      [assignmentId, person.id],
    );
  }

  private async refuseAfterTheClock(person: Person, assignment: AssignmentModel): Promise<void> {
    const { clockMinutes } = await this.briefOf(person, assignment);
    if (clockMinutes === null || person.role !== 'student') return;
    const [begun] = await this.database.select<{ at: Date }>(
      'SELECT at FROM drills_begun WHERE assignment_id = $1 AND person_id = $2',
      [assignment.id, person.id],
    );
    if (!begun)
      throw conflict('The clock of this drill has not been started.', 'Start it on the hand-in page, then work.');
    if (Date.now() > begun.at.getTime() + clockMinutes * 60_000 + GRACE_MS)
      throw conflict('The clock of this drill has run out.', 'Ask your instructor for another go.');
  }
}

/** The revision that a hand-in has become already: the same file, at the same stage, with the same words, which nobody has looked at yet. */
function repeated(
  earlier: readonly RevisionModel[],
  { file, fields, clip, upload }: ReceivedHandIn,
): RevisionModel | undefined {
  const newest = earlier.filter(({ state }) => state !== 'withdrawn').at(-1);
  if (!newest) return undefined;
  if (upload !== undefined && newest.upload === upload) return newest;
  const { state, fileSha256, stage, note } = newest;
  const same = fileSha256 === file.sha256 && stage === fields.stage && note === fields.note;
  return same && state === 'handed in' && !clip ? newest : undefined;
}

/** @throws ProblemException where the shot can't take a revision now, or has had this one before */
function refuseOutOfTurn(earlier: readonly RevisionModel[], sha256: string, once: boolean, shows: boolean): void {
  if (once && earlier.length > 0) throw conflict('A timed drill is handed in once.', 'It was handed in already.');
  const standing = earlier.filter((revision) => revision.state !== 'withdrawn');
  const same = standing.find((revision) => revision.fileSha256 === sha256);
  if (same)
    throw conflict(`This is the same file as revision ${same.number}.`, 'Export your new version and hand that in.');
  // Whoever shows how is reviewed by nobody: another take is in the place of the one before at once.
  if (shows) return;
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

/** @throws ProblemException where a motion does not keep to what its brief insists on */
function refuseOther(brief: BriefModel, read: ReadMotion | undefined): void {
  const refused = read ? againstTheBrief(read, brief).find(({ rule }) => brief.rules[rule] === 'refuse') : undefined;
  if (refused) throw refusedFile('The exercise does not take this.', refused.say);
}
