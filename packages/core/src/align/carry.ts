import { type FrameMap, mapLabel } from './frame-map.ts';

export const CARRY_DEFAULTS = Object.freeze({
  /** Frames beyond what has a counterpart are still its edge within this. */
  edge: 1,
  /** A stretch of so many frames or more … */
  stretch: 4,
  /** … of which less than this share is left was taken out. */
  left: 0.2,
});

/** From one label to another; one label where both are the same. */
interface Labels {
  readonly from: number;
  readonly to: number;
}

/**
 * Where a stretch of one revision lies in another: the frames that show now what was shown there.
 *
 * @param map from the labels of the one to those of the other
 * @returns undefined where its place is gone: it lies in what was cut, or was taken out
 *
 * @example a cycle of 40 frames retimed to 20: carryLabels({ from: 9, to: 17 }, map) is { from: 5, to: 9 }
 */
export function carryLabels({ from, to }: Labels, map: FrameMap): Labels | undefined {
  const [first, last] = [map[0], map.at(-1)];
  if (!first || !last) return undefined;
  const { edge, stretch, left } = CARRY_DEFAULTS;
  if (to < first[0] - edge || from > last[0] + edge) return undefined;
  const there = (label: number): number => mapLabel(map, Math.min(last[0], Math.max(first[0], label)));
  const [a, b] = [there(from), there(to)];
  // What of it is left, against what is left of all: a shot that was retimed as a whole has lost nothing.
  const pace = (last[1] - first[1]) / Math.max(1, last[0] - first[0]);
  if (to - from >= stretch && b - a < left * pace * (to - from)) return undefined;
  return { from: Math.round(a), to: Math.max(Math.round(a), Math.round(b)) };
}
