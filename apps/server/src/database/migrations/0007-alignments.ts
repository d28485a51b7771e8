import type { Migration } from '../migration.ts';

/** How the frames of a shot's revisions belong together, and where marks lie in later ones. */
export const alignments: Migration = {
  name: '0007-alignments',
  up: `
    CREATE TABLE alignments (
      from_revision uuid NOT NULL REFERENCES revisions (id),
      to_revision uuid NOT NULL REFERENCES revisions (id),
      made_of text NOT NULL,
      outcome jsonb CHECK (outcome IS NULL OR jsonb_typeof(outcome) = 'object'),
      tries integer NOT NULL DEFAULT 0,
      claimed_at timestamptz,
      PRIMARY KEY (to_revision, from_revision),
      CHECK (from_revision <> to_revision)
    );
    CREATE INDEX alignments_wanted ON alignments (claimed_at) WHERE outcome IS NULL;

    CREATE TABLE mark_places (
      mark_id uuid NOT NULL REFERENCES marks (id),
      revision_id uuid NOT NULL REFERENCES revisions (id),
      from_frame integer NOT NULL,
      to_frame integer NOT NULL CHECK (to_frame >= from_frame),
      author_id uuid NOT NULL REFERENCES people (id),
      at timestamptz NOT NULL DEFAULT now(),
      PRIMARY KEY (revision_id, mark_id)
    );

    CREATE FUNCTION tell_of_alignment() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news', (SELECT r.shot_id::text FROM revisions r WHERE r.id = NEW.to_revision));
      RETURN NULL;
    END $$;
    CREATE TRIGGER alignments_news AFTER UPDATE OF outcome ON alignments FOR EACH ROW
      WHEN (NEW.outcome IS NOT NULL) EXECUTE FUNCTION tell_of_alignment();
    CREATE FUNCTION tell_of_revision() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news',
        (SELECT r.shot_id::text FROM revisions r WHERE r.id = CASE WHEN TG_OP = 'DELETE' THEN OLD.revision_id ELSE NEW.revision_id END));
      RETURN NULL;
    END $$;
    CREATE TRIGGER mark_places_news AFTER INSERT OR UPDATE OR DELETE ON mark_places FOR EACH ROW EXECUTE FUNCTION tell_of_revision();
    CREATE TRIGGER clips_beside_news AFTER INSERT OR UPDATE ON clips_beside FOR EACH ROW EXECUTE FUNCTION tell_of_revision();
  `,
  down: `
    DROP TRIGGER clips_beside_news ON clips_beside;
    DROP TABLE mark_places, alignments;
    DROP FUNCTION tell_of_revision(), tell_of_alignment();
  `,
};
