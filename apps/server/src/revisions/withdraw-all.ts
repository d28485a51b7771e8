import type { Transaction } from 'sequelize';
import type { Person } from '@ypsigraph/contract/people';
import type { Database } from '../database/database.module.ts';
import type { RevisionModel } from './revision.models.ts';

/** Withdraws what stands of a shot, whatever became of it: nobody sees it any more, and nothing of it is lost. */
export async function withdrawAll(
  { models: { RevisionEvent } }: Database,
  revisions: readonly RevisionModel[],
  person: Pick<Person, 'id'>,
  transaction: Transaction,
): Promise<void> {
  for (const revision of revisions) {
    if (revision.state === 'withdrawn') continue;
    await revision.update({ state: 'withdrawn' }, { transaction });
    await RevisionEvent.create({ revisionId: revision.id, authorId: person.id, what: 'withdrawn' }, { transaction });
  }
}
