import { folds } from '../gauge/causes.ts';
import { type Gauge, isDue, judgedUnit, judgedValue, type Verdict, verdicts } from '../gauge/gauge.ts';
import type { Stage } from '../trade/stages.ts';
import { splitCharacter } from '../measure/characters.ts';
import type { Measured, Reading } from '../measure/reading.ts';
import { asChange, type Change, type Pairing, pairsBetween } from './change.ts';
import type { FrameMap } from './frame-map.ts';

type Judged = Verdict & { readonly reading: Reading };

/** A reading of one revision beside the same of another, each held against the same gauge. */
export interface JudgedChange {
  /** Its values are those that the gauge judges: of a gauge on a detail, the detail's. */
  readonly change: Change;
  readonly gauge: Gauge;
  /** Undefined where that revision has no such reading, or its gauge leaves it out. */
  readonly then: Judged | undefined;
  readonly now: Judged | undefined;
}

/** A reading that was inside its band then and is outside now, as it is told to programs. */
export interface Regression extends Change {
  /** In the unit of the value. */
  readonly band?: readonly [number, number];
  readonly allowed?: readonly (string | boolean)[];
  readonly weight: number;
  readonly why: string;
}

/**
 * What every gauge of a stage says of two revisions. A band that is a share of the step is held against each revision's own step, so that a
 * retime alone changes no verdict.
 *
 * @param map where the frames of the earlier one are in the later one; empty where that is not known
 */
export function judgedChanges(
  before: Measured,
  after: Measured,
  map: FrameMap,
  gauges: readonly Gauge[],
  stage: Stage,
): JudgedChange[] {
  const pairs = pairsBetween(before, after, map);
  return gauges
    .filter((gauge) => isDue(gauge, stage))
    .flatMap((gauge) => {
      const [then, now] = [judged(gauge, before, stage), judged(gauge, after, stage)];
      return gauge.over === 'spread' ? spreads(gauge, then, now) : each(gauge, pairs, then, now);
    });
}

const judged = (gauge: Gauge, measured: Measured, stage: Stage): Judged[] =>
  verdicts([gauge], measured, stage).filter((verdict): verdict is Judged => verdict.reading !== undefined);

function each(
  gauge: Gauge,
  pairs: readonly Pairing[],
  then: readonly Judged[],
  now: readonly Judged[],
): JudgedChange[] {
  const [old, own] = [then, now].map((all) => new Map(all.map((verdict) => [verdict.reading, verdict])));
  return pairs.flatMap((pair) => {
    const [first, second] = [pair[0] && old!.get(pair[0]), pair[1] && own!.get(pair[1])];
    return first || second ? [{ change: changeOf(gauge, pair), gauge, then: first, now: second }] : [];
  });
}

/** Of a gauge on how far several readings are apart there is one verdict a character. */
function spreads(gauge: Gauge, then: readonly Judged[], now: readonly Judged[]): JudgedChange[] {
  const whose = ({ reading }: Judged): string | undefined => splitCharacter(reading.part).character;
  return [...new Set([...then, ...now].map(whose))].map((character) => {
    const [first, second] = [then, now].map((all) => all.find((verdict) => whose(verdict) === character));
    return { change: changeOf(gauge, [first?.reading, second?.reading]), gauge, then: first, now: second };
  });
}

function changeOf(gauge: Gauge, pair: Pairing): Change {
  if (gauge.of === undefined) return asChange(pair);
  const [before, after] = pair.map((reading) => (reading && judgedValue(gauge, reading)) ?? null);
  return {
    ...asChange(pair),
    of: gauge.of,
    unit: judgedUnit(gauge, (pair[1] ?? pair[0])!),
    before: before!,
    after: after!,
  };
}

/**
 * Of what the gauges say of two revisions, what went from inside its band to outside: the heaviest first, one cause told once.
 *
 * @param made the earlier revision's readings: a hold or a pop that was not there was not wrong, but what could not be made at all was not right either
 */
export function regressionsAmong(
  changes: readonly JudgedChange[],
  made: readonly Reading[],
): (JudgedChange & { readonly now: Judged })[] {
  const known = new Set(made.map(({ id }) => id));
  const broke = (own: JudgedChange): own is JudgedChange & { readonly now: Judged } =>
    own.now?.judgement === 'outside' &&
    (own.then?.judgement === 'inside' ||
      (own.then === undefined && own.change.before === null && known.has(own.change.id)));
  const found = changes.filter(broke).sort((a, b) => b.gauge.weight - a.gauge.weight);
  // A knee that snaps explains the shin that is out of place. Of two that explain each other the first is kept.
  const explains = (cause: (typeof found)[number], effect: (typeof found)[number]): boolean =>
    cause.now.reading !== effect.now.reading && folds(cause.now.reading, effect.now.reading, 'outside');
  return found.filter(
    (own, k) => !found.some((other, at) => explains(other, own) && (at < k || !explains(own, other))),
  );
}

/** Regressions between two revisions, as they are told to programs. */
export const regressionsBetween = (...of: Parameters<typeof judgedChanges>): Regression[] =>
  regressionsAmong(judgedChanges(...of), of[0].readings).map(({ change, now: { gauge } }) => ({
    ...change,
    ...(gauge.band && { band: gauge.band }),
    ...(gauge.allowed && { allowed: gauge.allowed }),
    weight: gauge.weight,
    why: gauge.why,
  }));
