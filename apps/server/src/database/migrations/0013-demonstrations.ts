import type { Migration } from '../migration.ts';

/**
 * Shots by those who teach, shown beside their students’: beside all of an exercise or one alone, how many plays are allowed, and whether they are only
 * stepped.
 */
export const demonstrations: Migration = {
  name: '0013-demonstrations',
  up: `
    ALTER TABLE shots ADD shown_beside uuid REFERENCES shots (id);
    ALTER TABLE shots DROP CONSTRAINT shots_assignment_id_student_id_key;
    CREATE UNIQUE INDEX shots_one ON shots (assignment_id, student_id, coalesce(shown_beside, '00000000-0000-0000-0000-000000000000'));
    CREATE TABLE demonstrations (
      shot_id uuid PRIMARY KEY REFERENCES shots (id),
      plays int CHECK (plays BETWEEN 1 AND 100),
      stills boolean NOT NULL DEFAULT false
    );
  `,
  down: `
    DROP TABLE demonstrations;
    DROP INDEX shots_one;
    ALTER TABLE shots DROP COLUMN shown_beside;
    ALTER TABLE shots ADD UNIQUE (assignment_id, student_id);
  `,
};
