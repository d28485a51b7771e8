import type { Migration } from '../migration.ts';

/** What a server needs that loses nothing: versions of settings, the pulse of a reading, failed sign-ins, invitations, events of assignments. */
export const steady: Migration = {
  name: '0002-steady',
  up: `
    ALTER TABLE briefs
      ADD ground text NOT NULL DEFAULT 'auto' CHECK (ground IN ('auto', 'flat', 'steps')),
      ADD still jsonb NOT NULL DEFAULT '[]',
      ADD groups jsonb NOT NULL DEFAULT '[]';

    ALTER TABLE revisions
      ADD settings_version integer NOT NULL DEFAULT 1,
      ADD reading_tries integer NOT NULL DEFAULT 0,
      ADD reading_beat timestamptz NOT NULL DEFAULT now();
    CREATE INDEX revisions_unread ON revisions (reading_beat) WHERE reading_state IN ('queued', 'reading');
    CREATE INDEX revisions_file ON revisions (file_sha256);

    CREATE TABLE assignment_events (
      id bigserial PRIMARY KEY,
      assignment_id uuid NOT NULL REFERENCES assignments (id),
      author_id uuid NOT NULL REFERENCES people (id),
      what text NOT NULL,
      data jsonb NOT NULL DEFAULT '{}',
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX assignment_events_assignment ON assignment_events (assignment_id, id);

    CREATE TABLE failed_sign_ins (
      id bigserial PRIMARY KEY,
      account text NOT NULL,
      address text NOT NULL,
      at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX failed_sign_ins_account ON failed_sign_ins (account, at);
    CREATE INDEX failed_sign_ins_address ON failed_sign_ins (address, at);

    CREATE TABLE invitations (
      token_sha256 text PRIMARY KEY,
      person_id uuid NOT NULL REFERENCES people (id),
      expires_at timestamptz NOT NULL,
      used_at timestamptz,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX invitations_person ON invitations (person_id);

    CREATE INDEX sessions_person ON sessions ((sess ->> 'personId'));
  `,
  down: `
    DROP INDEX sessions_person;
    DROP TABLE invitations, failed_sign_ins, assignment_events;
    DROP INDEX revisions_unread, revisions_file;
    ALTER TABLE revisions DROP settings_version, DROP reading_tries, DROP reading_beat;
    ALTER TABLE briefs DROP ground, DROP still, DROP groups;
  `,
};
