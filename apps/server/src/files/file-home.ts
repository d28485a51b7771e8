import type { Readable } from 'node:stream';

/** Bytes of a file, counted from 0; `end` is the last. */
export interface ByteRange {
  readonly start: number;
  readonly end: number;
}

/** A file as its home lists it. */
export interface KeptFile {
  readonly sha256: string;
  /** When it was last kept, milliseconds. */
  readonly at: number;
}

/** Where files are kept for good, by the SHA-256 of their content: a folder, or an object store that several machines reach. */
export interface FileHome {
  /** What it is called in messages. */
  readonly name: string;

  /**
   * Keeps a file that lies on this machine, so that it is there whatever happens to the process. The same content is kept once.
   * @param path of the file, which the home may move away
   */
  keep(path: string, sha256: string, bytes: number): Promise<void>;

  /** Whether a file is there. */
  has(sha256: string): Promise<boolean>;

  /**
   * A file's bytes, or some of them. Whoever reads counts them: a connection may be cut.
   * @throws FileMissingError
   */
  open(sha256: string, range?: ByteRange): Promise<Readable>;

  /** Where the file lies on this machine; undefined where it lies elsewhere. */
  localPath(sha256: string): string | undefined;

  /** Forgets a file; of one that is not there nothing is said. */
  remove(sha256: string): Promise<void>;

  /** Every file. */
  list(): AsyncIterable<KeptFile>;

  /** Whether it answers. */
  answers(): Promise<boolean>;
}

/** A file that was kept is not there. */
export class FileMissingError extends Error {
  constructor(message = 'the file is not where it was kept: tell whoever runs this server') {
    super(message);
  }
}

/** The store of files does not answer, or only in part. */
export class FilesAwayError extends Error {
  constructor(cause?: unknown) {
    super('the store of files does not answer', { cause });
  }
}
