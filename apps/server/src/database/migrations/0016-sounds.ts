import type { Migration } from '../migration.ts';

/** The sound of a clip, where it has one. Clips that were read before have none until they are read again. */
export const sounds: Migration = {
  name: '0016-sounds',
  up: `
    ALTER TABLE pictures ADD COLUMN sound_sha256 text CHECK (sound_sha256 ~ '^[0-9a-f]{64}$');
    CREATE INDEX pictures_sound ON pictures (sound_sha256) WHERE sound_sha256 IS NOT NULL;
  `,
  down: `
    DROP INDEX pictures_sound;
    ALTER TABLE pictures DROP COLUMN sound_sha256;
  `,
};
