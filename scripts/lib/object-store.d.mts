export interface ObjectStore {
  readonly pid: number;
  readonly environment: Readonly<Record<string, string>>;
  /** `slow` by so many milliseconds; `half` of every so many-th answer. */
  answer(how: 'well' | 'slow' | 'away' | 'half', size?: number): Promise<void>;
  end(): Promise<void>;
}
export function startObjectStore(root: string, folder: string, bucket?: string): Promise<ObjectStore>;
