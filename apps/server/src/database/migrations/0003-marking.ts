import type { Migration } from '../migration.ts';

/** Marks that measure: their numbers, weight, stage and pencil lines; findings put aside, phrases, key poses set by hand. */
export const marking: Migration = {
  name: '0003-marking',
  up: `
    ALTER TABLE marks RENAME COLUMN joint TO point;
    ALTER TABLE marks
      ADD part text,
      ADD weight text NOT NULL DEFAULT 'should' CHECK (weight IN ('must', 'should', 'nice')),
      ADD stage text CHECK (stage IN ('planning', 'blocking', 'breakdowns', 'smoothing', 'polish')),
      ADD payload jsonb,
      ADD lines jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(lines) = 'array'),
      ADD version integer NOT NULL DEFAULT 1,
      ADD CONSTRAINT marks_payload CHECK (
        payload IS NULL OR (
          jsonb_typeof(payload) = 'object' AND payload ->> 'kind' = kind AND payload ? 'core' AND payload ? 'measured' AND payload ? 'wanted'
          AND jsonb_typeof(payload -> 'measured') IN ('object', 'null') AND jsonb_typeof(payload -> 'wanted') IN ('object', 'null')
        ));
    UPDATE marks m SET stage = r.stage FROM revisions r WHERE r.id = m.revision_id;
    ALTER TABLE marks ALTER COLUMN stage SET NOT NULL;

    ALTER TABLE revisions ADD poses jsonb CHECK (poses IS NULL OR jsonb_typeof(poses) = 'array');

    CREATE TABLE dismissals (
      id bigserial PRIMARY KEY,
      shot_id uuid NOT NULL REFERENCES shots (id),
      reading text NOT NULL,
      part text,
      reason text NOT NULL CHECK (reason <> ''),
      author_id uuid NOT NULL REFERENCES people (id),
      at timestamptz NOT NULL DEFAULT now(),
      taken_back_at timestamptz
    );
    CREATE UNIQUE INDEX dismissals_one ON dismissals (shot_id, reading, coalesce(part, '')) WHERE taken_back_at IS NULL;

    CREATE TABLE phrases (
      id uuid PRIMARY KEY,
      person_id uuid NOT NULL REFERENCES people (id),
      kind text NOT NULL
        CHECK (kind IN ('timing', 'spacing', 'arc', 'breakdown', 'overshoot', 'moving hold', 'note')),
      reading text,
      words text NOT NULL CHECK (words <> ''),
      archived_at timestamptz,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX phrases_person ON phrases (person_id, created_at) WHERE archived_at IS NULL;
  `,
  down: `
    DROP TABLE phrases, dismissals;
    ALTER TABLE revisions DROP poses;
    ALTER TABLE marks DROP CONSTRAINT marks_payload, DROP part, DROP weight, DROP stage, DROP payload, DROP lines, DROP version;
    ALTER TABLE marks RENAME COLUMN point TO joint;
  `,
};
