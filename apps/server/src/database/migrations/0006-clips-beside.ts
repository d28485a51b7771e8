import type { Migration } from '../migration.ts';

/** A motion's revision may bring a clip along: what was seen, beside what made it. */
export const clipsBeside: Migration = {
  name: '0006-clips-beside',
  up: `
    CREATE TABLE clips_beside (
      revision_id uuid PRIMARY KEY REFERENCES revisions (id),
      file_sha256 text NOT NULL REFERENCES files (sha256),
      file_name text NOT NULL CHECK (char_length(file_name) BETWEEN 1 AND 255),
      first_label integer NOT NULL,
      under jsonb CHECK (under IS NULL OR jsonb_typeof(under) = 'object'),
      refused text
    );
    CREATE INDEX clips_beside_file ON clips_beside (file_sha256);

    CREATE VIEW named_files AS
      SELECT id AS revision_id, file_sha256 AS sha256 FROM revisions
      UNION ALL SELECT revision_id, file_sha256 FROM clips_beside;
  `,
  down: `
    DROP VIEW named_files;
    DROP TABLE clips_beside;
  `,
};
