import { Injectable } from '@nestjs/common';
import type { Transaction } from 'sequelize';
import type { Brief } from '@ypsigraph/contract/briefs';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { StoredReport } from '@ypsigraph/contract/shots';
import type { Stage } from '@ypsigraph/contract/vocabulary';
import { judgeShot } from '@ypsigraph/core/gauge/findings';
import { verdicts } from '@ypsigraph/core/gauge/gauge';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { BRIEF_OBJECT } from '../briefs/brief.queries.ts';
import { Database } from '../database/database.module.ts';

/** Findings that are kept of one revision: the heaviest. */
const MOST_FINDINGS = 60;
/** Revisions that are judged in one go where it was not done when they were read. */
const AT_ONCE = 25;

/** What the gauges of its brief say of each revision, kept with its readings: folio and tally count it and judge nothing anew. */
@Injectable()
export class VerdictKeeper {
  constructor(private readonly database: Database) {}

  /** Judges what was measured of a revision by the brief its shot was begun with, in the stage it was handed in for. */
  async keep(revision: string, report: StoredReport, transaction: Transaction): Promise<void> {
    const [row] = await this.database.select<{ brief: Brief; stage: Stage }>(
      `SELECT ${BRIEF_OBJECT} AS brief, r.stage FROM revisions r JOIN shots s ON s.id = r.shot_id JOIN briefs b ON b.id = s.brief_id
        WHERE r.id = $1`,
      [revision],
      transaction,
    );
    if (!row) return;
    const gauges = gaugesOf(row.brief);
    const { findings, unjudged } = judgeShot(gauges, report, row.stage);
    const told = verdicts(gauges, report, row.stage);
    // A gauge on several parts, or on several moves, is as its worst.
    const worst = new Map<object, number>();
    const rank = { unmade: -1, inside: 0, near: 1, outside: 2 } as const;
    for (const { gauge, judgement, reading } of told) {
      const same = (own: typeof gauge): boolean =>
        own.reading === gauge.reading && own.part === gauge.part && own.of === gauge.of && own.over === gauge.over;
      const key = gauges.find(same) ?? gauge;
      if (reading && judgement !== 'unmade') worst.set(key, Math.max(worst.get(key) ?? 0, rank[judgement]));
    }
    const count = (at: number): number => [...worst.values()].filter((own) => own === at).length;
    await this.database.run(
      `INSERT INTO verdicts (revision_id, core_version, inside, near, outside, unjudged) VALUES ($1, $2, $3, $4, $5, $6)
       ON CONFLICT (revision_id) DO UPDATE SET core_version = excluded.core_version, inside = excluded.inside, near = excluded.near,
         outside = excluded.outside, unjudged = excluded.unjudged, at = now()`,
      [revision, CORE_VERSION, count(0), count(1), count(2), unjudged.length],
      transaction,
    );
    await this.database.run('DELETE FROM findings WHERE revision_id = $1', [revision], transaction);
    const rows = findings.slice(0, MOST_FINDINGS).map(({ reading, judgement, distance, say }, at) => ({
      rank: at,
      reading: reading.id,
      part: reading.part ?? null,
      judgement,
      distance,
      say,
    }));
    await this.database.run(
      `INSERT INTO findings (revision_id, rank, reading, part, judgement, distance, say)
       SELECT $1, x.rank, x.reading, x.part, x.judgement, x.distance, x.say
         FROM jsonb_to_recordset($2::jsonb) AS x (rank integer, reading text, part text, judgement text, distance double precision, say text)`,
      [revision, JSON.stringify(rows)],
      transaction,
    );
  }

  /** Judges some of what was measured and not judged yet: readings from before verdicts were kept. */
  async catchUp(): Promise<number> {
    const open = await this.database.select<{ id: string }>(
      `SELECT d.revision_id AS id FROM readings d JOIN revisions r ON r.id = d.revision_id AND r.reading_state = 'read'
         LEFT JOIN verdicts v ON v.revision_id = d.revision_id AND v.core_version = d.core_version
        WHERE d.core_version = $1 AND v.revision_id IS NULL LIMIT ${AT_ONCE}`,
      [CORE_VERSION],
    );
    for (const { id } of open)
      await this.database.transaction(async (transaction) => {
        const [row] = await this.database.select<{ report: StoredReport }>(
          'SELECT report FROM readings WHERE revision_id = $1 AND core_version = $2',
          [id, CORE_VERSION],
          transaction,
        );
        if (row) await this.keep(id, row.report, transaction);
      });
    return open.length;
  }
}
