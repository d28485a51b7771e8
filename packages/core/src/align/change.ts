import type { Measured, Reading } from '../measure/reading.ts';
import { type FrameMap, mapLabel } from './frame-map.ts';

/** A reading of one revision beside the same of another. */
export interface Change {
  readonly id: string;
  readonly part?: string;
  /** The detail of the reading that the values are, where they are not its own. */
  readonly of?: string;
  readonly unit: string;
  /** Null where that revision has none. */
  readonly before: Reading['value'] | null;
  readonly after: Reading['value'] | null;
  /** Labels in each revision. */
  readonly framesBefore?: readonly number[];
  readonly framesAfter?: readonly number[];
}

/**
 * Every reading of one revision beside the other's. Of several of one id and part (landings, holds, jumps) those are put together whose
 * frames the map brings nearest to each other, in order.
 */
export const changesBetween = (before: Measured, after: Measured, map: FrameMap): Change[] =>
  pairsBetween(before, after, map).map(asChange);

/** A reading and the same of the other revision; one of the two may have none. */
export type Pairing = readonly [before: Reading | undefined, after: Reading | undefined];

/** The same, as the readings themselves. */
export function pairsBetween(before: Measured, after: Measured, map: FrameMap): Pairing[] {
  const groups = new Map<string, { before: Reading[]; after: Reading[] }>();
  const key = ({ id, part, unit }: Reading): string => `${id}\n${part ?? ''}\n${unit}`;
  const group = (reading: Reading) => {
    const found = groups.get(key(reading)) ?? { before: [], after: [] };
    groups.set(key(reading), found);
    return found;
  };
  for (const reading of before.readings) group(reading).before.push(reading);
  for (const reading of after.readings) group(reading).after.push(reading);
  return [...groups.values()].flatMap(({ before: old, after: now }) => pairUp(old, now, map));
}

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

/** What is told of two readings that belong together. */
export function asChange([before, after]: Pairing): Change {
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
