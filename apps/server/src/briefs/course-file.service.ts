import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { Injectable } from '@nestjs/common';
import type { Response } from 'express';
import { unzip, type Unzipped } from 'fflate';
import { courseJsonSchema } from '@ypsigraph/contract/brief-schema';
import { faultsOf } from '@ypsigraph/contract/check-brief';
import { COURSE_ENTRY, COURSE_LIMITS, CourseFileFormat, type CourseTaken } from '@ypsigraph/contract/course-file';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import { ArchiveWriter, plainName } from '../files/archive-writer.ts';
import { FileStore } from '../files/file-store.ts';
import { lockFile } from '../files/file-sweeper.ts';
import type { ReceivedFile } from '../files/received-file.ts';
import { notFound, ProblemException, refusedFile } from '../http/problem.ts';
import { PhraseService } from '../marks/phrase.service.ts';
import { type BriefModel, contentOf } from './brief.model.ts';
import { findBriefs } from './brief.queries.ts';

/** Largest archive, what it may hold unpacked, and how many entries. */
export const MOST_BYTES = 256 * 1024 * 1024;
const MOST_UNPACKED = 512 * 1024 * 1024;
const MOST_ENTRIES = 3_000;

/** A file to start from of one version of a brief. */
interface KeptFile {
  readonly brief: string;
  readonly name: string;
  readonly sha256: string;
  readonly heard: boolean;
}

type Brief = CourseFileFormat['briefs'][number];

/** Whole courses as archives: taken away, and brought in elsewhere. */
@Injectable()
export class CourseFileService {
  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
    private readonly phrases: PhraseService,
  ) {}

  /**
   * Sends every brief that is not put away, or one, with all versions, files to start from, and whoever asks' own phrases.
   * @param only a version of the only brief that is wanted
   */
  async send(person: Person, response: Response, only: string | undefined): Promise<void> {
    const { Brief } = this.database.models;
    const families = only
      ? ((await Brief.findByPk(only, { attributes: ['family'] }))?.family ?? [])
      : (await findBriefs(this.database)).filter(({ archived }) => archived === null).map(({ family }) => family);
    const rows = await Brief.findAll({
      where: { family: families },
      order: [
        ['family', 'ASC'],
        ['version', 'ASC'],
      ],
    });
    if (rows.length === 0) throw notFound('brief');
    const titles = new Map(rows.map((row) => [row.family, row.title]));
    const kept = await this.database.select<KeptFile>(
      'SELECT brief_id AS brief, file_name AS name, file_sha256 AS sha256, is_heard AS heard FROM brief_files WHERE brief_id = ANY ($1::uuid[]) ORDER BY id',
      [rows.map(({ id }) => id)],
    );
    const places = new Map<string, string>();
    const placeOf = ({ sha256, name }: KeptFile): string => {
      const place = `files/${sha256.slice(0, 16)}/${plainName(name)}`;
      places.set(place, sha256);
      return place;
    };
    const byFamily = new Map<string, Brief['versions']>();
    for (const row of rows) {
      const versions = byFamily.get(row.family) ?? [];
      byFamily.set(row.family, versions);
      const { before, ...content } = contentOf(row);
      versions.push({
        brief: { ...content, before: before.flatMap((own) => titles.get(own) ?? []) },
        files: kept
          .filter(({ brief }) => brief === row.id)
          .map((own) => ({ name: own.name, place: placeOf(own), heard: own.heard })),
      });
    }
    const phrases = (await this.phrases.list(person)).map(({ kind, reading, words }) => ({ kind, reading, words }));
    const course = CourseFileFormat.parse({
      format: 'ypsigraph-course',
      version: 1,
      briefs: [...byFamily.values()].map((versions) => ({ versions })),
      phrases,
    });
    const name = only ? `${plainName(rows.at(-1)!.title).toLowerCase().replaceAll(' ', '-')}.course.zip` : 'course.zip';
    // Headers hold letters of ASCII alone.
    await ArchiveWriter.send(response, this.files, name.replace(/[^\x20-\x7e]/g, '_'), async (archive) => {
      await archive.json(COURSE_ENTRY, course);
      await archive.json('course-1.schema.json', courseJsonSchema());
      for (const [place, sha256] of places) await archive.file(place, sha256);
    });
  }

  /**
   * Makes briefs of an archive: all of them, or none. A title that is there already gets a number behind it; phrases that are there already are left.
   * @throws ProblemException where it is no such archive
   */
  async take(person: Person, file: ReceivedFile): Promise<CourseTaken> {
    try {
      const entries = await opened(await readFile(file.path));
      const course = courseOf(entries);
      const kept = await this.keepFiles(course, entries);
      const briefs = await this.database.transaction(async (transaction) => {
        for (const { sha256, bytes } of kept.values()) {
          await lockFile(this.database, sha256, transaction);
          await this.database.models.File.findOrCreate({ where: { sha256 }, defaults: { sha256, bytes }, transaction });
        }
        const taken = await this.database.select<{ title: string; family: string }>(
          'SELECT DISTINCT ON (family) lower(title) AS title, family FROM briefs WHERE archived_at IS NULL ORDER BY family, version DESC',
          [],
          transaction,
        );
        const byTitle = new Map(taken.map(({ title, family }) => [title, family]));
        // Titles of versions and briefs that are put away are taken as well: no two versions of one number may share one.
        const all = await this.database.select<{ title: string }>(
          'SELECT lower(title) AS title FROM briefs',
          [],
          transaction,
        );
        const used = new Set(all.map(({ title }) => title));
        const made = course.briefs.map(({ versions }) => ({
          versions,
          family: randomUUID(),
          title: versions.at(-1)!.brief.title,
        }));
        // What a brief names as to be done before is, where it came along, what came along.
        const before = new Map([
          ...byTitle,
          ...made.map(({ title, family }) => [title.toLowerCase(), family] as const),
        ]);
        const told: CourseTaken['briefs'] = [];
        for (const { versions, family, title } of made) {
          let own = title;
          for (let k = 2; used.has(own.toLowerCase()); k++) own = `${title} (${k})`;
          used.add(own.toLowerCase());
          let newest: BriefModel | undefined;
          for (const [k, { brief, files }] of versions.entries()) {
            newest = await this.database.models.Brief.create(
              {
                ...brief,
                ...{ family, version: k + 1, createdBy: person.id },
                title:
                  k + 1 === versions.length || brief.title === title
                    ? own
                    : `${brief.title} (before ${own})`.slice(0, 200),
                before: brief.before
                  .flatMap((name) => before.get(name.toLowerCase()) ?? [])
                  .filter((id) => id !== family),
              },
              { transaction },
            );
            for (const { name, place, heard } of files)
              await this.database.run(
                'INSERT INTO brief_files (brief_id, file_sha256, file_name, is_heard) VALUES ($1, $2, $3, $4)',
                [newest.id, kept.get(place)!.sha256, name, heard],
                transaction,
              );
          }
          told.push({ id: newest!.id, title: own });
        }
        return told;
      });
      return { briefs, phrases: await this.takePhrases(person, course) };
    } finally {
      await file.discard();
    }
  }

  private async keepFiles(
    { briefs }: CourseFileFormat,
    entries: Unzipped,
  ): Promise<Map<string, { sha256: string; bytes: number }>> {
    const places = new Set(
      briefs.flatMap(({ versions }) => versions.flatMap(({ files }) => files.map(({ place }) => place))),
    );
    const missing = [...places].filter((place) => !entries[place]?.length);
    if (missing.length > 0)
      throw refusedFile('This archive is not whole.', `It names “${missing[0]}”, which is not in it, or is empty.`);
    const kept = new Map<string, { sha256: string; bytes: number }>();
    for (const place of places) kept.set(place, await this.files.put(entries[place]!));
    return kept;
  }

  private async takePhrases(person: Person, { phrases }: CourseFileFormat): Promise<number> {
    const there = await this.phrases.list(person);
    const asOne = ({ kind, reading, words }: { kind: string; reading?: string | null; words: string }): string =>
      JSON.stringify([kind, reading ?? null, words]);
    const known = new Set(there.map(asOne));
    const fresh = phrases.filter((phrase) => !known.has(asOne(phrase))).slice(0, COURSE_LIMITS.phrases - there.length);
    for (const { kind, reading, words } of fresh)
      await this.phrases.keep(person, { key: randomUUID(), kind, reading: reading ?? null, words });
    return fresh.length;
  }
}

/** The entries of an archive, within bounds. */
async function opened(bytes: Uint8Array): Promise<Unzipped> {
  let [unpacked, many, tooMuch] = [0, 0, false];
  const entries = await new Promise<Unzipped>((resolve, reject) =>
    unzip(
      bytes,
      {
        filter: ({ name, originalSize }) => {
          unpacked += originalSize;
          many++;
          tooMuch ||= unpacked > MOST_UNPACKED || many > MOST_ENTRIES;
          return !tooMuch && (name === COURSE_ENTRY || name.startsWith('files/'));
        },
      },
      (error, own) => (error ? reject(error) : resolve(own)),
    ),
  ).catch(() => {
    throw refusedFile(
      'This is no archive that can be read.',
      'A course is one .zip, as it was taken away from a page of briefs.',
    );
  });
  if (tooMuch)
    throw refusedFile('This archive holds more than can be taken in.', 'At most 512 MB, in 3,000 entries.', 413);
  return entries;
}

/** What an archive says it holds. */
function courseOf(entries: Unzipped): CourseFileFormat {
  const entry = entries[COURSE_ENTRY];
  if (!entry) throw refusedFile('This archive is no course.', `There is no “${COURSE_ENTRY}” in it.`);
  let json: unknown;
  try {
    json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(entry));
  } catch {
    throw refusedFile('This archive can’t be read.', `Its “${COURSE_ENTRY}” is no JSON.`);
  }
  const parsed = CourseFileFormat.safeParse(json);
  const issues = parsed.success
    ? parsed.data.briefs.flatMap(({ versions }, b) =>
        versions.flatMap(({ brief }, v) =>
          faultsOf({ ...brief, before: [] }).map(({ field, message }) => ({
            field: `briefs.${b}.versions.${v}.brief.${field}`,
            message,
          })),
        ),
      )
    : parsed.error.issues.map(({ path, message }) => ({ field: path.map(String).join('.'), message }));
  if (!parsed.success || issues.length > 0)
    throw new ProblemException(
      400,
      'invalid',
      'Something in this course is not right.',
      `${issues[0]!.field}: ${issues[0]!.message}`,
      issues.slice(0, 20),
    );
  return parsed.data;
}
