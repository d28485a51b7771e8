import { randomUUID } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import type { Practice } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { SHELF } from '@ypsigraph/contract/shelf';
import { NO_PASSWORD } from '../people/no-password.ts';
import { Database } from '../database/database.module.ts';
import { FileStore } from '../files/file-store.ts';

/** What is wrong with the practice shot: each planted foot slides, and one frame of the right hand is off its arc. */
export const PRACTICE_FAULTS = Object.freeze({ slide: 6, pop: 26 });
const STUDENT = 'Practice student';
const TITLE = 'A practice walk';

/**
 * A shot for an instructor to try the whole review on before the first student comes. It is a course of its own that nobody else belongs to, and is in
 * no list but the docket; deleted, nothing of it is left.
 */
@Injectable()
export class PracticeService {
  constructor(
    private readonly database: Database,
    private readonly files: FileStore,
  ) {}

  async find({ id }: Person, transaction?: Transaction): Promise<Practice> {
    const [row] = await this.database.select<{ shot: string }>(
      `SELECT s.id AS shot FROM cohorts c JOIN assignments a ON a.cohort_id = c.id JOIN shots s ON s.assignment_id = a.id
        WHERE c.practice_of = $1`,
      [id],
      transaction,
    );
    return { shot: row?.shot ?? null };
  }

  /** Makes it; where there is one already that is the answer. */
  async make(person: Person): Promise<Practice> {
    return this.database.transaction(async (transaction) => {
      await this.hold(person, transaction);
      const known = await this.find(person, transaction);
      if (known.shot !== null) return known;
      const {
        Assignment,
        Brief,
        Cohort,
        Enrolment,
        File,
        Person: People,
        Revision,
        RevisionEvent,
        Shot,
      } = this.database.models;
      const student = await People.create(
        {
          name: STUDENT,
          email: `practice-${randomUUID()}@practice.invalid`,
          role: 'student',
          passwordHash: NO_PASSWORD,
        },
        { transaction },
      );
      const name = `Practice of ${person.name}`;
      const taken = (await Cohort.count({ where: { name }, transaction })) > 0;
      const cohort = await Cohort.create({ name: taken ? `${name} ${student.id.slice(0, 8)}` : name }, { transaction });
      await this.database.run('UPDATE cohorts SET practice_of = $2 WHERE id = $1', [cohort.id, person.id], transaction);
      for (const { id, role } of [person, student])
        await Enrolment.create({ personId: id, cohortId: cohort.id, role }, { transaction });
      const [brief] = await Brief.findOrCreate({
        where: { title: TITLE, version: 1 },
        // In no list of briefs: it is put away from the beginning.
        defaults: { ...SHELF[0]!, title: TITLE, archivedAt: new Date() },
        transaction,
      });
      const assignment = await Assignment.create(
        { briefId: brief.id, cohortId: cohort.id, dueAt: new Date(Date.now() + WEEK_MS), createdBy: person.id },
        { transaction },
      );
      const shot = await Shot.create(
        { assignmentId: assignment.id, studentId: student.id, briefId: brief.id },
        { transaction },
      );
      const file = await this.files.put(new TextEncoder().encode(writeBvh(walkExemplar({}, PRACTICE_FAULTS))));
      await File.findOrCreate({ where: { sha256: file.sha256 }, defaults: file, transaction });
      const revision = await Revision.create(
        {
          shotId: shot.id,
          number: 1,
          stage: 'smoothing',
          fileSha256: file.sha256,
          fileName: 'practice-walk.bvh',
          loop: 'repeat',
          note: 'Two things are wrong with this walk. Find them, mark them, and send it back.',
        },
        { transaction },
      );
      await RevisionEvent.create({ revisionId: revision.id, authorId: student.id, what: 'handed in' }, { transaction });
      return { shot: shot.id };
    });
  }

  /** Deletes it with everything that was done on it. */
  async drop(person: Person): Promise<Practice> {
    await this.database.transaction(async (transaction) => {
      await this.hold(person, transaction);
      const students = await this.database.select<{ id: string }>(
        `SELECT person_id AS id FROM enrolments WHERE cohort_id = ${COHORT} AND role = 'student'`,
        [person.id],
        transaction,
      );
      for (const statement of OF_COURSE) await this.database.run(statement, [person.id], transaction);
      for (const statement of OF_STUDENTS)
        await this.database.run(statement, [students.map(({ id }) => id)], transaction);
      await this.database.run(WITHOUT_USE, [TITLE], transaction);
    });
    return { shot: null };
  }

  /** Two requests of one person wait for each other. */
  private hold({ id }: Person, transaction: Transaction): Promise<void> {
    return this.database.run('SELECT 1 FROM people WHERE id = $1 FOR NO KEY UPDATE', [id], transaction);
  }
}

const WEEK_MS = 7 * 24 * 60 * 60 * 1000;

const COHORT = '(SELECT id FROM cohorts WHERE practice_of = $1)';
const SET = `(SELECT id FROM assignments WHERE cohort_id = ${COHORT})`;
const SHOTS = `(SELECT id FROM shots WHERE assignment_id IN ${SET})`;
const REVISIONS = `(SELECT id FROM revisions WHERE shot_id IN ${SHOTS})`;
const MARKS = `(SELECT id FROM marks WHERE revision_id IN ${REVISIONS})`;

/** What is deleted of the course ($1: whose it is). What points to something goes before it. */
const OF_COURSE: readonly string[] = [
  ...['replies', 'mark_events', 'mark_places'].map((table) => `DELETE FROM ${table} WHERE mark_id IN ${MARKS}`),
  `DELETE FROM alignments WHERE from_revision IN ${REVISIONS} OR to_revision IN ${REVISIONS}`,
  ...['marks', 'readings', 'verdicts', 'tracks', 'clips_beside', 'revision_events'].map(
    (table) => `DELETE FROM ${table} WHERE revision_id IN ${REVISIONS}`,
  ),
  ...['dismissals', 'grades', 'grade_events', 'showing_events', 'showings', 'demonstrations', 'revisions'].map(
    (table) => `DELETE FROM ${table} WHERE shot_id IN ${SHOTS}`,
  ),
  ...['shots', 'stage_dates', 'later_dates', 'drills_begun', 'assignment_events'].map(
    (table) => `DELETE FROM ${table} WHERE assignment_id IN ${SET}`,
  ),
  ...['assignments', 'outbox', 'enrolments'].map((table) => `DELETE FROM ${table} WHERE cohort_id = ${COHORT}`),
  'DELETE FROM cohorts WHERE practice_of = $1',
];

/** And of its students ($1). */
const OF_STUDENTS: readonly string[] = [
  'DELETE FROM reading_turns WHERE person_id = ANY ($1::uuid[])',
  'DELETE FROM people WHERE id = ANY ($1::uuid[])',
];

/** The brief ($1: its title), once nobody practises on it. */
const WITHOUT_USE = `DELETE FROM briefs b WHERE b.title = $1 AND b.archived_at IS NOT NULL
  AND NOT EXISTS (SELECT 1 FROM assignments a WHERE a.brief_id = b.id) AND NOT EXISTS (SELECT 1 FROM shots s WHERE s.brief_id = b.id)`;
