import { toldBy, type Verdict } from '@ypsigraph/core/gauge/gauge';
import type { Told } from '@ypsigraph/core/measure/describe';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { readingName } from '@ypsigraph/core/measure/registry';
import { sayReadingValue, sayValue } from '@ypsigraph/core/mark/quote';
import { median } from '@ypsigraph/core/signal/statistics';

/** One cell of the table: what one side, or the middle, has. */
export interface Cell {
  readonly text: string;
  /** Where it lies on its number line, and its band there; undefined for what is no number or has no band. */
  readonly line?: { readonly at: number; readonly low: number; readonly high: number };
  readonly judgement: 'inside' | 'near' | 'outside' | undefined;
  /** What its sentence is told: what the gauge on its value says. */
  readonly told: Told | undefined;
  /** How many readings it stands for, and how far they spread. */
  readonly times: number;
  readonly spread: string;
  /** Frames of the worst of them. */
  readonly frames: readonly number[];
  readonly reading: Reading;
}

/** A reading, with left and right beside each other where it has sides. */
export interface Row {
  readonly id: string;
  readonly name: string;
  /** The part it belongs to without its side; empty for the whole body. */
  readonly part: string;
  readonly left?: Cell;
  readonly right?: Cell;
  readonly middle?: Cell;
}

const sideOf = (part: string | undefined): 'left' | 'right' | 'middle' =>
  part?.endsWith('.L') ? 'left' : part?.endsWith('.R') ? 'right' : 'middle';

/**
 * Readings as rows of a table: those of one id and part are one row, with left and right beside each other; of a reading that repeats its
 * worst is told, how often it is there, and from where to where it goes.
 *
 * @param told what the gauges say of these very readings
 */
export function readingRows(readings: readonly Reading[], told: readonly Verdict[]): Row[] {
  const verdictsOn = new Map<Reading, Verdict[]>();
  for (const verdict of told)
    if (verdict.reading) verdictsOn.set(verdict.reading, [...(verdictsOn.get(verdict.reading) ?? []), verdict]);
  const groups = new Map<string, Reading[]>();
  for (const reading of readings) {
    const key = `${reading.id}\n${reading.part ?? ''}`;
    const group = groups.get(key);
    if (group) group.push(reading);
    else groups.set(key, [reading]);
  }
  const rows = new Map<string, { id: string; name: string; part: string; left?: Cell; right?: Cell; middle?: Cell }>();
  for (const group of groups.values()) {
    const { id, part } = group[0]!;
    const whole = part?.replace(/\.[LR]$/, '') ?? '';
    const row = rows.get(`${id}\n${whole}`) ?? { id, name: readingName(id), part: whole };
    row[sideOf(part)] = cellOf(group, verdictsOn);
    rows.set(`${id}\n${whole}`, row);
  }
  return [...rows.values()];
}

/** What one revision has of a row, as it is told beside another's. */
export interface Then {
  readonly number: number;
  readonly left?: string;
  readonly right?: string;
  readonly middle?: string;
}

/** A row, and what other revisions have of it; a row that only others have has no cells of its own. */
export interface RowBeside extends Row {
  readonly then: readonly Then[];
}

/** Rows of one revision with those of others beside them, the latest first. */
export function rowsBeside(
  own: readonly Row[],
  others: readonly { readonly number: number; readonly rows: readonly Row[] }[],
): RowBeside[] {
  const keyOf = ({ id, part }: Row): string => `${id}\n${part}`;
  const later = others.toSorted((a, b) => b.number - a.number);
  const byKey = later.map(({ number, rows }) => ({ number, rows: new Map(rows.map((row) => [keyOf(row), row])) }));
  const all = new Map([...later.flatMap(({ rows }) => rows), ...own].map((row) => [keyOf(row), row]));
  const mine = new Map(own.map((row) => [keyOf(row), row]));
  return [...own, ...[...all.values()].filter((row) => !mine.has(keyOf(row)))].map((row): RowBeside => {
    const { id, name, part } = row;
    return {
      ...(mine.get(keyOf(row)) ?? { id, name, part }),
      then: byKey.map(({ number, rows }) => thenOf(number, rows.get(keyOf(row)))),
    };
  });
}

function thenOf(number: number, row: Row | undefined): Then {
  const { left, right, middle } = row ?? {};
  return {
    number,
    ...(left && { left: left.text }),
    ...(right && { right: right.text }),
    ...(middle && { middle: middle.text }),
  };
}

/** Rows in which nothing is wrong anywhere: faults of value 0 that no gauge minds. They are told in one line an id. */
export const isQuiet = ({ left, right, middle }: Row): boolean =>
  [left, right, middle].every(
    (cell) => cell === undefined || (cell.reading.value === 0 && cell.frames.length === 0 && !cell.line),
  );

/** How bad the worst of a row is: outside before near before inside. */
export const worstOf = ({ left, right, middle }: Row): number =>
  Math.max(0, ...[left, right, middle].map((cell) => (cell?.judgement ? ORDER.indexOf(cell.judgement) : 0)));

/** Judgements from the best to the worst. */
const ORDER = ['inside', 'near', 'outside'] as const;

const rankOf = (verdict: Verdict | undefined): number =>
  verdict && verdict.judgement !== 'unmade' ? ORDER.indexOf(verdict.judgement) : 0;

/** Of several verdicts the one that is worst, and of those the one farthest outside. */
const isWorse = (a: Verdict | undefined, b: Verdict | undefined): boolean =>
  rankOf(a) > rankOf(b) || (rankOf(a) === rankOf(b) && Math.abs(a?.distance ?? 0) > Math.abs(b?.distance ?? 0));

function cellOf(group: readonly Reading[], verdictsOn: ReadonlyMap<Reading, readonly Verdict[]>): Cell {
  const judged = group.map((reading) => {
    const told = verdictsOn.get(reading) ?? [];
    return { reading, told, verdict: told.reduce((worst, own) => (isWorse(own, worst) ? own : worst), told[0]) };
  });
  const worst = judged.reduce((best, own) => (isWorse(own.verdict, best.verdict) ? own : best));
  const numbers = group.flatMap(({ value }) => (typeof value === 'number' ? [value] : []));
  const { unit, value } = worst.reading;
  const several = numbers.length > 1;
  const [low, high] = [Math.min(...numbers), Math.max(...numbers)];
  const own = typeof value === 'number' && several && !worst.verdict ? median(numbers) : value;
  // The number line is of the value that is told; a gauge on a detail has another.
  const plain = worst.told.find(({ gauge }) => gauge.of === undefined);
  const band = plain?.gauge.band;
  return {
    text: sayReadingValue(worst.reading.id, own, unit).replace(' of a leg', ''),
    ...(band && typeof own === 'number' && { line: onLine(own, band) }),
    judgement: worst.verdict ? ORDER[rankOf(worst.verdict)] : undefined,
    told: plain && toldBy(plain),
    times: group.length,
    spread: several && high > low ? `${sayValue(low, '')} to ${sayValue(high, '')}` : '',
    frames: worst.reading.frames ?? [],
    reading: worst.reading,
  };
}

/** A value and its band as shares of a short line that has room for both. */
function onLine(value: number, [low, high]: readonly [number, number]): { at: number; low: number; high: number } {
  const [a, b] = [
    Number.isFinite(low) ? low : Math.min(value, high),
    Number.isFinite(high) ? high : Math.max(value, low),
  ];
  const room = Math.max(b - a, 1e-9) * 0.6;
  const from = Math.min(a, value) - room * 0.3;
  const to = Math.max(b, value) + room * 0.3;
  const share = (own: number): number => Math.min(1, Math.max(0, (own - from) / (to - from)));
  return { at: share(value), low: Number.isFinite(low) ? share(a) : 0, high: Number.isFinite(high) ? share(b) : 1 };
}
