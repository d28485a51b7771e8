import type { Transaction } from 'sequelize';
import type { Database } from '../database/database.module.ts';

/** The sound that a version of a brief has with every motion that is handed in on it, where it has one. */
export async function soundOfBrief(
  database: Database,
  brief: string,
  transaction: Transaction,
): Promise<{ sha256: string; fileName: string } | undefined> {
  const [row] = await database.select<{ sha256: string; fileName: string }>(
    'SELECT file_sha256 AS sha256, file_name AS "fileName" FROM brief_files WHERE brief_id = $1 AND is_heard',
    [brief],
    transaction,
  );
  return row;
}
