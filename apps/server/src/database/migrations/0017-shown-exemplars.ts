import type { Migration } from '../migration.ts';

/** Exemplars with a fault that are shown to a cohort: nobody's shot. */
export const shownExemplars: Migration = {
  name: '0017-shown-exemplars',
  up: `
    CREATE TABLE shown_exemplars (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      cohort_id uuid NOT NULL REFERENCES cohorts (id),
      exemplar text NOT NULL,
      fault text NOT NULL,
      size float8 NOT NULL CHECK (size > 0),
      words text NOT NULL,
      shown_by uuid NOT NULL REFERENCES people (id),
      shown_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX shown_exemplars_cohort ON shown_exemplars (cohort_id, shown_at DESC);
  `,
  down: `
    DROP TABLE shown_exemplars;
  `,
};
