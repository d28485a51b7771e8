import type { Migration } from '../migration.ts';

/** Of a file that holds several animations or figures: which one was handed in. */
export const animations: Migration = {
  name: '0015-animations',
  up: `
    ALTER TABLE revisions ADD COLUMN animation text, ADD COLUMN figure text;
  `,
  down: `
    ALTER TABLE revisions DROP COLUMN figure, DROP COLUMN animation;
  `,
};
