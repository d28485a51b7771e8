import { Injectable } from '@nestjs/common';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import type {
  BriefChange,
  BriefContent,
  BriefFileFormat,
  BriefVersions,
  ListedBrief,
  ReadingValues,
} from '@ypsigraph/contract/briefs';
import { faultsOf } from '@ypsigraph/contract/check-brief';
import { sameContent } from '@ypsigraph/contract/merge-briefs';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import { type BriefModel, contentOf } from './brief.model.ts';
import { lockFile } from '../files/file-sweeper.ts';
import { FileStore } from '../files/file-store.ts';
import { conflict, notFound, ProblemException, refusedFile } from '../http/problem.ts';
import { FileLook } from '../revisions/file-look.ts';
import type { NamedFile } from '../files/receive-form.ts';
import { findBriefs, findValues, findVersions } from './brief.queries.ts';

/** Files to start from that one brief may have. */
const MOST_FILES = 20;

/** Briefs as instructors write them. One that is set anywhere is never changed: it gets a new version. */
@Injectable()
export class BriefService {
  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
    private readonly looks: FileLook,
  ) {}

  list(): Promise<ListedBrief[]> {
    return findBriefs(this.database);
  }

  /** A brief with every version of it, the newest first. */
  async versions(id: string): Promise<BriefVersions> {
    const brief = await this.database.models.Brief.findByPk(id, { attributes: ['family'] });
    if (!brief) throw notFound('brief');
    return { versions: await findVersions(this.database, brief.family) };
  }

  async make(person: Person, content: BriefContent): Promise<BriefVersions> {
    refuseFaults(content);
    const made = await this.named(content.title, () =>
      this.database.transaction(async (transaction) => {
        await this.refuseTitle(content.title, undefined, transaction);
        return this.database.models.Brief.create({ ...content, createdBy: person.id }, { transaction });
      }),
    );
    return this.versions(made.id);
  }

  /** Changes a brief: in place where it is set nowhere, otherwise as a new version. Who changes an older version than the newest is told. */
  async change(person: Person, id: string, { of, was, content }: BriefChange): Promise<BriefVersions> {
    refuseFaults(content);
    await this.named(content.title, () =>
      this.database.transaction(async (transaction) => {
        const newest = await this.newest(id, transaction);
        // A version nobody has begun with is changed where it stands: whoever changes it has to have seen it.
        const seen = was === undefined || sameContent(contentOf(newest), was);
        if (newest.id !== of || !seen)
          throw conflict(
            'Somebody has changed this brief meanwhile.',
            `Version ${newest.version} as it is now is the newest; open it and change that.`,
          );
        await this.refuseTitle(content.title, newest.family, transaction);
        const open = await this.openVersion(newest, person, transaction);
        await open.update({ ...content }, { transaction });
      }),
    );
    return this.versions(id);
  }

  /** Puts a brief away, or takes it out again. Shots on it stay, and so does what is set. */
  async archive(id: string, archived: boolean): Promise<BriefVersions> {
    const { family } = await this.newest(id);
    await this.database.run(
      'UPDATE briefs SET archived_at = CASE WHEN $2 THEN coalesce(archived_at, now()) END WHERE family = $1',
      [family, archived],
    );
    return this.versions(id);
  }

  values(person: Person, id: string): Promise<ReadingValues> {
    return this.newest(id).then(({ kind }) => findValues(this.database, person.id, kind));
  }

  /** A brief as a file: what was to be done before is named by its title. */
  async file(id: string): Promise<BriefFileFormat> {
    const { versions } = await this.versions(id);
    const { before, ...brief } = versions.find((own) => own.id === id) ?? versions[0]!;
    const rows = await this.database.select<{ title: string }>(
      'SELECT DISTINCT ON (family) title FROM briefs WHERE family = ANY ($1::uuid[]) ORDER BY family, version DESC',
      [before],
    );
    const {
      id: _id,
      family: _family,
      version: _version,
      files: _files,
      at: _at,
      author: _author,
      shots: _shots,
      archived: _archived,
      ...content
    } = brief;
    return { format: 'ypsigraph-brief', version: 1, brief: { ...content, before: rows.map(({ title }) => title) } };
  }

  /** Makes a brief of a file. A title that is there already gets a number behind it; what is unknown of the briefs before is left out. */
  async take(person: Person, { brief }: BriefFileFormat): Promise<BriefVersions> {
    const rows = await this.database.select<{ title: string; family: string }>(
      'SELECT DISTINCT ON (family) title, family FROM briefs WHERE archived_at IS NULL ORDER BY family, version DESC',
      [],
    );
    const byTitle = new Map(rows.map(({ title, family }) => [title, family]));
    const before = brief.before.flatMap((title) => byTitle.get(title) ?? []);
    let { title } = brief;
    for (let k = 2; byTitle.has(title); k++) title = `${brief.title} (${k})`;
    return this.make(person, { ...brief, before, title });
  }

  /** Adds a file to start from. */
  async addFile(person: Person, id: string, { file, fileName }: NamedFile): Promise<BriefVersions> {
    try {
      await file.send();
      await this.database.transaction(async (transaction) => {
        const open = await this.openVersion(await this.newest(id, transaction), person, transaction);
        await lockFile(this.database, file.sha256, transaction);
        const [count] = await this.database.select<{ n: number }>(
          'SELECT count(*)::int AS n FROM brief_files WHERE brief_id = $1',
          [open.id],
          transaction,
        );
        if (count!.n >= MOST_FILES) throw conflict(`A brief has ${MOST_FILES} files at most.`);
        const { sha256, bytes } = file;
        await this.database.models.File.findOrCreate({ where: { sha256 }, defaults: { sha256, bytes }, transaction });
        await this.database.run(
          'INSERT INTO brief_files (brief_id, file_sha256, file_name) VALUES ($1, $2, $3)',
          [open.id, sha256, fileName],
          transaction,
        );
        await file.keep();
      });
    } catch (error) {
      await file.discard();
      throw error;
    }
    return this.versions(id);
  }

  /** Takes a file to start from away. Versions that shots were begun with keep theirs. */
  async dropFile(person: Person, id: string, fileId: string): Promise<BriefVersions> {
    await this.database.transaction(async (transaction) => {
      const own = await this.openFile(person, id, fileId, transaction);
      await this.database.run('DELETE FROM brief_files WHERE id = $1', [own], transaction);
    });
    return this.versions(id);
  }

  /** Lets a sound among the files be heard with every motion that is handed in from now on, in place of another; or no more. */
  async hear(person: Person, id: string, fileId: string, heard: boolean): Promise<BriefVersions> {
    if (heard) await this.mustBeSound(person, id, fileId);
    await this.database.transaction(async (transaction) => {
      const own = await this.openFile(person, id, fileId, transaction);
      await this.database.run(
        'UPDATE brief_files SET is_heard = false WHERE is_heard AND brief_id = (SELECT brief_id FROM brief_files WHERE id = $1)',
        [own],
        transaction,
      );
      if (heard) await this.database.run('UPDATE brief_files SET is_heard = true WHERE id = $1', [own], transaction);
    });
    return this.versions(id);
  }

  private async mustBeSound(person: Person, id: string, fileId: string): Promise<void> {
    const { sha256, name: fileName, bytes } = await this.fileFor(person, id, fileId);
    const brief = await this.newest(id);
    const looked = await this.looks.at({ file: { path: await this.files.pathOf(sha256), bytes }, fileName }, brief, 0);
    if (looked.media !== 'sound')
      throw refusedFile('This is no sound.', 'A sound is a WAV, MP3, Ogg, M4A or FLAC file.');
  }

  /** A file of the version that may be changed: a new version has copies of the files, with names of their own. */
  private async openFile(person: Person, id: string, fileId: string, transaction: Transaction): Promise<string> {
    const newest = await this.newest(id, transaction);
    const [own] = await this.database.select<{ sha256: string; name: string }>(
      'SELECT file_sha256 AS sha256, file_name AS name FROM brief_files WHERE id = $1 AND brief_id = $2',
      [fileId, newest.id],
      transaction,
    );
    if (!own) throw notFound('file');
    const open = await this.openVersion(newest, person, transaction);
    const [row] = await this.database.select<{ id: string }>(
      'SELECT id FROM brief_files WHERE brief_id = $1 AND file_sha256 = $2 AND file_name = $3 ORDER BY (id = $4) DESC LIMIT 1',
      [open.id, own.sha256, own.name, fileId],
      transaction,
    );
    return row!.id;
  }

  /**
   * The content of a file to start from, for staff and for students it is set for.
   */
  async fileFor(
    person: Person,
    briefId: string,
    fileId: string,
  ): Promise<{ sha256: string; name: string; bytes: number }> {
    const [row] = await this.database.select<{ sha256: string; name: string; bytes: number; may: boolean }>(
      `SELECT bf.file_sha256 AS sha256, bf.file_name AS name, f.bytes::int AS bytes,
              $3 <> 'student' OR EXISTS (
                SELECT 1 FROM enrolments e JOIN assignments a ON a.cohort_id = e.cohort_id
                  LEFT JOIN shots s ON s.assignment_id = a.id AND s.student_id = e.person_id
                 WHERE e.person_id = $4 AND coalesce(s.brief_id, a.brief_id) = bf.brief_id) AS may
         FROM brief_files bf JOIN files f ON f.sha256 = bf.file_sha256 WHERE bf.id = $2 AND bf.brief_id = $1`,
      [briefId, fileId, person.role, person.id],
    );
    if (!row?.may) throw notFound('file');
    return row;
  }

  /** The newest version of a brief's family, held until the transaction ends. */
  private async newest(id: string, transaction?: Transaction): Promise<BriefModel> {
    const { Brief } = this.database.models;
    const own = await Brief.findByPk(id, { attributes: ['family'], transaction: transaction ?? null });
    if (!own) throw notFound('brief');
    const newest = await Brief.findOne({
      where: { family: own.family },
      order: [['version', 'DESC']],
      transaction: transaction ?? null,
      ...(transaction && { lock: transaction.LOCK.UPDATE }),
    });
    return newest!;
  }

  /** The version that may be changed: the newest, or, where that is set for a cohort or has shots, the next one, the same in everything. */
  private async openVersion(newest: BriefModel, person: Person, transaction: Transaction): Promise<BriefModel> {
    const { Assignment, Shot } = this.database.models;
    const where = { briefId: newest.id };
    // A version that was set and is set no longer may have shots that were begun with it.
    const used = (await Assignment.count({ where, transaction })) + (await Shot.count({ where, transaction }));
    if (used === 0) return newest;
    const { id: _id, createdAt: _at, ...values } = newest.get({ plain: true });
    const next = await this.database.models.Brief.create(
      { ...values, version: newest.version + 1, createdBy: person.id },
      { transaction },
    );
    await this.database.run(
      'INSERT INTO brief_files (brief_id, file_sha256, file_name, at, is_heard) SELECT $2, file_sha256, file_name, at, is_heard FROM brief_files WHERE brief_id = $1',
      [newest.id, next.id],
      transaction,
    );
    return next;
  }

  private async refuseTitle(title: string, family: string | undefined, transaction: Transaction): Promise<void> {
    const taken = await this.database.select(
      `SELECT 1 FROM (SELECT DISTINCT ON (family) family, title, archived_at FROM briefs ORDER BY family, version DESC) b
        WHERE lower(b.title) = lower($1) AND b.archived_at IS NULL AND b.family IS DISTINCT FROM $2::uuid LIMIT 1`,
      [title, family ?? null],
      transaction,
    );
    if (taken.length > 0) throw titleTaken(title);
  }

  private async named<T>(title: string, work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw titleTaken(title);
      throw error;
    }
  }
}

const titleTaken = (title: string): ProblemException =>
  new ProblemException(409, 'conflict', `There is a brief “${title}” already.`, 'Call this one something else.', [
    { field: 'title', message: 'another brief is called that' },
  ]);

/** @throws ProblemException where a brief can't be carried out */
function refuseFaults(content: BriefContent): void {
  const faults = faultsOf(content);
  if (faults.length === 0) return;
  throw new ProblemException(400, 'invalid', 'Something in the brief is not right.', faults[0]!.message, faults);
}
