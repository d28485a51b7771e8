import type { Migration } from '../migration.ts';

/** Marks may carry a recipe: what would put the shot right. */
export const cures: Migration = {
  name: '0014-cures',
  up: `
    ALTER TABLE marks ADD cure jsonb,
      ADD CONSTRAINT marks_cure CHECK (cure IS NULL OR (jsonb_typeof(cure) = 'object' AND jsonb_typeof(cure -> 'steps') = 'array' AND cure ? 'core'));
  `,
  down: 'ALTER TABLE marks DROP CONSTRAINT marks_cure, DROP cure;',
};
