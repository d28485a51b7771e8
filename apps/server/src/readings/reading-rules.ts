import { FilesAwayError } from '../files/file-home.ts';
import { StorageFullError } from '../files/received-file.ts';

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
  /** The same while the store of files does not answer, which counts as no try. */
  awayPauseSeconds: 10,
  /** Storing what was read is tried so often while the database is away: a little over a minute. */
  storingTries: 10,
});

/** Whether what went wrong says nothing of the file: then it is tried again however often it was. */
export const isNoFault = (error: unknown): boolean => error instanceof FilesAwayError;

/** What is said of a file that was tried often enough. */
export const gaveUp = (error: unknown): string =>
  error instanceof StorageFullError
    ? 'there is no room on this server for what is made of it; tell whoever runs it, and read it again once there is'
    : 'something went wrong here three times while the file was read; try reading it again, or hand it in anew';

/** The pause before the next try, seconds. */
export const pauseAfter = (error: unknown, tries: number): number =>
  isNoFault(error)
    ? READING.awayPauseSeconds
    : (error instanceof StorageFullError ? READING.noRoomPauseSeconds : READING.pauseSeconds) * tries;
