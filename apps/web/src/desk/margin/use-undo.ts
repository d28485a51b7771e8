import { useCallback, useEffect, useRef } from 'react';

/** How many steps back. */
const MOST = 100;

/** A value whose changes can be taken back and done again. What is typed letter by letter is one step. */
export function useUndo<T>(value: T | undefined, set: (value: T | undefined) => void) {
  const past = useRef<(T | undefined)[]>([]);
  const future = useRef<(T | undefined)[]>([]);
  const current = useRef(value);
  const at = useRef(0);
  useEffect(() => {
    current.current = value;
  });
  const change = useCallback(
    (next: T | undefined) => {
      const now = Date.now();
      // Changes that follow one another at once are one.
      if (now - at.current > 400) past.current = [...past.current, current.current].slice(-MOST);
      at.current = now;
      future.current = [];
      set(next);
    },
    [set],
  );
  const undo = useCallback(() => {
    if (past.current.length === 0) return;
    future.current = [current.current, ...future.current];
    const before = past.current.at(-1);
    past.current = past.current.slice(0, -1);
    at.current = 0;
    set(before);
  }, [set]);
  const redo = useCallback(() => {
    if (future.current.length === 0) return;
    past.current = [...past.current, current.current];
    const [next, ...rest] = future.current;
    future.current = rest;
    at.current = 0;
    set(next);
  }, [set]);
  return { value, set: change, undo, redo };
}
