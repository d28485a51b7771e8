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
  /** Storing what was read is tried so often while the database is away: a little over a minute. */
  storingTries: 10,
  gaveUp: 'something went wrong here three times while the file was read; try reading it again, or hand it in anew',
});
