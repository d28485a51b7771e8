import type { Migration } from '../migration.ts';

/**
 * One queue, and it is the revisions' own: what waits to be read, in which order, and how far it has come. An upload that became a revision is
 * remembered, invitations keep their secret apart from their words, drafts of those who teach are told to nobody else, and a practice course is known.
 */
export const queue: Migration = {
  name: '0010-queue',
  up: `
    DROP SCHEMA IF EXISTS pgboss CASCADE;

    ALTER TABLE revisions
      ADD upload text UNIQUE,
      ADD reading_waited boolean NOT NULL DEFAULT true,
      ADD reading_from timestamptz NOT NULL DEFAULT now(),
      ADD reading_progress real CHECK (reading_progress BETWEEN 0 AND 1);
    ALTER TABLE clips_beside
      ADD claimed_at timestamptz,
      ADD tries integer NOT NULL DEFAULT 0,
      ADD not_before timestamptz NOT NULL DEFAULT now(),
      ADD done_at timestamptz,
      ADD upload text UNIQUE;
    UPDATE clips_beside k SET done_at = now()
     WHERE refused IS NOT NULL OR EXISTS (SELECT 1 FROM pictures p WHERE p.file_sha256 = k.file_sha256);
    CREATE INDEX clips_beside_waiting ON clips_beside (not_before) WHERE done_at IS NULL;
    DROP INDEX revisions_unread;
    CREATE INDEX revisions_queued ON revisions (reading_from) WHERE reading_state = 'queued';
    CREATE INDEX revisions_reading ON revisions (reading_beat) WHERE reading_state = 'reading';

    CREATE TABLE reading_turns (
      person_id uuid NOT NULL REFERENCES people (id),
      lane text NOT NULL CHECK (lane IN ('measuring', 'decoding')),
      at timestamptz NOT NULL DEFAULT now(),
      PRIMARY KEY (person_id, lane)
    );

    CREATE VIEW reading_queue AS
      WITH waiting AS (
        SELECT r.id AS revision_id, false AS beside, s.student_id, r.reading_waited AS waited, r.reading_from AS since,
               CASE WHEN r.media = 'pictures' AND NOT EXISTS (SELECT 1 FROM pictures p WHERE p.file_sha256 = r.file_sha256)
                    THEN 'decoding' ELSE 'measuring' END AS lane
          FROM revisions r JOIN shots s ON s.id = r.shot_id
         WHERE r.reading_state = 'queued'
        UNION ALL
        SELECT k.revision_id, true, s.student_id, true, k.not_before, 'decoding'
          FROM clips_beside k JOIN revisions r ON r.id = k.revision_id JOIN shots s ON s.id = r.shot_id
         WHERE k.done_at IS NULL AND k.claimed_at IS NULL
      ), turns AS (
        SELECT w.*, t.at AS last,
               row_number() OVER (PARTITION BY w.lane, w.student_id ORDER BY w.waited DESC, w.since, w.revision_id, w.beside) AS turn
          FROM waiting w LEFT JOIN reading_turns t ON t.person_id = w.student_id AND t.lane = w.lane
      )
      SELECT revision_id, beside, student_id, lane, since,
             row_number() OVER (PARTITION BY lane ORDER BY waited DESC, turn, last NULLS FIRST, since, revision_id, beside)::int AS place
        FROM turns;

    ALTER TABLE outbox ADD link text;
    UPDATE outbox SET link = substring(text FROM 'https?://[^[:space:]]+/invitation/[^[:space:]]+'),
                      text = rtrim(regexp_replace(text, 'https?://[^[:space:]]+/invitation/[^[:space:]]+', ''))
     WHERE about = 'invited';

    ALTER TABLE cohorts ADD practice_of uuid UNIQUE REFERENCES people (id);

    CREATE OR REPLACE FUNCTION tell_of_shot() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news', NEW.shot_id || CASE WHEN TG_TABLE_NAME = 'dismissals' THEN ' staff' ELSE ' all' END);
      RETURN NULL;
    END $$;
    CREATE OR REPLACE FUNCTION tell_of_mark() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news', (SELECT r.shot_id || CASE WHEN NEW.sent_at IS NULL THEN ' staff' ELSE ' all' END
        FROM revisions r WHERE r.id = NEW.revision_id));
      RETURN NULL;
    END $$;
    CREATE OR REPLACE FUNCTION tell_of_reply() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news', (SELECT r.shot_id || CASE WHEN m.sent_at IS NULL THEN ' staff' ELSE ' all' END
        FROM marks m JOIN revisions r ON r.id = m.revision_id WHERE m.id = NEW.mark_id));
      RETURN NULL;
    END $$;
    CREATE OR REPLACE FUNCTION tell_of_revision() RETURNS trigger LANGUAGE plpgsql AS $$
    DECLARE
      changed record := CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
      audience text := ' all';
    BEGIN
      -- Asked one in the other: only a place has a mark.
      IF TG_TABLE_NAME = 'mark_places' THEN
        IF EXISTS (SELECT 1 FROM marks m WHERE m.id = changed.mark_id AND m.sent_at IS NULL) THEN
          audience := ' staff';
        END IF;
      END IF;
      PERFORM pg_notify('shot_news', (SELECT r.shot_id || audience FROM revisions r WHERE r.id = changed.revision_id));
      RETURN NULL;
    END $$;
  `,
  down: `
    CREATE OR REPLACE FUNCTION tell_of_revision() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news',
        (SELECT r.shot_id::text FROM revisions r WHERE r.id = CASE WHEN TG_OP = 'DELETE' THEN OLD.revision_id ELSE NEW.revision_id END));
      RETURN NULL;
    END $$;
    CREATE OR REPLACE FUNCTION tell_of_shot() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news', NEW.shot_id::text);
      RETURN NULL;
    END $$;
    CREATE OR REPLACE FUNCTION tell_of_mark() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news', (SELECT r.shot_id::text FROM revisions r WHERE r.id = NEW.revision_id));
      RETURN NULL;
    END $$;
    CREATE OR REPLACE FUNCTION tell_of_reply() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news',
        (SELECT r.shot_id::text FROM marks m JOIN revisions r ON r.id = m.revision_id WHERE m.id = NEW.mark_id));
      RETURN NULL;
    END $$;
    ALTER TABLE cohorts DROP practice_of;
    UPDATE outbox SET text = text || E'\\n' || link WHERE link IS NOT NULL;
    ALTER TABLE outbox DROP link;
    DROP VIEW reading_queue;
    DROP TABLE reading_turns;
    DROP INDEX revisions_queued, revisions_reading, clips_beside_waiting;
    CREATE INDEX revisions_unread ON revisions (reading_beat) WHERE reading_state IN ('queued', 'reading');
    ALTER TABLE clips_beside DROP claimed_at, DROP tries, DROP not_before, DROP done_at, DROP upload;
    ALTER TABLE revisions DROP upload, DROP reading_waited, DROP reading_from, DROP reading_progress;
  `,
};
