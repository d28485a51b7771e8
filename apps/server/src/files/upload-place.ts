import type { Readable } from 'node:stream';
import type { DataStore } from '@tus/server';

/** Where uploads are that come in pieces: a folder, or an object store, so that each piece may come to another machine. */
export interface UploadPlace {
  /** What the protocol's server writes to. */
  readonly store: DataStore;

  /** Names of the uploads of a person; without one, of everybody. */
  names(person?: string): Promise<string[]>;

  /** When something was last added to an upload, milliseconds; 0 where it is not there. */
  changedAt(name: string): Promise<number>;

  /** What has come of an upload that has come whole. */
  open(name: string): Promise<Readable>;

  /** Forgets an upload. */
  remove(name: string): Promise<void>;
}
