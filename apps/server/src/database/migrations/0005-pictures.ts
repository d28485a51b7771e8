import type { Migration } from '../migration.ts';

/** Shots of pictures: what was made of a clip, and the points that were put on it. */
export const pictures: Migration = {
  name: '0005-pictures',
  up: `
    ALTER TABLE revisions ADD media text NOT NULL DEFAULT 'motion' CHECK (media IN ('motion', 'pictures'));

    CREATE TABLE pictures (
      file_sha256 text PRIMARY KEY REFERENCES files (sha256),
      facts jsonb NOT NULL CHECK (jsonb_typeof(facts) = 'object'),
      pack_sha256 text NOT NULL CHECK (pack_sha256 ~ '^[0-9a-f]{64}$'),
      small_sha256 text NOT NULL CHECK (small_sha256 ~ '^[0-9a-f]{64}$'),
      made_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX pictures_pack ON pictures (pack_sha256);
    CREATE INDEX pictures_small ON pictures (small_sha256);

    CREATE TABLE tracks (
      revision_id uuid PRIMARY KEY REFERENCES revisions (id),
      version integer NOT NULL CHECK (version > 0),
      tracks jsonb NOT NULL CHECK (jsonb_typeof(tracks) = 'object' AND jsonb_typeof(tracks -> 'points') = 'array'),
      author_id uuid NOT NULL REFERENCES people (id),
      at timestamptz NOT NULL DEFAULT now()
    );
  `,
  down: `
    DROP TABLE tracks, pictures;
    ALTER TABLE revisions DROP media;
  `,
};
