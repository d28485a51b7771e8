export interface ObjectStore {
  readonly environment: Readonly<Record<string, string>>;
  /** `slow` by so many milliseconds; `half` of every so many-th answer. */
  answer(how: 'well' | 'slow' | 'away' | 'half', size?: number): Promise<void>;
  /** Dies, and is started again. */
  crash(): Promise<void>;
  end(): Promise<void>;
}
export function startObjectStore(
  root: string,
  folder: string,
  bucket?: string,
  at?: { host: string; port: number },
): Promise<ObjectStore>;

export interface Replica {
  readonly url: string;
  readonly pid: number;
  /** What is committed from now on is not seen there. */
  pause(): Promise<void>;
  resume(): Promise<void>;
  /** Dies, and is started again. */
  crash(): Promise<void>;
  end(): Promise<void>;
}
export function startReplica(root: string, database: string, name: string): Promise<Replica>;

export interface Pooler {
  readonly url: string;
  end(): Promise<void>;
}
export function startPooler(root: string, database: string, folder: string): Promise<Pooler>;
