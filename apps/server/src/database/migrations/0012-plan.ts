import type { Migration } from '../migration.ts';

/** What a brief asks for besides its kind, and the poses that it plans; which axis of a file is up, where somebody has put it right. */
export const plan: Migration = {
  name: '0012-plan',
  up: `
    ALTER TABLE briefs ADD COLUMN also_kinds jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(also_kinds) = 'array');
    ALTER TABLE briefs ADD COLUMN plan jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(plan) = 'array');
    ALTER TABLE revisions ADD COLUMN up text NOT NULL DEFAULT 'auto' CHECK (up ~ '^(auto|[+-][XYZ])$');
  `,
  down: `
    ALTER TABLE revisions DROP COLUMN up;
    ALTER TABLE briefs DROP COLUMN plan;
    ALTER TABLE briefs DROP COLUMN also_kinds;
  `,
};
