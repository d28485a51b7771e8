import { key, maybeUuid, type Row, table, uuid, uuidOrNew } from '../database/table.ts';

export const SHOTS = table('shots', {
  id: key(uuidOrNew()),
  assignmentId: uuid(),
  studentId: uuid(),
  /** The version of the brief it was begun with; the database sees to it. */
  briefId: uuid(),
  /** Of what a teacher made for one shot alone: that shot. */
  shownBeside: maybeUuid(),
});
export type ShotModel = Row<typeof SHOTS>;
