import { useCallback, useEffect, useRef, useState } from 'react';
import { useSession } from './data.ts';
import { livingTabs, TAB } from './tab.ts';

/** Name under which something is kept: a person's, of one page, and no other person's. */
const nameOf = (person: string, name: string, tab: string): string => `kept/${person}/${name}/${tab}`;

function read<T>(key: string): T | undefined {
  try {
    const text = localStorage.getItem(key);
    return text === null ? undefined : (JSON.parse(text) as T);
  } catch {
    return undefined;
  }
}

function write(key: string, value: unknown): void {
  try {
    if (value === undefined) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // A full or forbidden store: the page keeps it in memory as long as it is open.
  }
}

/** What pages that are gone have left under a name; it is theirs no longer. */
async function inherit<T>(person: string, name: string): Promise<T[]> {
  const living = await livingTabs();
  const start = nameOf(person, name, '');
  return keysFrom(start)
    .filter((key) => !living.has(key.slice(start.length)))
    .flatMap((key) => {
      const value = read<T>(key);
      write(key, undefined);
      return value === undefined ? [] : [value];
    });
}

function keysFrom(start: string): string[] {
  try {
    return Object.keys(localStorage).filter((key) => key.startsWith(start));
  } catch {
    return [];
  }
}

/**
 * A value that survives a reload of the page, and signing out and in again; nobody else who uses this browser sees it, and every open page has
 * its own.
 *
 * @param join what becomes of what this page has and what pages that are gone have left; default: what this page has, or else the first
 */
export function useKept<T>(
  name: string,
  join: (own: T | undefined, left: readonly T[]) => T | undefined = (own, left) => own ?? left[0],
): [T | undefined, (value: T | undefined) => void] {
  const person = useSession().data?.person?.id ?? 'nobody';
  const key = nameOf(person, name, TAB);
  const [value, setValue] = useState(() => read<T>(key));
  const [known, setKnown] = useState(key);
  const current = useRef(value);
  const joined = useRef(join);
  if (known !== key) {
    setKnown(key);
    setValue(read<T>(key));
  }
  useEffect(() => {
    current.current = value;
    joined.current = join;
  });
  useEffect(() => {
    let gone = false;
    void inherit<T>(person, name).then((left) => {
      if (left.length === 0) return;
      const next = joined.current(gone ? read<T>(key) : current.current, left);
      write(key, next);
      if (!gone) setValue(next);
    });
    return () => {
      gone = true;
    };
  }, [person, name, key]);
  const set = useCallback(
    (next: T | undefined) => {
      write(key, next);
      setValue(next);
    },
    [key],
  );
  return [value, set];
}
