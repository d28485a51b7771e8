import { type KeyboardEvent, useRef, useState } from 'react';

const STEPS: Readonly<Record<string, readonly [row: number, column: number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageUp: [-20, 0],
  PageDown: [20, 0],
};

interface CellProps {
  readonly tabIndex: 0 | -1;
  readonly 'data-cell': string;
  readonly onFocus: () => void;
}

/**
 * The keys of a grid: one cell at a time is reached by Tab; the arrows go on from it, Home and End to the ends of its row, Enter follows its link. By the
 * pattern “grid” of the WAI-ARIA Authoring Practices.
 *
 * @param reveal brings a row into sight that is not drawn
 */
export function useGridKeys(
  rows: number,
  columns: number,
  reveal: (row: number) => void,
): { onKeyDown: (event: KeyboardEvent<HTMLElement>) => void; cell: (row: number, column: number) => CellProps } {
  const [at, setAt] = useState<readonly [number, number]>([0, 0]);
  const wanted = useRef(0);
  const go = (grid: HTMLElement, row: number, column: number): void => {
    const [r, c] = [Math.max(0, Math.min(rows - 1, row)), Math.max(0, Math.min(columns - 1, column))];
    setAt([r, c]);
    reveal(r);
    const ticket = ++wanted.current;
    // A row that was out of sight is drawn with the next frames.
    const focus = (tries: number): void => {
      if (ticket !== wanted.current) return;
      const found = grid.querySelector<HTMLElement>(`[data-cell="${r},${c}"]`);
      if (found) found.focus();
      else if (tries > 0) requestAnimationFrame(() => focus(tries - 1));
    };
    focus(10);
  };
  return {
    onKeyDown: (event) => {
      const cell = (event.target as HTMLElement).closest('[data-cell]');
      if (!cell || (event.target as HTMLElement).matches('input, select, textarea')) return;
      const [row, column] = at;
      const by = STEPS[event.key];
      if (by) go(event.currentTarget, row + by[0], column + by[1]);
      else if (event.key === 'Home') go(event.currentTarget, event.ctrlKey ? 0 : row, 0);
      else if (event.key === 'End') go(event.currentTarget, event.ctrlKey ? rows - 1 : row, columns - 1);
      else if (event.key === 'Enter' && event.target === cell) cell.querySelector<HTMLElement>('a')?.click();
      else return;
      event.preventDefault();
    },
    cell: (row, column) => ({
      tabIndex: at[0] === row && at[1] === column ? 0 : -1,
      'data-cell': `${row},${column}`,
      onFocus: () => setAt([row, column]),
    }),
  };
}
