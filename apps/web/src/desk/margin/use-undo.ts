import { useCallback, useEffect, useRef } from 'react';

/** How many steps back. */
const MOST = 100;

/** From the value as it is when the change is made, which may be newer than the one on the page. */
export type Update<T> = (now: T | undefined) => T | undefined;

/**
 * A value whose changes can be taken back and done again. What is typed letter by letter is one step, and so is what one drag does; each time
 * a pointer goes down a new step begins.
 */
export function useUndo<T>(value: T | undefined, set: (value: T | undefined) => void) {
  const past = useRef<(T | undefined)[]>([]);
  const future = useRef<(T | undefined)[]>([]);
  const current = useRef(value);
  const at = useRef(0);
  useEffect(() => {
    current.current = value;
  }, [value]);
  useEffect(() => {
    const begin = (): void => void (at.current = 0);
    window.addEventListener('pointerdown', begin, true);
    return () => window.removeEventListener('pointerdown', begin, true);
  }, []);
  const change = useCallback(
    (update: Update<T>) => {
      const next = update(current.current);
      const now = Date.now();
      // Changes that follow one another at once are one.
      if (now - at.current > 400) past.current = [...past.current, current.current].slice(-MOST);
      at.current = now;
      future.current = [];
      current.current = next;
      set(next);
    },
    [set],
  );
  /** What follows from a change by itself: no step of its own. */
  const amend = useCallback(
    (update: Update<T>) => {
      const next = update(current.current);
      if (next !== current.current) set(next);
      current.current = next;
      return next;
    },
    [set],
  );
  const undo = useCallback(() => {
    if (past.current.length === 0) return;
    future.current = [current.current, ...future.current];
    const before = past.current.at(-1);
    past.current = past.current.slice(0, -1);
    at.current = 0;
    current.current = before;
    set(before);
  }, [set]);
  const redo = useCallback(() => {
    if (future.current.length === 0) return;
    past.current = [...past.current, current.current];
    const [next, ...rest] = future.current;
    future.current = rest;
    at.current = 0;
    current.current = next;
    set(next);
  }, [set]);
  return { value, change, amend, undo, redo };
}
