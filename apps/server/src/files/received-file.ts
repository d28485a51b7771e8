/** A file that has come in whole and is not kept yet. */
export interface ReceivedFile {
  readonly sha256: string;
  readonly bytes: number;
  /** Where its bytes are until it is kept or discarded. */
  readonly path: string;
  /** Sends it to where it will be kept, where that is on another machine: before a transaction begins that would wait for it. */
  send(): Promise<void>;
  /**
   * Keeps it under its hash, whatever happens to this process from now on. The same content is kept once.
   * @throws FilesAwayError where the store of files does not answer; StorageFullError
   */
  keep(): Promise<void>;
  /** Forgets it. */
  discard(): Promise<void>;
}

/** More bytes came than are taken in. */
export class TooLargeError extends Error {}

/** The disk is full, or its share is used up. */
export class StorageFullError extends Error {}
