import type { Migration } from '../migration.ts';

/** Students whose files and words were deleted once they had left; their revisions stay, without what was handed in. */
export const forgotten: Migration = {
  name: '0025-forgotten',
  up: `
    ALTER TABLE people ADD COLUMN forgotten_at timestamptz CHECK (forgotten_at IS NULL OR archived_at IS NOT NULL);
    ALTER TABLE revisions ALTER COLUMN file_sha256 DROP NOT NULL;
  `,
  // Where somebody has been forgotten there is no way back: what was deleted can't be had again.
  down: `
    ALTER TABLE revisions ALTER COLUMN file_sha256 SET NOT NULL;
    ALTER TABLE people DROP COLUMN forgotten_at;
  `,
};
