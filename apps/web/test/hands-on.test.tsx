/** @jest-environment jsdom */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { OverTime } from '../src/charts/over-time.tsx';
import { VerdictBar, VerdictShapes } from '../src/charts/verdict-bar.tsx';
import { FileButton } from '../src/kit/file-button.tsx';
import { useGridKeys } from '../src/kit/use-grid-keys.ts';
import type { GaugeCounts } from '../src/pages/briefs/gauge-counts.ts';
import { OfCohort } from '../src/pages/of-cohort.tsx';
import { GaugeLine } from '../src/pages/briefs/gauge-line.tsx';

describe('a band on its number line', () => {
  const counts: GaugeCounts = {
    shots: [{ shot: 'a', student: 'Hoku Kealoha', value: 7.5, judgement: 'outside' }],
    inside: 0,
    near: 0,
    outside: 1,
  };
  function Line({ start = [2, 5] }: { start?: [number, number] }) {
    const [band, setBand] = useState<[number, number]>(start);
    return <GaugeLine band={band} near={[0.5, 1]} counts={counts} exemplar={[3]} label="gait bob" onChange={setBand} />;
  }
  const ends = () => ['lowest', 'highest'].map((end) => screen.getByRole('slider', { name: `gait bob, ${end}` }));
  const now = () => ends().map((end) => Number(end.getAttribute('aria-valuenow')));

  test('each end goes by the arrow keys, ten times as far with shift', () => {
    render(<Line />);
    const [low, high] = ends();
    fireEvent.keyDown(low!, { key: 'ArrowRight' });
    const step = now()[0]! - 2;
    expect(step).toBeGreaterThan(0);
    fireEvent.keyDown(low!, { key: 'ArrowLeft' });
    expect(now()).toEqual([2, 5]);
    fireEvent.keyDown(high!, { key: 'ArrowUp', shiftKey: true });
    expect(now()[1]! - 5).toBeCloseTo(10 * step, 9);
    fireEvent.keyDown(high!, { key: 'a' });
    expect(now()[1]! - 5).toBeCloseTo(10 * step, 9);
  });

  test('one end never passes the other', () => {
    render(<Line start={[2, 2.05]} />);
    const [low, high] = ends();
    for (let k = 0; k < 30; k++) fireEvent.keyDown(low!, { key: 'ArrowRight', shiftKey: true });
    expect(now()[0]).toBe(now()[1]);
    for (let k = 0; k < 30; k++) fireEvent.keyDown(high!, { key: 'ArrowLeft', shiftKey: true });
    expect(now()[1]).toBeGreaterThanOrEqual(now()[0]!);
  });

  test('shots and the exemplar say what they are', () => {
    render(<Line />);
    expect(screen.getByText('Hoku Kealoha: 7.5, outside')).toBeTruthy();
    expect(screen.getByText('the exemplar: 3')).toBeTruthy();
  });
});

describe('the keys of a grid', () => {
  function Grid({ rows, reveal }: { rows: number; reveal: (row: number) => void }) {
    const keys = useGridKeys(rows, 3, reveal);
    return (
      <table role="grid" onKeyDown={keys.onKeyDown}>
        <tbody>
          {Array.from({ length: rows }, (_, row) => (
            <tr key={row}>
              {[0, 1, 2].map((column) => (
                <td key={column} role="gridcell" {...keys.cell(row, column)}>
                  <a href={`#${row},${column}`} tabIndex={-1}>
                    {row},{column}
                  </a>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    );
  }
  const focused = (): string | null => document.activeElement?.getAttribute('data-cell') ?? null;
  const press = (key: string, more: object = {}): void =>
    void fireEvent.keyDown(document.activeElement!, { key, ...more });

  test('one cell is reached by Tab; arrows, Home, End and pages go on from it, and stop at the edges', () => {
    const revealed: number[] = [];
    const { container } = render(<Grid rows={50} reveal={(row) => revealed.push(row)} />);
    expect(container.querySelectorAll('[tabindex="0"]')).toHaveLength(1);
    act(() => container.querySelector<HTMLElement>('[tabindex="0"]')!.focus());
    const way: [string, object, string][] = [
      ['ArrowDown', {}, '1,0'],
      ['ArrowRight', {}, '1,1'],
      ['End', {}, '1,2'],
      ['ArrowRight', {}, '1,2'],
      ['Home', {}, '1,0'],
      ['PageDown', {}, '21,0'],
      ['End', { ctrlKey: true }, '49,2'],
      ['ArrowDown', {}, '49,2'],
      ['Home', { ctrlKey: true }, '0,0'],
      ['ArrowUp', {}, '0,0'],
    ];
    for (const [key, more, cell] of way) {
      press(key, more);
      expect([key, focused()]).toEqual([key, cell]);
    }
    expect(revealed).toContain(49);
    expect(container.querySelectorAll('[tabindex="0"]')).toHaveLength(1);
  });

  test('Enter follows the link of a cell', () => {
    const { container } = render(<Grid rows={2} reveal={() => undefined} />);
    const cell = container.querySelector<HTMLElement>('[data-cell="1,2"]')!;
    const clicked = jest.fn((event: Event) => event.preventDefault());
    cell.querySelector('a')!.addEventListener('click', clicked);
    act(() => cell.focus());
    press('Enter');
    expect(clicked).toHaveBeenCalledTimes(1);
  });
});

describe('charts', () => {
  test('verdicts are said, and drawn as wide as they are many', () => {
    const { container } = render(<VerdictBar verdicts={{ inside: 6, near: 2, outside: 4, unjudged: 9 }} width={121} />);
    expect(screen.getByRole('img', { name: '6 inside, 2 near, 4 outside' })).toBeTruthy();
    const widths = [...container.querySelectorAll('rect')].map((rect) => Number(rect.getAttribute('width')));
    expect(widths).toEqual([60, 20, 20, 40].map((width) => expect.closeTo(width, 6)));
    render(<VerdictBar verdicts={{ inside: 0, near: 0, outside: 0, unjudged: 3 }} />);
    expect(screen.getByText('nothing judged')).toBeTruthy();
  });

  test('values over time stand in their order, higher where they are more; one alone and none are drawn as well', () => {
    const at = (day: number): Date => new Date(Date.UTC(2026, 9, day));
    const values = [1, 4, 9].map((day, k) => ({ at: at(day), value: k, say: `day ${day}` }));
    const { container } = render(<OverTime values={values} label="outside" tick={String} />);
    const dots = [...container.querySelectorAll('circle')].map((dot) => [
      Number(dot.getAttribute('cx')),
      Number(dot.getAttribute('cy')),
    ]);
    expect(dots[0]![0]).toBeLessThan(dots[1]![0]!);
    expect(dots[1]![0]).toBeLessThan(dots[2]![0]!);
    expect(dots[0]![1]).toBeGreaterThan(dots[2]![1]!);
    // The days between are as far apart as they are long.
    expect((dots[2]![0]! - dots[1]![0]!) / (dots[1]![0]! - dots[0]![0]!)).toBeCloseTo(5 / 3, 6);
    const one = render(<OverTime values={values.slice(0, 1)} label="one" tick={String} />);
    expect(Number(one.container.querySelector('circle')!.getAttribute('cx'))).toBeGreaterThan(0);
    render(<OverTime values={[]} label="none" tick={String} />);
    expect(screen.getByText('Nothing yet.')).toBeTruthy();
  });
});

test('the same file can be chosen twice in a row', () => {
  const got: string[] = [];
  const { container } = render(
    <FileButton onFiles={(files) => got.push(...files.map(({ name }) => name))}>Choose</FileButton>,
  );
  const input = container.querySelector('input')!;
  const file = new File(['x'], 'roster.csv');
  for (let k = 0; k < 2; k++) {
    Object.defineProperty(input, 'files', { value: [file], configurable: true });
    fireEvent.change(input);
  }
  fireEvent.change(input, { target: { files: [] } });
  expect(got).toEqual(['roster.csv', 'roster.csv']);
});

test('what belongs to one cohort can’t be used while another is chosen and on its way', () => {
  const page = (chosen: string) => (
    <OfCohort chosen={chosen} shown="monday">
      <button type="button">Grades (CSV)</button>
    </OfCohort>
  );
  const { rerender, container } = render(page('monday'));
  const whole = container.firstElementChild!;
  expect([whole.hasAttribute('inert'), whole.getAttribute('aria-busy')]).toEqual([false, 'false']);
  rerender(page('thursday'));
  expect([whole.hasAttribute('inert'), whole.getAttribute('aria-busy')]).toEqual([true, 'true']);
});

test.each([
  [{ inside: 12, near: 0, outside: 0, unjudged: 2 }, '●', 'all inside'],
  [{ inside: 9, near: 2, outside: 3, unjudged: 0 }, '○ 3  ◐ 2', '3 outside, 2 near'],
  [{ inside: 9, near: 1, outside: 0, unjudged: 0 }, '◐ 1', '1 near'],
  [{ inside: 0, near: 0, outside: 0, unjudged: 4 }, 'nothing judged', undefined],
])('what was found stands in the shapes of verdicts: %j', (verdicts, shown, said) => {
  const { container } = render(<VerdictShapes verdicts={verdicts} />);
  expect(container.textContent).toBe(`${shown}${said ?? ''}`);
});
