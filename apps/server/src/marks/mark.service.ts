import { Injectable } from '@nestjs/common';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import type { Person } from '@ypsigraph/contract/people';
import type { Mark, MarkChange, MarkEvent, MarkVerdict, MadeMark, NewReply } from '@ypsigraph/contract/marks';
import { Database } from '../database/database.module.ts';
import type { MarkModel } from './mark.models.ts';
import { conflict, notAllowed, ProblemException } from '../http/problem.ts';
import { type Hold, ShotPolicy } from '../shots/shot.policy.ts';
import { findMark } from '../shots/shot.queries.ts';

const invalid = (field: string, message: string): ProblemException =>
  new ProblemException(400, 'invalid', `${message[0]!.toUpperCase()}${message.slice(1)}.`, undefined, [
    { field, message },
  ]);

/** Every change holds its mark, and the revision where that may be sent back meanwhile, and is one event. */
@Injectable()
export class MarkService {
  constructor(
    private readonly database: Database,
    private readonly policy: ShotPolicy,
  ) {}

  /** Makes a mark. The page gives it its id, so that a request that is sent again after a lost answer makes no second one. */
  async make(person: Person, revisionId: string, { key, from, to, stage, ...rest }: MadeMark): Promise<Mark> {
    try {
      return await this.database.transaction(async (transaction) => {
        // While it is sent back no mark is made that would stay behind.
        const revision = await this.policy.revision(person, revisionId, { transaction, revision: 'keep' });
        const there = await this.database.models.Mark.findByPk(key, { transaction });
        if (!there) {
          if (revision.state === 'withdrawn') throw conflict('This revision was withdrawn.');
          const sentAt = revision.judgedAt ? new Date() : null;
          const values = { ...rest, stage: stage ?? revision.stage, fromFrame: from, toFrame: to, sentAt };
          await this.database.models.Mark.create(
            { id: key, revisionId, authorId: person.id, ...values },
            { transaction },
          );
          await this.record(key, person, 'made', { ...rest, from, to, stage: values.stage }, transaction);
        } else if (there.revisionId !== revisionId || there.authorId !== person.id) {
          throw conflict('This mark belongs to something else.');
        }
        return findMark(this.database, key, transaction);
      });
    } catch (error) {
      // The same request came twice at once, and the other was first: it is there now.
      if (error instanceof UniqueConstraintError)
        return this.make(person, revisionId, { key, from, to, stage, ...rest });
      throw error;
    }
  }

  /** Changes what a mark says, while it has not been sent. */
  change(person: Person, id: string, change: MarkChange): Promise<Mark> {
    return this.held(person, id, { revision: 'keep' }, async (mark, transaction) => {
      if (mark.sentAt) throw conflict('The student has this mark already.', 'Answer it, or clear it and make another.');
      const { version, from = mark.fromFrame, to = mark.toFrame, ...rest } = change;
      if (version !== undefined && version !== mark.version)
        throw conflict(
          'This mark was changed meanwhile.',
          `It says now: ${mark.kind}, ${mark.fromFrame} to ${mark.toFrame}: ${mark.words}`,
        );
      if (from > to) throw invalid('to', 'the last frame comes before the first');
      const kind = rest.kind ?? mark.kind;
      const payload = rest.payload === undefined ? mark.payload : rest.payload;
      // Numbers of one kind say nothing about another.
      if (rest.payload && rest.payload.kind !== kind)
        throw invalid('payload', 'the numbers are of another kind of mark');
      mark.set({
        ...rest,
        payload: payload?.kind === kind ? payload : null,
        fromFrame: from,
        toFrame: to,
        version: mark.version + 1,
      });
      await mark.save({ transaction });
      await this.record(id, person, 'changed', { ...change }, transaction);
    });
  }

  /** Takes a mark away that has not been sent; what was sent is cleared or waived instead. */
  async archive(person: Person, id: string): Promise<void> {
    await this.database.transaction(async (transaction) => {
      const mark = await this.policy.mark(person, id, { transaction, revision: 'keep', mark: 'change' });
      if (mark.sentAt) throw conflict('The student has this mark already.', 'Clear or waive it instead.');
      await mark.update({ archivedAt: new Date() }, { transaction });
      await this.record(id, person, 'archived', {}, transaction);
    });
  }

  /** What has happened to a mark, in order. How it came to be is its reviewers' own: its student sees it from when it was sent. */
  async history(person: Person, id: string): Promise<MarkEvent[]> {
    await this.policy.mark(person, id);
    const events = await this.database.select<Omit<MarkEvent, 'at'> & { at: Date }>(
      `SELECT e.what, json_build_object('id', p.id, 'name', p.name) AS author, e.at
         FROM mark_events e JOIN people p ON p.id = e.author_id
        WHERE e.mark_id = $1
          AND (NOT $2 OR e.id >= (SELECT min(s.id) FROM mark_events s WHERE s.mark_id = $1 AND s.what = 'sent'))
        ORDER BY e.id`,
      [id, person.role === 'student'],
    );
    return events.map((event) => ({ ...event, at: event.at.toISOString() }));
  }

  judge(person: Person, id: string, { state }: MarkVerdict): Promise<Mark> {
    return this.held(person, id, {}, async (mark, transaction) => {
      if (mark.state === state) return;
      const from = mark.state;
      await mark.update({ state }, { transaction });
      await this.record(id, person, state, { from }, transaction);
    });
  }

  /** Adds an answer; an open mark its student answers becomes answered. */
  async answer(person: Person, id: string, { key, words }: NewReply): Promise<Mark> {
    try {
      return await this.held(person, id, {}, async (mark, transaction) => {
        const there = await this.database.models.Reply.findByPk(key, { transaction });
        if (there) {
          if (there.markId !== id || there.authorId !== person.id)
            throw notAllowed('This answer belongs to someone else.');
          return;
        }
        await this.database.models.Reply.create({ id: key, markId: id, authorId: person.id, words }, { transaction });
        if (person.role === 'student' && mark.state === 'open') {
          await mark.update({ state: 'answered' }, { transaction });
          await this.record(id, person, 'answered', {}, transaction);
        }
      });
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw notAllowed('This answer belongs to someone else.');
      throw error;
    }
  }

  /** Holds a mark, does something to it, and gives it as it then is. */
  private held(
    person: Person,
    id: string,
    hold: Omit<Hold, 'transaction'>,
    work: (mark: MarkModel, transaction: Transaction) => Promise<void>,
  ): Promise<Mark> {
    return this.database.transaction(async (transaction) => {
      await work(await this.policy.mark(person, id, { ...hold, mark: 'change', transaction }), transaction);
      return findMark(this.database, id, transaction);
    });
  }

  private async record(
    markId: string,
    person: Person,
    what: string,
    data: Record<string, unknown>,
    transaction: Transaction,
  ): Promise<void> {
    await this.database.models.MarkEvent.create({ markId, authorId: person.id, what, data }, { transaction });
  }
}
