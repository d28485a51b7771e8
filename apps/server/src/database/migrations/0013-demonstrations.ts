import type { Migration } from '../migration.ts';

/** Shots by those who teach, shown beside their students’: how many plays are allowed, and whether they are only stepped. */
export const demonstrations: Migration = {
  name: '0013-demonstrations',
  up: `
    CREATE TABLE demonstrations (
      shot_id uuid PRIMARY KEY REFERENCES shots (id),
      plays int CHECK (plays BETWEEN 1 AND 100),
      stills boolean NOT NULL DEFAULT false
    );
  `,
  down: `DROP TABLE demonstrations;`,
};
