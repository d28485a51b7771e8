import type { Migration } from '../migration.ts';

/** Messages that a mail server sends: when they are due, and what became of them. What was written before, or without a mail server, is sent nowhere. */
export const mail: Migration = {
  name: '0018-mail',
  up: `
    ALTER TABLE outbox DROP CONSTRAINT outbox_about_check;
    ALTER TABLE outbox ADD CONSTRAINT outbox_about_check
      CHECK (about IN ('set', 'sent back', 'signed off', 'invited', 'shown', 'brief changed', 'password forgotten'));
    ALTER TABLE outbox ADD due_at timestamptz, ADD sent_at timestamptz, ADD tries integer NOT NULL DEFAULT 0, ADD given_up text;
    CREATE INDEX outbox_due ON outbox (due_at) WHERE due_at IS NOT NULL AND sent_at IS NULL AND given_up IS NULL;
  `,
  down: `
    DROP INDEX outbox_due;
    ALTER TABLE outbox DROP due_at, DROP sent_at, DROP tries, DROP given_up;
    DELETE FROM outbox WHERE about = 'password forgotten';
    ALTER TABLE outbox DROP CONSTRAINT outbox_about_check;
    ALTER TABLE outbox ADD CONSTRAINT outbox_about_check
      CHECK (about IN ('set', 'sent back', 'signed off', 'invited', 'shown', 'brief changed'));
  `,
};
