import type { Migration } from '../migration.ts';

/** Who somebody is to a provider of identities (OpenID Connect): known by its own name for them, since addresses change. */
export const identities: Migration = {
  name: '0021-identities',
  up: `
    CREATE TABLE identities (
      issuer text NOT NULL,
      subject text NOT NULL,
      person_id uuid NOT NULL REFERENCES people (id),
      since timestamptz NOT NULL DEFAULT now(),
      PRIMARY KEY (issuer, subject)
    );
    CREATE INDEX identities_person ON identities (person_id);
  `,
  down: 'DROP TABLE identities;',
};
