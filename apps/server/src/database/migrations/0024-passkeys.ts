import type { Migration } from '../migration.ts';

/** Keys that sign somebody in without a password (W3C Web Authentication), and what is asked of them, each question once. */
export const passkeys: Migration = {
  name: '0024-passkeys',
  up: `
    CREATE TABLE passkeys (
      id text PRIMARY KEY,
      person_id uuid NOT NULL REFERENCES people (id),
      public_key bytea NOT NULL,
      counter bigint NOT NULL,
      transports text[] NOT NULL,
      name text NOT NULL,
      since timestamptz NOT NULL DEFAULT now(),
      used_at timestamptz
    );
    CREATE INDEX passkeys_person ON passkeys (person_id);
    CREATE TABLE passkey_challenges (
      challenge text PRIMARY KEY,
      person_id uuid REFERENCES people (id),
      holds_until timestamptz NOT NULL
    );
  `,
  down: 'DROP TABLE passkey_challenges, passkeys;',
};
