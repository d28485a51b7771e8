import type { Migration } from '../migration.ts';

/** Which request a revision's reading was asked for by: its logs are found by it, whichever process reads. */
export const requests: Migration = {
  name: '0019-requests',
  up: 'ALTER TABLE revisions ADD reading_request text;',
  down: 'ALTER TABLE revisions DROP reading_request;',
};
