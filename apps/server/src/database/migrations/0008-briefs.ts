import type { Migration } from '../migration.ts';

const STAGES = `('planning', 'blocking', 'breakdowns', 'smoothing', 'polish')`;

/** Briefs with versions: what they say, the files to start from, and that one with shots on it is never changed. */
export const briefs: Migration = {
  name: '0008-briefs',
  up: `
    ALTER TABLE briefs
      ADD family uuid NOT NULL DEFAULT gen_random_uuid(),
      ADD created_by uuid REFERENCES people (id),
      ADD archived_at timestamptz,
      ADD ground_height double precision,
      ADD watch jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(watch) = 'array'),
      ADD before jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(before) = 'array'),
      ADD rubric jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(rubric) = 'array'),
      ADD exemplar jsonb CHECK (exemplar IS NULL OR jsonb_typeof(exemplar) = 'object'),
      ADD rules jsonb NOT NULL DEFAULT '{"length": "warn", "rate": "warn", "loop": "warn"}' CHECK (jsonb_typeof(rules) = 'object'),
      ADD clock_minutes integer CHECK (clock_minutes BETWEEN 1 AND 600),
      ADD UNIQUE (family, version);
    ALTER TABLE briefs ALTER COLUMN gauges DROP NOT NULL, ALTER COLUMN gauges DROP DEFAULT, ALTER COLUMN stages SET DEFAULT '[]';
    UPDATE briefs SET gauges = NULL, stages = '[]';
    ALTER TABLE briefs
      ADD CHECK (gauges IS NULL OR jsonb_typeof(gauges) = 'array'),
      ADD CHECK (jsonb_typeof(stages) = 'array');

    CREATE TABLE brief_files (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      brief_id uuid NOT NULL REFERENCES briefs (id),
      file_sha256 text NOT NULL REFERENCES files (sha256),
      file_name text NOT NULL CHECK (char_length(file_name) BETWEEN 1 AND 255),
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX brief_files_brief ON brief_files (brief_id, at);
    CREATE INDEX brief_files_file ON brief_files (file_sha256);
    CREATE OR REPLACE VIEW named_files AS
      SELECT id AS revision_id, file_sha256 AS sha256 FROM revisions
      UNION ALL SELECT revision_id, file_sha256 FROM clips_beside
      UNION ALL SELECT NULL, file_sha256 FROM brief_files;

    ALTER TABLE shots ADD brief_id uuid REFERENCES briefs (id);
    UPDATE shots s SET brief_id = a.brief_id FROM assignments a WHERE a.id = s.assignment_id;
    ALTER TABLE shots ALTER COLUMN brief_id SET NOT NULL;
    CREATE INDEX shots_brief ON shots (brief_id);
    CREATE FUNCTION shot_takes_brief() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      IF TG_OP = 'INSERT' THEN
        SELECT a.brief_id INTO NEW.brief_id FROM assignments a WHERE a.id = NEW.assignment_id;
      ELSIF NEW.brief_id <> OLD.brief_id THEN
        RAISE EXCEPTION 'a shot keeps the version of the brief it was begun with' USING ERRCODE = 'integrity_constraint_violation';
      END IF;
      RETURN NEW;
    END $$;
    CREATE TRIGGER shots_brief BEFORE INSERT OR UPDATE OF brief_id ON shots FOR EACH ROW EXECUTE FUNCTION shot_takes_brief();

    CREATE FUNCTION brief_in_use_stands() RETURNS trigger LANGUAGE plpgsql AS $$
    DECLARE used boolean;
    BEGIN
      SELECT EXISTS (SELECT 1 FROM shots s WHERE s.brief_id = OLD.id) INTO used;
      IF used AND to_jsonb(NEW) - 'archived_at' IS DISTINCT FROM to_jsonb(OLD) - 'archived_at' THEN
        RAISE EXCEPTION 'a brief with shots on it is not changed: it gets a new version' USING ERRCODE = 'integrity_constraint_violation';
      END IF;
      RETURN NEW;
    END $$;
    CREATE TRIGGER briefs_in_use BEFORE UPDATE ON briefs FOR EACH ROW EXECUTE FUNCTION brief_in_use_stands();

    ALTER TABLE cohorts ADD time_zone text NOT NULL DEFAULT 'UTC' CHECK (time_zone <> '');
    CREATE TABLE stage_dates (
      assignment_id uuid NOT NULL REFERENCES assignments (id),
      stage text NOT NULL CHECK (stage IN ${STAGES}),
      due_at timestamptz NOT NULL,
      PRIMARY KEY (assignment_id, stage)
    );
    CREATE TABLE later_dates (
      assignment_id uuid NOT NULL REFERENCES assignments (id),
      person_id uuid NOT NULL REFERENCES people (id),
      due_at timestamptz NOT NULL,
      why text NOT NULL DEFAULT '',
      author_id uuid NOT NULL REFERENCES people (id),
      at timestamptz NOT NULL DEFAULT now(),
      PRIMARY KEY (assignment_id, person_id)
    );
    CREATE INDEX later_dates_person ON later_dates (person_id);
    CREATE TABLE drills_begun (
      assignment_id uuid NOT NULL REFERENCES assignments (id),
      person_id uuid NOT NULL REFERENCES people (id),
      at timestamptz NOT NULL DEFAULT now(),
      PRIMARY KEY (assignment_id, person_id)
    );
    CREATE TABLE calendar_keys (
      person_id uuid PRIMARY KEY REFERENCES people (id),
      key_sha256 text NOT NULL UNIQUE,
      at timestamptz NOT NULL DEFAULT now()
    );
  `,
  down: `
    DROP TABLE calendar_keys, drills_begun, later_dates, stage_dates;
    ALTER TABLE cohorts DROP time_zone;
    DROP TRIGGER briefs_in_use ON briefs;
    DROP TRIGGER shots_brief ON shots;
    DROP FUNCTION brief_in_use_stands();
    DROP FUNCTION shot_takes_brief();
    ALTER TABLE shots DROP brief_id;
    CREATE OR REPLACE VIEW named_files AS
      SELECT id AS revision_id, file_sha256 AS sha256 FROM revisions
      UNION ALL SELECT revision_id, file_sha256 FROM clips_beside;
    DROP TABLE brief_files;
    UPDATE briefs SET gauges = '[]' WHERE gauges IS NULL;
    ALTER TABLE briefs DROP CONSTRAINT briefs_family_version_key, DROP family, DROP created_by, DROP archived_at, DROP ground_height, DROP watch, DROP before,
      DROP rubric, DROP exemplar, DROP rules, DROP clock_minutes,
      DROP CONSTRAINT briefs_gauges_check, DROP CONSTRAINT briefs_stages_check,
      ALTER COLUMN gauges SET NOT NULL, ALTER COLUMN gauges SET DEFAULT '[]',
      ALTER COLUMN stages SET DEFAULT '["planning", "blocking", "breakdowns", "smoothing", "polish"]';
  `,
};
