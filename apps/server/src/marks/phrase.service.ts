import { Injectable } from '@nestjs/common';
import type { z } from 'zod';
import type { Person } from '@ypsigraph/contract/people';
import type { NewPhrase, Phrase } from '@ypsigraph/contract/marks';
import { Database } from '../database/database.module.ts';
import type { PhraseModel } from './mark.models.ts';
import { conflict, notFound } from '../http/problem.ts';

/** Most phrases a person keeps: more than anyone reads through. */
const MOST = 500;

const toPhrase = ({ id, kind, reading, words }: PhraseModel): Phrase => ({ id, kind, reading, words });

/** Phrases belong to the person who keeps them, and are seen by nobody else. */
@Injectable()
export class PhraseService {
  constructor(private readonly database: Database) {}

  async list(person: Person): Promise<Phrase[]> {
    const rows = await this.database.models.Phrase.findAll({
      where: { personId: person.id, archivedAt: null },
      order: [['createdAt', 'DESC']],
      limit: MOST,
    });
    return rows.map(toPhrase);
  }

  /** Keeps a phrase; the same one sent twice is kept once. */
  async keep(person: Person, { key, ...rest }: z.output<typeof NewPhrase>): Promise<Phrase> {
    const { Phrase } = this.database.models;
    const kept = await Phrase.count({ where: { personId: person.id, archivedAt: null } });
    if (kept >= MOST) throw conflict(`You keep ${MOST} phrases already.`, 'Drop one you no longer use.');
    const [row] = await Phrase.findOrCreate({
      where: { id: key },
      defaults: { id: key, personId: person.id, ...rest },
    });
    if (row.personId !== person.id) throw conflict('This phrase belongs to someone else.');
    return toPhrase(row);
  }

  async drop(person: Person, id: string): Promise<void> {
    const row = await this.database.models.Phrase.findOne({ where: { id, personId: person.id } });
    if (!row) throw notFound('phrase');
    await row.update({ archivedAt: row.archivedAt ?? new Date() });
  }
}
