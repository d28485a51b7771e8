import type { Migration } from '../migration.ts';

/** What lists show of a motion: a few poses as lines, made when it is read. */
export const smallPictures: Migration = {
  name: '0011-small-pictures',
  up: `
    ALTER TABLE readings ADD COLUMN small jsonb CHECK (small IS NULL OR jsonb_typeof(small) = 'object');
  `,
  down: `
    ALTER TABLE readings DROP COLUMN small;
  `,
};
