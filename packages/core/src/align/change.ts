import { type Gauge, isDue, isFor, judgeBy, type Stage } from '../gauge/gauge.ts';
import { folds } from '../gauge/causes.ts';
import type { Measured, Reading } from '../measure/reading.ts';
import { type FrameMap, mapLabel } from './frame-map.ts';

/** A reading of one revision beside the same of another. */
export interface Change {
  readonly id: string;
  readonly part?: string;
  readonly unit: string;
  /** Null where that revision has none. */
  readonly before: Reading['value'] | null;
  readonly after: Reading['value'] | null;
  /** Labels in each revision. */
  readonly framesBefore?: readonly number[];
  readonly framesAfter?: readonly number[];
}

/** A reading that was inside its band then and is outside now. */
export interface Regression extends Change {
  readonly band?: readonly [number, number];
  readonly allowed?: readonly (string | boolean)[];
  readonly weight: number;
  readonly why: string;
}

/**
 * Every reading of one revision beside the other's. Of several of one id and part (landings, holds, jumps) those are put together whose
 * frames the map brings nearest to each other, in order.
 */
export function changesBetween(before: Measured, after: Measured, map: FrameMap): Change[] {
  const groups = new Map<string, { before: Reading[]; after: Reading[] }>();
  const key = ({ id, part, unit }: Reading): string => `${id}\n${part ?? ''}\n${unit}`;
  const group = (reading: Reading) => {
    const found = groups.get(key(reading)) ?? { before: [], after: [] };
    groups.set(key(reading), found);
    return found;
  };
  for (const reading of before.readings) group(reading).before.push(reading);
  for (const reading of after.readings) group(reading).after.push(reading);
  return [...groups.values()].flatMap(({ before: old, after: now }) => pairUp(old, now, map).map(asChange));
}

type Pairing = readonly [before: Reading | undefined, after: Reading | undefined];

/** Pairs in order of frames; the longer list's readings that lie farthest from any partner stay alone. */
function pairUp(before: readonly Reading[], after: readonly Reading[], map: FrameMap): Pairing[] {
  if (before.length <= 1 && after.length <= 1) return [[before[0], after[0]]];
  const at = ({ frames = [] }: Reading): number => frames[0] ?? 0;
  const free = [...after];
  const pairs: Pairing[] = before.map((old) => {
    const wanted = mapLabel(map, at(old));
    const nearest = free.reduce<Reading | undefined>(
      (best, now) => (best === undefined || Math.abs(at(now) - wanted) < Math.abs(at(best) - wanted) ? now : best),
      undefined,
    );
    // Leave the nearest to a later reading that is nearer still, when there are too few for all.
    const later =
      nearest &&
      before.some((other) => at(other) > at(old) && free.length < before.length && closer(other, old, nearest, map));
    if (!nearest || later) return [old, undefined];
    free.splice(free.indexOf(nearest), 1);
    return [old, nearest];
  });
  return [...pairs, ...free.map((now): Pairing => [undefined, now])];
}

const closer = (other: Reading, old: Reading, now: Reading, map: FrameMap): boolean => {
  const away = ({ frames = [] }: Reading): number => Math.abs(mapLabel(map, frames[0] ?? 0) - (now.frames?.[0] ?? 0));
  return away(other) < away(old);
};

function asChange([before, after]: Pairing): Change {
  const { id, part, unit } = (before ?? after)!;
  return {
    id,
    ...(part !== undefined && { part }),
    unit,
    before: before?.value ?? null,
    after: after?.value ?? null,
    ...(before?.frames && { framesBefore: before.frames }),
    ...(after?.frames && { framesAfter: after.frames }),
  };
}

/**
 * Changes that take a reading from inside its band to outside, the heaviest first.
 * @param now the later revision's readings, by which what follows from another regression is left out
 */
export function regressionsIn(
  changes: readonly Change[],
  gauges: readonly Gauge[],
  stage: Stage,
  now: readonly Reading[] = [],
): Regression[] {
  const madeBefore = new Set(changes.flatMap(({ id, before }) => (before === null ? [] : [id])));
  // A hold or a pop that was not there was not wrong; what could not be made at all then was not right either.
  const wasInside = ({ id, before }: Change, gauge: Gauge): boolean =>
    before === null ? madeBefore.has(id) : judgeBy(gauge, before).judgement === 'inside';
  const found = changes
    .flatMap((change) =>
      gauges
        .filter((gauge) => gauge.reading === change.id && isDue(gauge, stage) && isFor(gauge, change.part))
        .filter((gauge) => gauge.of === undefined && gauge.over === undefined && gauge.per === undefined)
        .filter((gauge) => wasInside(change, gauge) && isOutside(change.after, gauge))
        .map(({ band, allowed, weight, why }): Regression => ({
          ...change,
          ...(band && { band }),
          ...(allowed && { allowed }),
          weight,
          why,
        })),
    )
    .sort((a, b) => b.weight - a.weight);
  // One cause, one regression: a knee that snaps explains the shin that is out of place.
  const readingOf = ({ id, part, after, framesAfter }: Change): Reading | undefined =>
    now.find(
      (own) => own.id === id && own.part === part && own.value === after && own.frames?.[0] === framesAfter?.[0],
    );
  return found.filter((regression) => {
    const own = readingOf(regression);
    return !found.some((other) => {
      const cause = readingOf(other);
      return own !== undefined && cause !== undefined && own !== cause && folds(cause, own, 'outside');
    });
  });
}

const isOutside = (value: Reading['value'] | null, gauge: Gauge): boolean =>
  value !== null && judgeBy(gauge, value).judgement === 'outside';
