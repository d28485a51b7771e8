import { Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import type { Person } from '@ypsigraph/contract/people';
import type { MarkChange, MarkVerdict, NewMark, NewReply } from '@ypsigraph/contract/shots';
import { Database } from '../database/database.module.ts';
import { MarkEventModel, MarkModel, ReplyModel } from '../database/models.ts';
import { conflict, notAllowed, ProblemException } from '../http/problem.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';

@Injectable()
export class MarkService {
  constructor(
    private readonly database: Database,
    private readonly policy: ShotPolicy,
  ) {}

  /** Makes a mark. The page gives it its id, so that a request that is sent again after a lost answer makes no second one. */
  async make(person: Person, revisionId: string, { key, from, to, ...rest }: NewMark): Promise<MarkModel> {
    const revision = await this.policy.revision(person, revisionId);
    const there = await MarkModel.findByPk(key);
    if (there) {
      if (there.revisionId !== revisionId || there.authorId !== person.id)
        throw conflict('This mark belongs to something else.');
      return there;
    }
    if (revision.state === 'withdrawn') throw conflict('This revision was withdrawn.');
    return this.database.transaction(async (transaction) => {
      const judged = revision.judgedAt ? new Date() : null;
      const mark = await MarkModel.create(
        { id: key, revisionId, authorId: person.id, fromFrame: from, toFrame: to, ...rest, sentAt: judged },
        { transaction },
      );
      await this.record(
        mark,
        person,
        'made',
        { kind: rest.kind, from, to, joint: rest.joint, words: rest.words },
        transaction,
      );
      return mark;
    });
  }

  /** Changes what a mark says, while it has not been sent. */
  async change(person: Person, id: string, change: MarkChange): Promise<void> {
    const mark = await this.policy.mark(person, id);
    if (mark.sentAt) throw conflict('The student has this mark already.', 'Answer it, or clear it and make another.');
    const from = change.from ?? mark.fromFrame;
    const to = change.to ?? mark.toFrame;
    if (from > to) throw new ProblemException(400, 'invalid', 'The last frame comes before the first.');
    await this.database.transaction(async (transaction) => {
      mark.set({ fromFrame: from, toFrame: to });
      if (change.kind !== undefined) mark.kind = change.kind;
      if (change.joint !== undefined) mark.joint = change.joint;
      if (change.words !== undefined) mark.words = change.words;
      await mark.save({ transaction });
      await this.record(mark, person, 'changed', { ...change }, transaction);
    });
  }

  /** Takes a mark away that has not been sent; what was sent is cleared or waived instead. */
  async archive(person: Person, id: string): Promise<void> {
    const mark = await this.policy.mark(person, id);
    if (mark.sentAt) throw conflict('The student has this mark already.', 'Clear or waive it instead.');
    await this.database.transaction(async (transaction) => {
      await mark.update({ archivedAt: new Date() }, { transaction });
      await this.record(mark, person, 'archived', {}, transaction);
    });
  }

  async judge(person: Person, id: string, { state }: MarkVerdict): Promise<void> {
    const mark = await this.policy.mark(person, id);
    if (mark.state === state) return;
    await this.database.transaction(async (transaction) => {
      const from = mark.state;
      await mark.update({ state }, { transaction });
      await this.record(mark, person, state, { from }, transaction);
    });
  }

  /** Adds an answer; an open mark its student answers becomes answered. */
  async answer(person: Person, id: string, { key, words }: NewReply): Promise<void> {
    const mark = await this.policy.mark(person, id);
    const there = await ReplyModel.findByPk(key);
    if (there) {
      if (there.markId !== id || there.authorId !== person.id) throw notAllowed('This answer belongs to someone else.');
      return;
    }
    await this.database.transaction(async (transaction) => {
      await ReplyModel.create({ id: key, markId: id, authorId: person.id, words }, { transaction });
      if (person.role === 'student' && mark.state === 'open') {
        await mark.update({ state: 'answered' }, { transaction });
        await this.record(mark, person, 'answered', {}, transaction);
      }
    });
  }

  private async record(
    mark: MarkModel,
    person: Person,
    what: string,
    data: Record<string, unknown>,
    transaction: Transaction,
  ): Promise<void> {
    await MarkEventModel.create({ markId: mark.id, authorId: person.id, what, data }, { transaction });
  }
}
