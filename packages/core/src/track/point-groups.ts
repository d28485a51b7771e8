import { ACTIVITY_DEFAULTS, clashReading } from '../measure/attention/activity.ts';
import { type Measured, refuse, together } from '../measure/reading.ts';
import { largestOf } from '../signal/statistics.ts';
import { filledPlaces, type PointTracks } from '../motion/point-tracks.ts';

/**
 * Whose point it is, where there are two: what stands before a colon in its name.
 *
 * @example of “pilot: hips” it is “pilot”; of “hips” nobody's
 */
export function groupOf(name: string): string | undefined {
  const at = name.indexOf(':');
  const group = at > 0 ? name.slice(0, at).trim() : '';
  return group === '' ? undefined : group;
}

/** Names of the groups there are, in the order of their first points. */
export const groupsOf = (names: readonly string[]): string[] => [
  ...new Set(names.flatMap((name) => groupOf(name) ?? [])),
];

/**
 * What each point is called within the one figure that is measured: the first group's, without its name; points of another group are no part of it.
 */
export function namesWithin(names: readonly string[]): string[] {
  const [first] = groupsOf(names);
  if (first === undefined) return [...names];
  return names.map((name) => {
    const group = groupOf(name);
    if (group === undefined) return name;
    return group === first ? name.slice(name.indexOf(':') + 1).trim() : '';
  });
}

/**
 * `attention.clash` of two groups of points: the share of frames in which both are over half of their own peak activity, which of points is the root mean
 * square of how far they go from frame to frame.
 *
 * @returns nothing where there are not two groups
 */
export function measureGroups({ points, frames, firstFrame }: PointTracks): Measured {
  const groups = groupsOf(points.map(({ name }) => name)).slice(0, 2);
  if (groups.length < 2) return together();
  const rows = groups.map((group) => {
    const own = points.filter(({ name }) => groupOf(name) === group).map(filledPlaces);
    return Float64Array.from({ length: Math.max(0, frames - 1) }, (_, f) =>
      Math.sqrt(
        own.reduce((sum, p) => sum + (p[2 * f + 2]! - p[2 * f]!) ** 2 + (p[2 * f + 3]! - p[2 * f + 1]!) ** 2, 0) /
          own.length,
      ),
    );
  });
  const peaks = rows.map((row) => largestOf(row));
  const still = peaks.findIndex((peak) => !(peak > 1e-6));
  if (still >= 0) return refuse([clashReading.kind], `“${groups[still]}” does not move`);
  const both = Array.from({ length: rows[0]!.length }, (_, f) => f).filter((f) =>
    rows.every((row, k) => row[f]! > ACTIVITY_DEFAULTS.acts * peaks[k]!),
  );
  return clashReading.made(
    (100 * both.length) / rows[0]!.length,
    both.map((f) => firstFrame + f),
    groups,
  );
}
