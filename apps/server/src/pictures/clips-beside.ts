import type { Transaction } from 'sequelize';
import type { ClipPlace } from '@ypsigraph/contract/shots';
import type { Database } from '../database/database.module.ts';

/** The clip that came with a motion. */
export async function clipBeside(
  database: Database,
  revisionId: string,
): Promise<{ sha256: string; fileName: string } | undefined> {
  const [row] = await database.select<{ sha256: string; fileName: string }>(
    'SELECT file_sha256 AS sha256, file_name AS "fileName" FROM clips_beside WHERE revision_id = $1',
    [revisionId],
  );
  return row;
}

/** Puts a clip, whose file is there, beside a motion's revision. */
export const storeClipBeside = (
  database: Database,
  revisionId: string,
  clip: {
    readonly sha256: string;
    readonly fileName: string;
    readonly firstLabel: number;
    readonly upload: string | undefined;
  },
  transaction: Transaction,
): Promise<void> =>
  database.run(
    'INSERT INTO clips_beside (revision_id, file_sha256, file_name, first_label, upload) VALUES ($1, $2, $3, $4, $5)',
    [revisionId, clip.sha256, clip.fileName, clip.firstLabel, clip.upload ?? null],
    transaction,
  );

/** Says where a clip lies. @returns whether there is one */
export async function placeClipBeside(
  database: Database,
  revisionId: string,
  { firstLabel, under }: ClipPlace,
  transaction: Transaction,
): Promise<boolean> {
  const rows = await database.select(
    'UPDATE clips_beside SET first_label = $2, under = $3::jsonb WHERE revision_id = $1 RETURNING 1',
    [revisionId, firstLabel, under && JSON.stringify(under)],
    transaction,
  );
  return rows.length > 0;
}

/** Takes the clip of a motion along whose frames are called otherwise now: it stays beside the frames it lay beside. */
export const moveClipBeside = (
  database: Database,
  revisionId: string,
  by: number,
  transaction: Transaction,
): Promise<void> =>
  database.run(
    'UPDATE clips_beside SET first_label = first_label + $2 WHERE revision_id = $1',
    [revisionId, by],
    transaction,
  );

/** A clip that could not be read is tried again. */
export const retryClipBeside = (database: Database, revisionId: string, transaction: Transaction): Promise<void> =>
  database.run(
    `UPDATE clips_beside SET refused = NULL, done_at = NULL, tries = 0, not_before = now()
      WHERE revision_id = $1 AND refused IS NOT NULL`,
    [revisionId],
    transaction,
  );
