/** A file that can't be read: what is wrong, and where. The message is written for the person who handed the file in. */
export class FormatError extends Error {
  override readonly name = 'FormatError';

  /**
   * @param reason what was found and what was expected, with no full stop
   * @param line 1-based line of a text format, where one is known
   */
  constructor(
    readonly reason: string,
    readonly line?: number,
  ) {
    super(line === undefined ? reason : `line ${line}: ${reason}`);
  }
}

/** What the readers accept at most; beyond these a file is refused before memory is spent on it. */
export const LIMITS = Object.freeze({
  bytes: 64 * 1024 * 1024,
  joints: 2_000,
  frames: 100_000,
  /** Joints times frames: what memory and time go with. */
  poses: 20_000_000,
  /** End sites of one joint. */
  ends: 64,
  /** Characters of a name, and of a number. */
  name: 200,
  number: 64,
  /** Largest position, offset or angle, to both sides: squares and products of these stay finite. */
  value: 1e9,
  /** Frames a second. */
  slowest: 1,
  fastest: 1_000,
});
