import type { Change } from '@ypsigraph/core/align/change';
import type { FrameMap } from '@ypsigraph/core/align/frame-map';
import { type JudgedChange, judgedChanges, regressionsAmong } from '@ypsigraph/core/align/regressions';
import { sayFinding } from '@ypsigraph/core/gauge/findings';
import type { Gauge } from '@ypsigraph/core/gauge/gauge';
import type { Stage } from '@ypsigraph/core/trade/stages';
import { sayQuote } from '@ypsigraph/core/mark/quote';
import type { Reading } from '@ypsigraph/core/measure/reading';
import type { StoredReport } from '@ypsigraph/contract/shots';

/** What became of the readings of an earlier revision. */
export interface Since {
  /** Inside their bands then, outside now: the heaviest first, each with its reading of now. */
  readonly regressions: readonly {
    readonly change: Change;
    readonly reading: Reading;
    readonly gauge: Gauge;
    readonly say: string;
  }[];
  /** Outside their bands then, inside now. */
  readonly mended: readonly Change[];
  /** Other readings that a gauge looks at and that differ by more than a trifle, those that differ most first. */
  readonly others: readonly Change[];
}

/** A reading that differs by less than this share of what it was has not changed. */
const TRIFLE = 0.05;

/** Holds one report against an earlier one of the same shot. */
export function changesSince(
  before: StoredReport,
  after: StoredReport,
  map: FrameMap,
  gauges: readonly Gauge[],
  stage: Stage,
): Since {
  const all = judgedChanges(before, after, map, gauges, stage);
  const worse = regressionsAmong(all, before.readings);
  const better = all.filter(({ then, now }) => then?.judgement === 'outside' && now?.judgement === 'inside');
  const told = new Set([...worse, ...better].map(keyOf));
  const others = all
    .filter((own) => own.then && own.now && !told.has(keyOf(own)) && howMuch(own.change) > TRIFLE)
    .sort((a, b) => howMuch(b.change) - howMuch(a.change));
  return {
    regressions: worse.map(({ change, now }) => ({
      change,
      reading: now.reading,
      gauge: now.gauge,
      say: sayFinding(now),
    })),
    mended: eachOnce(better),
    others: eachOnce(others),
  };
}

/** A reading that two gauges look at is one; a detail of it is another. */
const keyOf = ({ change: { id, part, of, framesAfter, framesBefore } }: JudgedChange): string =>
  `${id} ${part ?? ''} ${of ?? ''} ${(framesAfter ?? framesBefore ?? [])[0] ?? ''}`;

const eachOnce = (changes: readonly JudgedChange[]): Change[] =>
  [...new Map(changes.map((own) => [keyOf(own), own])).values()].map(({ change }) => change);

/** By what share of the larger of the two a reading differs; of what is no number, or was not there, 0. */
export function howMuch({ before, after }: Pick<Change, 'before' | 'after'>): number {
  if (typeof before !== 'number' || typeof after !== 'number') return 0;
  const most = Math.max(Math.abs(before), Math.abs(after));
  return most < 1e-9 ? 0 : Math.abs(after - before) / most;
}

/** One line of what became of readings: those of one id whose values are the same on several parts are one. */
export interface ChangeLine {
  readonly id: string;
  /** The detail that is told, where it is not the reading's own value. */
  readonly of: string | undefined;
  readonly parts: readonly string[];
  readonly before: string;
  readonly after: string;
  /** Label at which it is seen now. */
  readonly at: number | undefined;
}

/** Changes as lines, left and right together where they are alike. */
export function changeLines(changes: readonly Change[]): ChangeLine[] {
  const lines = new Map<string, ChangeLine>();
  for (const change of changes) {
    const [before, after] = [valueThen(change), valueNow(change)];
    const key = `${change.id} ${change.of ?? ''} ${before} ${after}`;
    const line = lines.get(key) ?? {
      id: change.id,
      of: change.of,
      parts: [],
      before,
      after,
      at: change.framesAfter?.[0],
    };
    const parts = change.part === undefined ? line.parts : [...new Set([...line.parts, change.part])];
    lines.set(key, { ...line, parts });
  }
  return [...lines.values()];
}

/** What an earlier revision had of a reading, in words. */
export const valueThen = ({ id, unit, before, framesBefore }: Change): string => told(id, unit, before, framesBefore);
const valueNow = ({ id, unit, after, framesAfter }: Change): string => told(id, unit, after, framesAfter);

function told(id: string, unit: string, value: Change['before'], frames: readonly number[] | undefined): string {
  if (value === null) return 'not there';
  // A fault that is nowhere has the value 0 and no frames.
  if (value === 0 && (frames ?? []).length === 0) return 'none';
  return sayQuote({ reading: id, value, unit }).now;
}
