import type { Migration } from '../migration.ts';

/** A sound among a brief's files that is heard with every motion handed in on it. */
export const briefSounds: Migration = {
  name: '0026-brief-sounds',
  up: `
    ALTER TABLE brief_files ADD COLUMN is_heard boolean NOT NULL DEFAULT false;
    CREATE UNIQUE INDEX brief_files_heard ON brief_files (brief_id) WHERE is_heard;
  `,
  down: 'ALTER TABLE brief_files DROP COLUMN is_heard;',
};
