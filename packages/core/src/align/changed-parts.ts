import { largestOf } from '../signal/statistics.ts';
import type { PoseRows } from './pose-features.ts';
import { sameWithin } from './warp.ts';

/** A part has changed where its joints are off by more than this, degrees … */
const CHANGED = 2;
/** … and stayed where they are off by less. */
const STAYED = 1;

const DEGREES = 180 / Math.PI;

/** Parts whose joints are off once the frames lie on each other, and whether all others stayed as they were. */
export function changedParts(
  map: readonly (readonly [number, number])[],
  a: PoseRows,
  b: PoseRows,
): { readonly parts: readonly string[]; readonly only: boolean } {
  const sizes = [...offBy(map, a, b)].map(([part, values]) => ({ part, size: largestOf(values) }));
  const parts = sizes.filter(({ size }) => size > CHANGED).map(({ part }) => part);
  const others = sizes.filter(({ part }) => !parts.includes(part));
  const settled = others.length > 0 && others.every(({ size }) => size < STAYED);
  return { parts, only: parts.length > 0 && settled };
}

/** How much of the body, 0 to 1, stays as it was where the frames lie on each other so: its joints by their weights, each less the more it is off. */
export function stayedShare(map: readonly (readonly [number, number])[], a: PoseRows, b: PoseRows): number {
  const off = offBy(map, a, b);
  let [stayed, all] = [0, 0];
  for (const { width, part, weight } of a.columns) {
    if (width === 1) continue;
    all += weight;
    stayed += weight * Math.max(0, 1 - largestOf(off.get(part)!) / CHANGED);
  }
  return all > 0 ? stayed / all : 0;
}

/** By how much each joint of a part is off on the whole, degrees, once the frames lie on each other. */
function offBy(
  map: readonly (readonly [number, number])[],
  a: PoseRows,
  b: PoseRows,
): ReadonlyMap<string, readonly number[]> {
  const off = new Map<string, number[]>();
  // What trembles in both differs everywhere by that: it is taken off.
  const noise = sameWithin(a, b);
  for (const { at, width, part, weight } of a.columns) {
    if (width === 1) continue;
    let sum = 0;
    for (const [i, j] of map) {
      const low = Math.min(b.count - 2, Math.floor(j));
      for (let k = at; k < at + width; k++) {
        const start = b.rows[b.width * low + k]!;
        const there = start + (j - low) * (b.rows[b.width * (low + 1) + k]! - start);
        sum += (a.rows[a.width * i + k]! - there) ** 2;
      }
    }
    // A chord of a unit vector is about the angle it turns by.
    const values = off.get(part) ?? [];
    values.push(Math.sqrt(Math.max(0, sum / map.length / weight - noise ** 2)) * DEGREES);
    off.set(part, values);
  }
  return off;
}
