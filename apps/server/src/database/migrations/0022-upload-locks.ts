import type { Migration } from '../migration.ts';

/** Who is writing to an upload that comes in pieces: each piece may come to another machine, and two of one upload never at once. */
export const uploadLocks: Migration = {
  name: '0022-upload-locks',
  up: `
    CREATE TABLE upload_locks (
      upload text PRIMARY KEY,
      holder uuid NOT NULL,
      held_until timestamptz NOT NULL,
      wanted boolean NOT NULL DEFAULT false
    );
  `,
  down: 'DROP TABLE upload_locks;',
};
