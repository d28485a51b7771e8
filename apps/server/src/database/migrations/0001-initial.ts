import type { Migration } from '../migration.ts';

export const initial: Migration = {
  name: '0001-initial',
  up: `
    CREATE TABLE people (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      name text NOT NULL CHECK (name <> ''),
      email text NOT NULL,
      role text NOT NULL CHECK (role IN ('instructor', 'assistant', 'student')),
      password_hash text NOT NULL,
      archived_at timestamptz,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE UNIQUE INDEX people_email ON people (lower(email));

    CREATE TABLE cohorts (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      name text NOT NULL UNIQUE CHECK (name <> ''),
      term text NOT NULL DEFAULT '',
      created_at timestamptz NOT NULL DEFAULT now()
    );

    CREATE TABLE enrolments (
      person_id uuid NOT NULL REFERENCES people (id),
      cohort_id uuid NOT NULL REFERENCES cohorts (id),
      role text NOT NULL CHECK (role IN ('instructor', 'assistant', 'student')),
      PRIMARY KEY (person_id, cohort_id)
    );
    CREATE INDEX enrolments_cohort ON enrolments (cohort_id, role);

    CREATE TABLE briefs (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      title text NOT NULL CHECK (title <> ''),
      version integer NOT NULL DEFAULT 1 CHECK (version > 0),
      kind text NOT NULL CHECK (kind IN ('walk', 'run', 'jump', 'take', 'turn', 'overlap', 'idle', 'any')),
      text text NOT NULL DEFAULT '',
      fps double precision NOT NULL DEFAULT 24 CHECK (fps > 0),
      first_frame integer NOT NULL DEFAULT 1,
      loop text NOT NULL DEFAULT 'auto' CHECK (loop IN ('auto', 'none', 'repeat', 'follow')),
      frames integer CHECK (frames > 0),
      gauges jsonb NOT NULL DEFAULT '[]',
      stages jsonb NOT NULL DEFAULT '["planning", "blocking", "breakdowns", "smoothing", "polish"]',
      created_at timestamptz NOT NULL DEFAULT now(),
      UNIQUE (title, version)
    );

    CREATE TABLE assignments (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      brief_id uuid NOT NULL REFERENCES briefs (id),
      cohort_id uuid NOT NULL REFERENCES cohorts (id),
      due_at timestamptz NOT NULL,
      closed_at timestamptz,
      created_by uuid NOT NULL REFERENCES people (id),
      created_at timestamptz NOT NULL DEFAULT now(),
      UNIQUE (brief_id, cohort_id)
    );
    CREATE INDEX assignments_cohort ON assignments (cohort_id, due_at);

    CREATE TABLE shots (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      assignment_id uuid NOT NULL REFERENCES assignments (id),
      student_id uuid NOT NULL REFERENCES people (id),
      created_at timestamptz NOT NULL DEFAULT now(),
      UNIQUE (assignment_id, student_id)
    );
    CREATE INDEX shots_student ON shots (student_id);

    CREATE TABLE files (
      sha256 text PRIMARY KEY CHECK (sha256 ~ '^[0-9a-f]{64}$'),
      bytes bigint NOT NULL CHECK (bytes > 0),
      created_at timestamptz NOT NULL DEFAULT now()
    );

    CREATE TABLE revisions (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      shot_id uuid NOT NULL REFERENCES shots (id),
      number integer NOT NULL CHECK (number > 0),
      stage text NOT NULL CHECK (stage IN ('planning', 'blocking', 'breakdowns', 'smoothing', 'polish')),
      state text NOT NULL DEFAULT 'handed in'
        CHECK (state IN ('handed in', 'on the desk', 'sent back', 'signed off', 'withdrawn')),
      file_sha256 text NOT NULL REFERENCES files (sha256),
      file_name text NOT NULL,
      note text NOT NULL DEFAULT '',
      first_frame integer NOT NULL DEFAULT 1,
      loop text NOT NULL DEFAULT 'auto' CHECK (loop IN ('auto', 'none', 'repeat', 'follow')),
      roles jsonb NOT NULL DEFAULT '{}',
      reading_state text NOT NULL DEFAULT 'queued' CHECK (reading_state IN ('queued', 'reading', 'read', 'failed')),
      reading_reason text,
      words text,
      asked text,
      handed_in_at timestamptz NOT NULL DEFAULT now(),
      judged_at timestamptz,
      UNIQUE (shot_id, number),
      CHECK ((reading_state = 'failed') = (reading_reason IS NOT NULL)),
      CHECK ((state IN ('sent back', 'signed off')) = (judged_at IS NOT NULL))
    );
    CREATE INDEX revisions_waiting ON revisions (handed_in_at) WHERE state IN ('handed in', 'on the desk');
    CREATE UNIQUE INDEX revisions_one_waiting ON revisions (shot_id) WHERE state IN ('handed in', 'on the desk');
    CREATE UNIQUE INDEX revisions_same_file ON revisions (shot_id, file_sha256) WHERE state <> 'withdrawn';

    CREATE TABLE revision_events (
      id bigserial PRIMARY KEY,
      revision_id uuid NOT NULL REFERENCES revisions (id),
      author_id uuid NOT NULL REFERENCES people (id),
      what text NOT NULL,
      data jsonb NOT NULL DEFAULT '{}',
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX revision_events_revision ON revision_events (revision_id, id);

    CREATE TABLE readings (
      revision_id uuid NOT NULL REFERENCES revisions (id),
      core_version text NOT NULL,
      report jsonb NOT NULL,
      made_at timestamptz NOT NULL DEFAULT now(),
      PRIMARY KEY (revision_id, core_version)
    );

    CREATE TABLE marks (
      id uuid PRIMARY KEY,
      revision_id uuid NOT NULL REFERENCES revisions (id),
      author_id uuid NOT NULL REFERENCES people (id),
      kind text NOT NULL
        CHECK (kind IN ('timing', 'spacing', 'arc', 'breakdown', 'overshoot', 'moving hold', 'note')),
      from_frame integer NOT NULL,
      to_frame integer NOT NULL,
      joint text,
      words text NOT NULL CHECK (words <> ''),
      state text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'answered', 'cleared', 'waived')),
      sent_at timestamptz,
      archived_at timestamptz,
      created_at timestamptz NOT NULL DEFAULT now(),
      CHECK (from_frame <= to_frame)
    );
    CREATE INDEX marks_revision ON marks (revision_id, from_frame) WHERE archived_at IS NULL;

    CREATE TABLE mark_events (
      id bigserial PRIMARY KEY,
      mark_id uuid NOT NULL REFERENCES marks (id),
      author_id uuid NOT NULL REFERENCES people (id),
      what text NOT NULL,
      data jsonb NOT NULL DEFAULT '{}',
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX mark_events_mark ON mark_events (mark_id, id);

    CREATE TABLE replies (
      id uuid PRIMARY KEY,
      mark_id uuid NOT NULL REFERENCES marks (id),
      author_id uuid NOT NULL REFERENCES people (id),
      words text NOT NULL CHECK (words <> ''),
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX replies_mark ON replies (mark_id, at);

    CREATE TABLE sessions (
      sid text PRIMARY KEY,
      sess json NOT NULL,
      expire timestamptz NOT NULL
    );
    CREATE INDEX sessions_expire ON sessions (expire);
  `,
  down: `
    DROP TABLE sessions, replies, mark_events, marks, readings, revision_events, revisions, files, shots, assignments,
      briefs, enrolments, cohorts, people;
  `,
};
