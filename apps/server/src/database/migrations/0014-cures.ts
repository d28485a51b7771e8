import type { Migration } from '../migration.ts';

/** Marks may carry a recipe: what would put the shot right. A brief says when students see such cures; what they looked at stands with what they hand in. */
export const cures: Migration = {
  name: '0014-cures',
  up: `
    ALTER TABLE marks ADD cure jsonb,
      ADD CONSTRAINT marks_cure CHECK (cure IS NULL OR (jsonb_typeof(cure) = 'object' AND jsonb_typeof(cure -> 'steps') = 'array' AND cure ? 'core'));
    ALTER TABLE briefs ADD cures text NOT NULL DEFAULT 'with marks' CHECK (cures IN ('with marks', 'before handing in'));
    ALTER TABLE revisions ADD cures_seen jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(cures_seen) = 'array');
  `,
  down: `
    ALTER TABLE revisions DROP cures_seen;
    ALTER TABLE briefs DROP cures;
    ALTER TABLE marks DROP CONSTRAINT marks_cure, DROP cure;
  `,
};
