import type { Role } from '@ypsigraph/contract/vocabulary';
import { key, maybeMoment, moment, type Row, table, text, textOr, uuid, uuidOrNew } from '../database/table.ts';

export const COHORTS = table('cohorts', {
  id: key(uuidOrNew()),
  name: text(),
  term: textOr(''),
  /** IANA name of the zone its dates are meant in. */
  timeZone: textOr('UTC'),
});
export type CohortModel = Row<typeof COHORTS>;

export const ENROLMENTS = table('enrolments', {
  personId: key(uuid()),
  cohortId: key(uuid()),
  role: text<Role>(),
});

/** A brief that is set for a cohort. */
export const ASSIGNMENTS = table('assignments', {
  id: key(uuidOrNew()),
  briefId: uuid(),
  cohortId: uuid(),
  dueAt: moment(),
  closedAt: maybeMoment(),
  createdBy: uuid(),
});
export type AssignmentModel = Row<typeof ASSIGNMENTS>;
