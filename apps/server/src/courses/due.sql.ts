/** Joins the later date a student `student` of an assignment `a` was given, as `l`. */
export const joinLater = (student: string): string =>
  `LEFT JOIN later_dates l ON l.assignment_id = a.id AND l.person_id = ${student}`;

/** When an assignment `a` is due for a student with the later date `l`. */
export const DUE = 'coalesce(l.due_at, a.due_at)';

/**
 * When a stage `sd` of an assignment `a` is due: later by as much as the student's own date is, by the clock on the wall of cohort `c`. So six in the
 * evening stays six in the evening across a change of the clocks.
 */
export const STAGE_DUE = `
  CASE WHEN l.due_at IS NULL THEN sd.due_at ELSE
    ((sd.due_at AT TIME ZONE c.time_zone) + ((l.due_at AT TIME ZONE c.time_zone) - (a.due_at AT TIME ZONE c.time_zone)))
      AT TIME ZONE c.time_zone END`;

/** The date that counts for a revision: its stage's where that has one, else the exercise's. */
export const DUE_OF_REVISION = `coalesce(${STAGE_DUE}, ${DUE})`;
