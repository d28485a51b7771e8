import { Injectable } from '@nestjs/common';
import type { Carried, MarkPlacing } from '@ypsigraph/contract/alignments';
import type { Person } from '@ypsigraph/contract/people';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { Database } from '../database/database.module.ts';
import { conflict } from '../http/problem.ts';
import { ShotPolicy } from '../shots/shot.policy.ts';

/** Earlier revisions that are aligned with one, the latest of them. */
const MOST_EARLIER = 12;

/** How the frames of a shot's revisions belong together: asked for here, made by whoever reads shots, and kept. */
@Injectable()
export class AlignmentService {
  constructor(
    private readonly database: Database,
    private readonly policy: ShotPolicy,
  ) {}

  /**
   * Where earlier revisions' frames are in a revision. What is not known yet, or was made of files that have been corrected since, is asked for;
   * the page is told when it is there.
   */
  async carried(id: string): Promise<Carried> {
    await this.database.run(
      `INSERT INTO alignments (from_revision, to_revision, made_of)
       SELECT e.id, r.id, $2 || '.' || e.settings_version || '.' || r.settings_version
         FROM revisions r JOIN revisions e ON e.shot_id = r.shot_id AND e.number < r.number AND e.state <> 'withdrawn'
        WHERE r.id = $1 AND r.reading_state = 'read' AND e.reading_state = 'read'
        ORDER BY e.number DESC LIMIT ${MOST_EARLIER}
       ON CONFLICT (to_revision, from_revision) DO UPDATE
         SET made_of = excluded.made_of, outcome = NULL, tries = 0, claimed_at = NULL
       WHERE alignments.made_of <> excluded.made_of`,
      [id, CORE_VERSION],
    );
    const from = await this.database.select<Carried['from'][number]>(
      `SELECT a.from_revision AS revision, a.outcome FROM alignments a JOIN revisions e ON e.id = a.from_revision
        WHERE a.to_revision = $1 AND e.state <> 'withdrawn' ORDER BY e.number`,
      [id],
    );
    const places = await this.database.select<Carried['places'][number]>(
      `SELECT m.mark_id AS mark, m.from_frame AS "from", m.to_frame AS "to", p.name AS author
         FROM mark_places m JOIN people p ON p.id = m.author_id WHERE m.revision_id = $1 ORDER BY m.mark_id`,
      [id],
    );
    return { from, places };
  }

  /**
   * Puts right where a mark lies in a later revision, or takes that back.
   * @throws ProblemException where it is no later revision of the mark's own shot
   */
  async place(person: Person, id: string, { revision, place }: MarkPlacing): Promise<Carried> {
    await this.database.transaction(async (transaction) => {
      const mark = await this.policy.mark(person, id, { transaction, mark: 'change' });
      const [later] = await this.database.select(
        `SELECT 1 FROM revisions own JOIN revisions later ON later.shot_id = own.shot_id AND later.number > own.number
          WHERE own.id = $1 AND later.id = $2`,
        [mark.revisionId, revision],
        transaction,
      );
      if (!later) throw conflict('This is no later revision of the mark’s own shot.');
      if (place === null)
        await this.database.run(
          'DELETE FROM mark_places WHERE revision_id = $1 AND mark_id = $2',
          [revision, id],
          transaction,
        );
      else
        await this.database.run(
          `INSERT INTO mark_places (mark_id, revision_id, from_frame, to_frame, author_id) VALUES ($1, $2, $3, $4, $5)
           ON CONFLICT (revision_id, mark_id) DO UPDATE
             SET from_frame = excluded.from_frame, to_frame = excluded.to_frame, author_id = excluded.author_id, at = now()`,
          [id, revision, place.from, place.to, person.id],
          transaction,
        );
      await this.database.models.MarkEvent.create(
        { markId: id, authorId: person.id, what: 'placed', data: { revision, place } },
        { transaction },
      );
    });
    return this.carried(revision);
  }
}
