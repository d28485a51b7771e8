import type { Role } from '@ypsigraph/contract/vocabulary';
import { key, maybeMoment, type Row, table, text, uuidOrNew } from '../database/table.ts';

export const PEOPLE = table('people', {
  id: key(uuidOrNew()),
  name: text(),
  email: text(),
  role: text<Role>(),
  passwordHash: text(),
  archivedAt: maybeMoment(),
  /** Whose files and words were deleted after they had left. */
  forgottenAt: maybeMoment(),
});
export type PersonModel = Row<typeof PEOPLE>;
