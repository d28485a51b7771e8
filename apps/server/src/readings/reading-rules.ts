import { StorageFullError } from '../files/file-store.ts';

/** How patiently shots are read. */
export const READING = Object.freeze({
  /** So often a revision that is being read says so, and after so long without a word it is nobody's any more; seconds. */
  beatSeconds: 3,
  lostSeconds: 15,
  /** How often the lost are looked for, seconds. */
  sweepSeconds: 5,
  /** So often a file is tried before it is given up, with so long a pause after each, seconds. */
  tries: 3,
  pauseSeconds: 2,
  /** The same where there is no room for what is made of it: longer, since somebody has to make some. */
  noRoomPauseSeconds: 30,
  /** Storing what was read is tried so often while the database is away: a little over a minute. */
  storingTries: 10,
});

/** What is said of a file that was tried often enough. */
export const gaveUp = (error: unknown): string =>
  error instanceof StorageFullError
    ? 'there is no room on this server for what is made of it; tell whoever runs it, and read it again once there is'
    : 'something went wrong here three times while the file was read; try reading it again, or hand it in anew';

/** The pause before the next try, seconds. */
export const pauseAfter = (error: unknown, tries: number): number =>
  (error instanceof StorageFullError ? READING.noRoomPauseSeconds : READING.pauseSeconds) * tries;
