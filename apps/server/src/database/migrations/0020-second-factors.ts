import type { Migration } from '../migration.ts';

/** A second factor of those who teach: a secret that their telephone shares, locked by the server's own; codes for the day it is lost, as hashes. */
export const secondFactors: Migration = {
  name: '0020-second-factors',
  up: `
    CREATE TABLE second_factors (
      person_id uuid PRIMARY KEY REFERENCES people (id),
      secret text NOT NULL,
      since timestamptz,
      last_step bigint NOT NULL DEFAULT 0
    );
    CREATE TABLE recovery_codes (
      person_id uuid NOT NULL REFERENCES second_factors (person_id) ON DELETE CASCADE,
      code_sha256 text NOT NULL,
      used_at timestamptz,
      PRIMARY KEY (person_id, code_sha256)
    );
  `,
  down: 'DROP TABLE recovery_codes, second_factors;',
};
