import type { PencilLine } from '@ypsigraph/contract/marks';
import { lineGrips, pulledLine } from '../src/desk/marks/line-grips.ts';

/** A straight line of so many points, one apart. */
const line = (count: number): PencilLine => ({
  sticks: 'place',
  points: Array.from({ length: count }, (_, k) => [k, 0, 0]).flat(),
});
const up = ({ points }: PencilLine): number[] => points.filter((_, k) => k % 3 === 1);

test('a line is held by both ends and its middle, two points by both, a dot by itself', () => {
  expect(lineGrips([line(5)]).map(({ end, at }) => [end, at[0]])).toEqual([
    ['start', 0],
    ['middle', 2],
    ['end', 4],
  ]);
  expect(lineGrips([line(2), line(1)]).map(({ line: own, end }) => [own, end])).toEqual([
    [0, 'start'],
    [0, 'end'],
    [1, 'start'],
  ]);
});

test('the middle is that of its way, not of its points', () => {
  const uneven: PencilLine = { sticks: 'place', points: [0, 0, 0, 1, 0, 0, 2, 0, 0, 3, 0, 0, 10, 0, 0] };
  expect(lineGrips([uneven])[1]!.at[0]).toBe(3);
});

test('an end that is pulled takes the line along softly, and the other end stays', () => {
  const pulled = pulledLine(line(5), 'end', [0, 4, 0]);
  const [first, second, third, fourth, last] = up(pulled) as [number, number, number, number, number];
  expect([first, third, last]).toEqual([expect.closeTo(0, 9), expect.closeTo(2, 9), expect.closeTo(4, 9)]);
  expect(second).toBeLessThan(1);
  expect(fourth).toBeGreaterThan(3);
  // Nothing goes where it was not pulled to.
  expect(pulled.points.filter((_, k) => k % 3 !== 1)).toEqual(line(5).points.filter((_, k) => k % 3 !== 1));
});

test('a middle that is pulled bends the line between its ends', () => {
  const bent = up(pulledLine(line(5), 'middle', [0, 4, 0]));
  expect(bent).toEqual([0, 2, 4, 2, 0].map((value) => expect.closeTo(value, 9) as number));
});

test('a dot, and a line whose points all lie in one place, go as a whole', () => {
  expect(up(pulledLine(line(1), 'start', [0, 3, 0]))).toEqual([3]);
  const heap: PencilLine = { sticks: 'point', points: new Array<number>(9).fill(1) };
  expect(pulledLine(heap, 'start', [0, 0, 0])).toEqual(heap);
  expect(pulledLine(heap, 'end', [0, 2, 0]).points.every(Number.isFinite)).toBe(true);
});
