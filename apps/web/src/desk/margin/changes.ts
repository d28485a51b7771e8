import { type Change, changesBetween, type Regression, regressionsIn } from '@ypsigraph/core/align/change';
import type { FrameMap } from '@ypsigraph/core/align/frame-map';
import { type Gauge, isDue, isFor, judgeBy, type Stage } from '@ypsigraph/core/gauge/gauge';
import { sayQuote } from '@ypsigraph/core/mark/quote';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { sayReading } from '@ypsigraph/core/say/sentence';
import type { StoredReport } from '@ypsigraph/contract/shots';

/** What became of the readings of an earlier revision. */
export interface Since {
  /** Inside their bands then, outside now: the heaviest first, each with its reading of now. */
  readonly regressions: readonly { readonly change: Regression; readonly reading: Reading; readonly say: string }[];
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
  const [then, now] = [before, after].map(({ readings, unmade }) => ({
    readings: readings,
    unmade: unmade,
  }));
  const all = changesBetween(then!, now!, map);
  const found = regressionsIn(all, gauges, stage, now!.readings);
  const regressions = found.flatMap((change) => {
    const reading = now!.readings.find(
      (own) => own.id === change.id && own.part === change.part && own.value === change.after,
    );
    if (!reading) return [];
    const told = { judgement: 'outside', side: sideOf(change) } as const;
    return [{ change, reading, say: sayReading(reading, told) }];
  });
  const worse = new Set(found.map(keyOf));
  const gaugeOf = ({ id, part }: Change): Gauge | undefined =>
    gauges.find(
      (gauge) =>
        gauge.reading === id &&
        isDue(gauge, stage) &&
        isFor(gauge, part) &&
        gauge.of === undefined &&
        gauge.over === undefined &&
        gauge.per === undefined,
    );
  const judged = (change: Change, value: Change['after']): string | undefined => {
    const gauge = gaugeOf(change);
    return gauge && value !== null ? judgeBy(gauge, value).judgement : undefined;
  };
  const mended = all.filter(
    (change) => judged(change, change.before) === 'outside' && judged(change, change.after) === 'inside',
  );
  const better = new Set(mended.map(keyOf));
  const others = all
    .filter((change) => gaugeOf(change) && !worse.has(keyOf(change)) && !better.has(keyOf(change)))
    .filter((change) => howMuch(change) > TRIFLE)
    .sort((a, b) => howMuch(b) - howMuch(a));
  return { regressions, mended, others };
}

/** On which side of its band a reading now lies. */
function sideOf({ after, band }: Regression): -1 | 0 | 1 {
  if (!band || typeof after !== 'number') return 0;
  return after < band[0] ? -1 : after > band[1] ? 1 : 0;
}

const keyOf = ({ id, part, framesAfter, framesBefore }: Change): string =>
  `${id} ${part ?? ''} ${(framesAfter ?? framesBefore ?? [])[0] ?? ''}`;

/** By what share of the larger of the two a reading differs; of what is no number, or was not there, 0. */
export function howMuch({ before, after }: Pick<Change, 'before' | 'after'>): number {
  if (typeof before !== 'number' || typeof after !== 'number') return 0;
  const most = Math.max(Math.abs(before), Math.abs(after));
  return most < 1e-9 ? 0 : Math.abs(after - before) / most;
}

/** One line of what became of readings: those of one id whose values are the same on several parts are one. */
export interface ChangeLine {
  readonly id: string;
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
    const key = `${change.id} ${before} ${after}`;
    const line = lines.get(key) ?? { id: change.id, parts: [], before, after, at: change.framesAfter?.[0] };
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
