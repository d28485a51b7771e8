import type { Migration } from '../migration.ts';

/** Who did what: signed in, changed roles, took something away, deleted something. Names and words as they were then. */
export const audit: Migration = {
  name: '0023-audit',
  up: `
    CREATE TABLE audit (
      id bigserial PRIMARY KEY,
      at timestamptz NOT NULL DEFAULT now(),
      kind text NOT NULL,
      who text NOT NULL,
      person_id uuid REFERENCES people (id),
      did text NOT NULL,
      about text NOT NULL DEFAULT '',
      request text
    );
    CREATE INDEX audit_kind ON audit (kind, id);
    CREATE INDEX audit_at ON audit (at);
  `,
  down: 'DROP TABLE audit;',
};
