import { key, type Row, table, uuid, uuidOrNew } from '../database/table.ts';

export const SHOTS = table('shots', {
  id: key(uuidOrNew()),
  assignmentId: uuid(),
  studentId: uuid(),
  /** The version of the brief it was begun with; the database sees to it. */
  briefId: uuid(),
});
export type ShotModel = Row<typeof SHOTS>;
