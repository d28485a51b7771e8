import type { Migration } from '../migration.ts';

/** What was found on each revision, so that folio and tally need not judge anew; the outbox, grades, showings, and what is asked for by when. */
export const following: Migration = {
  name: '0009-following',
  up: `
    ALTER TABLE revisions
      ADD asked_by timestamptz,
      ADD worked_on jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(worked_on) = 'array');

    CREATE TABLE verdicts (
      revision_id uuid PRIMARY KEY REFERENCES revisions (id),
      core_version text NOT NULL,
      inside integer NOT NULL CHECK (inside >= 0),
      near integer NOT NULL CHECK (near >= 0),
      outside integer NOT NULL CHECK (outside >= 0),
      unjudged integer NOT NULL CHECK (unjudged >= 0),
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE TABLE findings (
      revision_id uuid NOT NULL REFERENCES verdicts (revision_id) ON DELETE CASCADE,
      rank integer NOT NULL,
      reading text NOT NULL,
      part text,
      judgement text NOT NULL CHECK (judgement IN ('near', 'outside')),
      distance double precision NOT NULL,
      say text NOT NULL,
      PRIMARY KEY (revision_id, rank)
    );

    CREATE TABLE outbox (
      id bigserial PRIMARY KEY,
      person_id uuid NOT NULL REFERENCES people (id),
      address text NOT NULL,
      cohort_id uuid REFERENCES cohorts (id),
      about text NOT NULL CHECK (about IN ('set', 'sent back', 'signed off', 'invited', 'shown', 'brief changed')),
      subject text NOT NULL,
      text text NOT NULL,
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX outbox_cohort ON outbox (cohort_id, id);

    CREATE TABLE grades (
      shot_id uuid NOT NULL REFERENCES shots (id),
      line text NOT NULL,
      points double precision NOT NULL CHECK (points >= 0),
      words text NOT NULL DEFAULT '',
      author_id uuid NOT NULL REFERENCES people (id),
      at timestamptz NOT NULL DEFAULT now(),
      PRIMARY KEY (shot_id, line)
    );
    CREATE TABLE grade_events (
      id bigserial PRIMARY KEY,
      shot_id uuid NOT NULL REFERENCES shots (id),
      line text NOT NULL,
      points double precision,
      words text NOT NULL DEFAULT '',
      author_id uuid NOT NULL REFERENCES people (id),
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX grade_events_shot ON grade_events (shot_id, id);

    CREATE TABLE showings (
      shot_id uuid PRIMARY KEY REFERENCES shots (id),
      consent_at timestamptz,
      shown_at timestamptz,
      shown_by uuid REFERENCES people (id),
      words text NOT NULL DEFAULT '',
      CHECK (shown_at IS NULL OR consent_at IS NOT NULL),
      CHECK ((shown_at IS NULL) = (shown_by IS NULL))
    );
    CREATE INDEX showings_shown ON showings (shown_at) WHERE shown_at IS NOT NULL;
    CREATE TABLE showing_events (
      id bigserial PRIMARY KEY,
      shot_id uuid NOT NULL REFERENCES shots (id),
      author_id uuid NOT NULL REFERENCES people (id),
      what text NOT NULL CHECK (what IN ('consent given', 'consent withdrawn', 'shown', 'not shown any more')),
      at timestamptz NOT NULL DEFAULT now()
    );
  `,
  down: `
    DROP TABLE showing_events, showings, grade_events, grades, outbox, findings, verdicts;
    ALTER TABLE revisions DROP asked_by, DROP worked_on;
  `,
};
