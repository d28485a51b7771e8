import { useCallback, useEffect, useRef, useState } from 'react';
import type { MarkKind } from '@ypsigraph/contract/vocabulary';
import type { Shot } from '@ypsigraph/contract/shots';
import { RequestError, send } from '../../api/client.ts';
import { refreshShot } from '../../api/data.ts';

/** A mark as it is being written. */
export interface Draft {
  readonly kind: MarkKind;
  readonly from: number;
  readonly to: number;
  readonly joint: string | null;
  readonly words: string;
  /** Becomes the mark's id, so that sending it twice makes one mark. */
  readonly key: string;
}

const RETRY_MS = 3_000;

function readStored<T>(name: string): T | undefined {
  try {
    const text = localStorage.getItem(name);
    return text === null ? undefined : (JSON.parse(text) as T);
  } catch {
    return undefined;
  }
}

function store(name: string, value: unknown): void {
  try {
    if (value === undefined) localStorage.removeItem(name);
    else localStorage.setItem(name, JSON.stringify(value));
  } catch {
    // A full or forbidden store: the page keeps it in memory as long as it is open.
  }
}

/** A value that survives a reload of the page. */
export function useStored<T>(name: string): [T | undefined, (value: T | undefined) => void] {
  const [value, setValue] = useState(() => readStored<T>(name));
  const [known, setKnown] = useState(name);
  if (known !== name) {
    setKnown(name);
    setValue(readStored<T>(name));
  }
  const set = useCallback(
    (next: T | undefined) => {
      store(name, next);
      setValue(next);
    },
    [name],
  );
  return [value, set];
}

/** One request whose content must not be lost: made again until the server has answered it one way or the other. */
export interface Pending {
  readonly key: string;
  readonly path: string;
  readonly body: unknown;
}

/**
 * Things written for a shot that have not reached the server yet. They survive a reload and a lost connection, and are tried again
 * until they arrive; one the server refuses for a reason is given back with it.
 */
export function useOutgoing(shotId: string, onRefused: (pending: Pending, error: RequestError) => void) {
  const [waiting, setWaiting] = useStored<Pending[]>(`outgoing:${shotId}`);
  const list = waiting ?? [];
  const current = useRef(list);
  const refused = useRef(onRefused);
  const busy = useRef(false);
  useEffect(() => {
    current.current = list;
    refused.current = onRefused;
  });

  const flush = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    try {
      while (current.current.length > 0) {
        const [next, ...rest] = current.current as [Pending, ...Pending[]];
        try {
          await refreshShot(await send<Shot>('POST', next.path, next.body));
        } catch (error) {
          if (!(error instanceof RequestError) || error.passing) return;
          refused.current(next, error);
        }
        current.current = current.current.filter(({ key }) => key !== next.key);
        setWaiting(rest.length > 0 ? current.current : undefined);
      }
    } finally {
      busy.current = false;
    }
  }, [setWaiting]);

  const add = useCallback(
    (pending: Pending) => {
      current.current = [...current.current, pending];
      setWaiting(current.current);
      void flush();
    },
    [flush, setWaiting],
  );

  useEffect(() => {
    if (list.length === 0) return;
    const timer = setInterval(() => void flush(), RETRY_MS);
    const online = (): void => void flush();
    window.addEventListener('online', online);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', online);
    };
  }, [list.length, flush]);

  return { waiting: list, add };
}
