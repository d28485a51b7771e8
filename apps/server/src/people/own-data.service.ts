import { Injectable } from '@nestjs/common';
import type { Response } from 'express';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import { ArchiveWriter, plainName } from '../files/archive-writer.ts';
import { FileStore } from '../files/file-store.ts';

/** A table of what the school keeps of somebody: `$1` is the person. What others have only drafted about them is not theirs yet. */
interface Kept {
  readonly name: string;
  readonly sql: string;
}

/** Shots of the person. */
const OWN_SHOTS = 'SELECT id FROM shots WHERE student_id = $1';

const KEPT: readonly Kept[] = [
  { name: 'person', sql: 'SELECT id, name, email, role, created_at, archived_at FROM people WHERE id = $1' },
  {
    name: 'accounts elsewhere',
    sql: 'SELECT issuer, subject, since FROM identities WHERE person_id = $1 ORDER BY since',
  },
  {
    name: 'second factor',
    sql: 'SELECT since FROM second_factors WHERE person_id = $1 AND since IS NOT NULL',
  },
  {
    name: 'cohorts',
    sql: `SELECT c.name, c.term, c.time_zone, e.role FROM enrolments e JOIN cohorts c ON c.id = e.cohort_id WHERE e.person_id = $1 ORDER BY c.name`,
  },
  {
    name: 'shots',
    sql: `SELECT s.id, b.title AS exercise, c.name AS cohort, s.created_at FROM shots s JOIN briefs b ON b.id = s.brief_id
            JOIN assignments a ON a.id = s.assignment_id JOIN cohorts c ON c.id = a.cohort_id WHERE s.student_id = $1 ORDER BY s.created_at`,
  },
  {
    name: 'revisions',
    sql: `SELECT r.id, r.shot_id, r.number, r.stage, r.state, r.file_name, r.media, r.note, r.first_frame, r.loop, r.roles, r.up, r.animation,
                 r.figure, r.handed_in_at, r.judged_at, CASE WHEN r.judged_at IS NULL THEN NULL ELSE r.words END AS words
            FROM revisions r WHERE r.shot_id IN (${OWN_SHOTS}) ORDER BY r.handed_in_at`,
  },
  {
    name: 'readings',
    sql: `SELECT d.revision_id, d.core_version, d.made_at, d.report FROM readings d JOIN revisions r ON r.id = d.revision_id
           WHERE r.shot_id IN (${OWN_SHOTS}) ORDER BY d.made_at`,
  },
  {
    name: 'points',
    sql: `SELECT t.revision_id, t.tracks, t.at FROM tracks t JOIN revisions r ON r.id = t.revision_id WHERE r.shot_id IN (${OWN_SHOTS}) ORDER BY t.at`,
  },
  {
    name: 'marks',
    sql: `SELECT m.id, m.revision_id, m.kind, m.from_frame, m.to_frame, m.point, m.part, m.words, m.payload, m.state, m.sent_at, p.name AS by
            FROM marks m JOIN people p ON p.id = m.author_id JOIN revisions r ON r.id = m.revision_id
           WHERE m.author_id = $1 OR (m.sent_at IS NOT NULL AND m.archived_at IS NULL AND r.shot_id IN (${OWN_SHOTS})) ORDER BY m.created_at`,
  },
  {
    name: 'replies',
    sql: `SELECT y.mark_id, y.words, y.at, p.name AS by FROM replies y JOIN people p ON p.id = y.author_id JOIN marks m ON m.id = y.mark_id
            JOIN revisions r ON r.id = m.revision_id
           WHERE y.author_id = $1 OR (m.sent_at IS NOT NULL AND r.shot_id IN (${OWN_SHOTS})) ORDER BY y.at`,
  },
  {
    name: 'grades',
    sql: `SELECT g.shot_id, g.line, g.points, g.words, g.at, p.name AS by FROM grades g JOIN people p ON p.id = g.author_id
           WHERE g.author_id = $1 OR (g.shot_id IN (${OWN_SHOTS})
             AND (SELECT n.judged_at FROM revisions n WHERE n.shot_id = g.shot_id AND n.state <> 'withdrawn' ORDER BY n.number DESC LIMIT 1) IS NOT NULL)
           ORDER BY g.at`,
  },
  {
    name: 'later dates',
    sql: `SELECT l.assignment_id, l.due_at, l.why FROM later_dates l WHERE l.person_id = $1 ORDER BY l.due_at`,
  },
  {
    name: 'shown to the class',
    sql: `SELECT w.shot_id, w.consent_at, w.shown_at, w.words FROM showings w WHERE w.shot_id IN (${OWN_SHOTS}) OR w.shown_by = $1`,
  },
  {
    name: 'exemplars shown to the class',
    sql: `SELECT x.cohort_id, x.exemplar, x.fault, x.size, x.words, x.shown_at FROM shown_exemplars x WHERE x.shown_by = $1 ORDER BY x.shown_at`,
  },
  {
    name: 'messages',
    sql: `SELECT o.about, o.subject, o.text, o.at FROM outbox o WHERE o.person_id = $1 ORDER BY o.at`,
  },
  {
    name: 'phrases',
    sql: 'SELECT kind, reading, words, created_at, archived_at FROM phrases WHERE person_id = $1 ORDER BY created_at',
  },
  {
    name: 'briefs',
    sql: `SELECT b.title, b.version, b.kind, b.text, b.fps, b.first_frame, b.loop, b.gauges, b.stages, b.rubric, b.plan, b.created_at
            FROM briefs b WHERE b.created_by = $1 ORDER BY b.created_at`,
  },
];

/** A file that somebody has handed in. */
interface HandedIn {
  readonly exercise: string;
  readonly number: number;
  readonly name: string;
  readonly sha256: string;
}

const FILES = `SELECT b.title AS exercise, r.number, f.name, f.sha256 FROM shots s JOIN briefs b ON b.id = s.brief_id
  JOIN revisions r ON r.shot_id = s.id
  JOIN LATERAL (SELECT r.file_name AS name, r.file_sha256 AS sha256
    UNION ALL SELECT c.file_name, c.file_sha256 FROM clips_beside c WHERE c.revision_id = r.id) f ON true
 WHERE s.student_id = $1 ORDER BY s.created_at, r.number, f.name`;

const ABOUT = `Everything that this school keeps of you.

Each .json file is a table: a list of rows. Frames are the labels that you see in your own program. What you handed in lies
in “files”, as you handed it in; .bvh, .glb and .json are open formats, and so is WebM. Passwords and addresses of sessions
are kept in no readable form, and are not here.
`;

/** Everything that the school keeps of a person, as one archive that is written while it is sent: no copy of it stays. */
@Injectable()
export class OwnDataService {
  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
  ) {}

  send(person: Person, response: Response): Promise<void> {
    return ArchiveWriter.send(response, this.files, 'everything.zip', async (archive) => {
      await archive.text('read me.txt', ABOUT);
      for (const { name, sql } of KEPT)
        await archive.json(`${name}.json`, await this.database.select(sql, [person.id]));
      const taken = new Set<string>();
      for (const file of await this.database.select<HandedIn>(FILES, [person.id]))
        await archive.file(placeFor(file, taken), file.sha256);
    });
  }
}

/** Where a file lies in the archive: by exercise and revision, each in a place of its own. */
function placeFor({ exercise, number, name }: HandedIn, taken: Set<string>): string {
  const base = `files/${plainName(exercise)}/R${number} ${plainName(name)}`;
  let place = base;
  for (let k = 2; taken.has(place); k++) place = `${base} (${k})`;
  taken.add(place);
  return place;
}
