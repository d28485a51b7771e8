import { Injectable } from '@nestjs/common';
import { UniqueConstraintError } from 'sequelize';
import { z } from 'zod';
import { NewCohort } from '@ypsigraph/contract/courses';
import { KindOfExercise, LoopChoice, plain, Role } from '@ypsigraph/contract/vocabulary';
import { NO_PASSWORD } from '../people/no-password.ts';
import { Database } from '../database/database.module.ts';
import type { CohortModel } from '../courses/course.models.ts';
import type { PersonModel } from '../people/person.model.ts';
import { ForgettingService } from '../people/forgetting.service.ts';
import { SessionService } from '../people/session.service.ts';

/** Something that can't be done, in words for who asked for it. */
export class AdminError extends Error {
  constructor(
    message: string,
    /** Whether it was asked for wrongly. */
    readonly usage = false,
  ) {
    super(message);
  }
}

const NewPerson = z.object({
  name: plain(120).trim().min(1, 'a name is needed'),
  email: z.email('an e-mail address is needed').max(200),
  role: Role,
});
const NewBrief = z.object({
  title: plain(200).trim().min(1, 'a title is needed'),
  kind: KindOfExercise,
  text: plain(8000).default(''),
  fps: z.coerce.number().min(1).max(1000).default(24),
  frames: z.coerce.number().int().min(1).nullable().default(null),
  loop: LoopChoice.default('auto'),
});

/** Cohorts and people of a real school, as whoever runs the server sets them up. Each answers with a line to print. */
@Injectable()
export class School {
  constructor(
    private readonly database: Database,
    private readonly sessions: SessionService,
    private readonly forgetting: ForgettingService,
  ) {}

  /** @param timeZone the zone its dates are meant in; UTC where it is left out, which is said */
  async addCohort(name: string, term: string, timeZone: string | undefined): Promise<string> {
    const cohort = checked(NewCohort, { name, timeZone: timeZone ?? 'UTC' });
    await told(this.database.models.Cohort.create({ ...cohort, term }), `there is a cohort “${name}” already`);
    const zone = timeZone ?? 'UTC, since no --time-zone was given; it can be changed on its page';
    return `cohort “${cohort.name}” added; its dates are meant in ${zone}`;
  }

  async addPerson(
    name: string,
    email: string,
    role: string | undefined,
    cohorts: readonly string[],
    address: string,
  ): Promise<string> {
    const values = checked(NewPerson, { name, email, role });
    const known = await Promise.all(cohorts.map((cohort) => this.cohort(cohort)));
    const { Person, Enrolment } = this.database.models;
    const person = await told(
      this.database.transaction(async (transaction) => {
        const made = await Person.create({ ...values, passwordHash: NO_PASSWORD }, { transaction });
        for (const { id } of known)
          await Enrolment.create({ personId: made.id, cohortId: id, role: values.role }, { transaction });
        return made;
      }),
      `somebody has the address ${email} already`,
    );
    return `${values.role} ${person.name} added; send them this, it holds for two weeks:\n${await this.invitation(person, address)}`;
  }

  async enrol(email: string, name: string): Promise<string> {
    const [person, cohort] = [await this.person(email), await this.cohort(name)];
    await told(
      this.database.models.Enrolment.create({ personId: person.id, cohortId: cohort.id, role: person.role }),
      `${person.name} is in “${name}” already`,
    );
    return `${person.name} is in “${name}” as ${person.role}`;
  }

  async invite(email: string, address: string): Promise<string> {
    return this.invitation(await this.person(email), address);
  }

  async archive(email: string, out: boolean): Promise<string> {
    const person = await this.person(email);
    await person.update({ archivedAt: out ? new Date() : null });
    if (out) await this.database.run(`DELETE FROM sessions WHERE sess ->> 'personId' = $1`, [person.id]);
    return out
      ? `${person.name} can’t sign in any more; nothing of theirs is lost`
      : `${person.name} can sign in again`;
  }

  /** Deletes the files and words of a student who has been taken out. */
  async forget(email: string): Promise<string> {
    const { id, name, role, archivedAt } = await this.person(email);
    if (role !== 'student') throw new AdminError(`${name} teaches: only students are forgotten`);
    if (!archivedAt) throw new AdminError(`${name} can sign in: take them out first (archive ${email})`);
    await this.forgetting.forget(id);
    return `the files and words of ${name} are deleted; what is counted stays. Files leave the store within an hour, backups keep what they have`;
  }

  async dropSecondFactor(email: string): Promise<string> {
    const person = await this.person(email);
    const dropped = await this.database.select('DELETE FROM second_factors WHERE person_id = $1 RETURNING 1', [
      person.id,
    ]);
    return dropped.length > 0
      ? `${person.name} signs in with the password alone`
      : `${person.name} has no second factor`;
  }

  async addBrief(title: string, values: Readonly<Record<string, unknown>>): Promise<string> {
    const brief = checked(NewBrief, { ...values, title });
    await told(this.database.models.Brief.create(brief), `there is a brief “${title}” already`);
    return `brief “${brief.title}” added; set it for a cohort from the ledger`;
  }

  async list(): Promise<string> {
    const rows = await this.database.select<{
      cohort: string | null;
      name: string;
      email: string;
      role: string;
      state: string;
    }>(
      `SELECT c.name AS cohort, p.name, p.email, p.role,
              CASE WHEN p.archived_at IS NOT NULL THEN 'archived' WHEN p.password_hash = $1 THEN 'invited' ELSE '' END AS state
         FROM people p LEFT JOIN enrolments e ON e.person_id = p.id LEFT JOIN cohorts c ON c.id = e.cohort_id
        ORDER BY c.name NULLS FIRST, array_position(ARRAY['instructor', 'assistant', 'student'], p.role), p.name`,
      [NO_PASSWORD],
    );
    if (rows.length === 0) return 'nobody yet: add-cohort, then add-person';
    return rows
      .map(({ cohort, name, email, role, state }) =>
        [cohort ?? '(no cohort)', role, name, email, state].join('\t').trimEnd(),
      )
      .join('\n');
  }

  private async invitation(person: PersonModel, address: string): Promise<string> {
    return `${address.replace(/\/+$/, '')}/invitation/${await this.sessions.invite(person.id)}`;
  }

  private async person(email: string): Promise<PersonModel> {
    const [row] = await this.database.select<{ id: string }>('SELECT id FROM people WHERE lower(email) = lower($1)', [
      email,
    ]);
    if (!row) throw new AdminError(`nobody has the address ${email}`);
    return (await this.database.models.Person.findByPk(row.id))!;
  }

  private async cohort(name: string): Promise<CohortModel> {
    const cohort = await this.database.models.Cohort.findOne({ where: { name } });
    if (!cohort) throw new AdminError(`there is no cohort “${name}”`);
    return cohort;
  }
}

/** What is already there is said in words. */
async function told<T>(work: Promise<T>, already: string): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw new AdminError(already);
    throw error;
  }
}

function checked<T>(schema: z.ZodType<T>, values: unknown): T {
  const result = schema.safeParse(values);
  if (result.success) return result.data;
  throw new AdminError(
    result.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join('\n'),
    true,
  );
}
