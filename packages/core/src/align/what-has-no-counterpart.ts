import { median } from '../signal/statistics.ts';
import { sampled } from '../signal/sampled.ts';
import type { AlignmentNote } from './alignment-notes.ts';
import { rowDistance, type PoseRows } from './pose-features.ts';
import { sameWithin, typicalDistance } from './warp.ts';

/** So many frames without a counterpart are worth a word: at an end … */
export const WORTH_A_WORD = 2;
/** … and between two frames that have one. */
const IN_THE_MIDST = 4;
/** A hold is worth a word from so many frames on. */
const A_HOLD = 6;

/** Frames that go by in less than this share of the map's own pace are squeezed. */
const SQUEEZED = 0.4;
/** A pose is another than the one it is mapped to from so many times the usual difference on … */
const OTHER = 3;
/** … and from this share of that of two poses that have nothing to do with each other. */
const LEAST_OTHER = 0.12;
/** A pose that goes on by less than this share of that distance a frame is held. */
const HELD = 0.01;

/** How a shot lies on the frame axis. */
export interface Span {
  /** Label of its first frame. */
  readonly first: number;
  readonly frames: number;
}

/** Samples from one to another, both within. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
  /** Sample of the other that it is squeezed into. */
  readonly at: number;
}

/** What lies in the midst of one shot and has no time in the other. */
export interface Stretches {
  /** Samples of the first whose poses the second does not show. */
  readonly gone: readonly Stretch[];
  /** Samples of the second that the first does not show. */
  readonly added: readonly Stretch[];
  /** Samples of one in which it holds a pose that the other only goes through. */
  readonly heldByFirst: readonly Stretch[];
  readonly heldBySecond: readonly Stretch[];
}

type Pairs = readonly (readonly [i: number, j: number])[];

/**
 * Finds where a shot was cut in its midst, where something was put in, and where a pose was held: many frames of one that go by within a few of the
 * other.
 *
 * @param map one pair a sample of the first, the second's never falling
 */
export function stretchesOf(map: Pairs, a: PoseRows, b: PoseRows): Stretches {
  const back = inverted(map);
  const [first, second] = [squeezed(map, a, b), squeezed(back, b, a)];
  const of = (all: readonly (Stretch & { readonly held: boolean })[], held: boolean): Stretch[] =>
    all.filter((own) => own.held === held).map(({ from, to, at }) => ({ from, to, at }));
  return {
    gone: of(first, false),
    added: of(second, false),
    heldByFirst: of(first, true),
    heldBySecond: of(second, true),
  };
}

/** The map the other way round: one pair a sample of the second. */
export function inverted(map: Pairs): Pairs {
  const pairs: [number, number][] = [];
  let k = 0;
  const [first, last] = [map[0], map.at(-1)];
  if (!first || !last) return [];
  for (let j = Math.ceil(first[1]); j <= Math.floor(last[1]); j++) {
    while (k + 2 < map.length && map[k + 1]![1] < j) k++;
    const [from, to] = [map[k]!, map[Math.min(k + 1, map.length - 1)]!];
    const t = to[1] > from[1] ? Math.min(1, Math.max(0, (j - from[1]) / (to[1] - from[1]))) : 0;
    pairs.push([j, from[0] + t * (to[0] - from[0])]);
  }
  return pairs;
}

/** Stretches of the one that go by in next to no time of the other: held where the pose stands, else its poses are not there. */
function squeezed(map: Pairs, a: PoseRows, b: PoseRows): (Stretch & { held: boolean })[] {
  if (map.length < IN_THE_MIDST + 2) return [];
  const [first, last] = [map[0]!, map.at(-1)!];
  const pace = (last[1] - first[1]) / (last[0] - first[0]);
  const typical = typicalDistance(a, b);
  const off = sampled(map.length, (k) => rowDistance(a, map[k]![0], b, Math.round(map[k]![1])));
  const other = Math.max(OTHER * median(off), LEAST_OTHER * typical, 1.5 * sameWithin(a, b));
  const found: (Stretch & { held: boolean })[] = [];
  for (let k = 0; k + 1 < map.length; k++) {
    let end = k;
    // The stretch that goes on as long as the other stands nearly still, whatever single frames of it do.
    for (let l = k + 1; l < map.length && map[l]![1] - map[k]![1] <= SQUEEZED * pace * (l - k); l++) end = l;
    if (end - k < IN_THE_MIDST) continue;
    const steps = sampled(end - k, (s) => rowDistance(a, map[k + s]![0], a, map[k + s + 1]![0]));
    const strange = off.subarray(k, end + 1).filter((own) => own > other).length;
    const still = Math.max(HELD * typical, sameWithin(a, a));
    const held = median(steps) < still;
    const lost = !held && strange >= IN_THE_MIDST - 1;
    if (held || lost) {
      // Of a stretch from the first frame to the last that is another pose; of a hold those between which nothing moves.
      const [from, to] = lost
        ? within(k, end, (l) => off[l]! > other)
        : within(k, end, (l) => (l < end && steps[l - k]! < still) || (l > k && steps[l - k - 1]! < still));
      if (lost || to - from >= A_HOLD)
        found.push({ from: map[from]![0], to: map[to]![0], at: Math.round(map[(from + to) >> 1]![1]), held });
    }
    k = end;
  }
  return found;
}

/** A stretch from the first to the last for which something holds. */
function within(from: number, to: number, holds: (k: number) => boolean): [number, number] {
  let [a, b] = [from, to];
  while (a < b && !holds(a)) a++;
  while (b > a && !holds(b)) b--;
  return [a, b];
}

/** What lies in the midst of one and not of the other. */
export function middleNotes(stretches: Stretches, a: Span, b: Span): AlignmentNote[] {
  const labels = ({ from, to }: Stretch, { first }: Span) => ({ from: first + from, to: first + to });
  return [
    ...stretches.gone.map((own) => ({ what: 'taken out', ...labels(own, a) }) as const),
    ...stretches.added.map((own) => ({ what: 'put in', ...labels(own, b) }) as const),
    ...stretches.heldBySecond.map(
      (own) => ({ what: 'held', by: 'second', ...labels(own, b), pose: a.first + own.at }) as const,
    ),
    ...stretches.heldByFirst.map(
      (own) => ({ what: 'held', by: 'first', ...labels(own, a), pose: b.first + own.at }) as const,
    ),
  ];
}

/** What has no counterpart at the ends. */
export function endNotes(map: readonly (readonly [number, number])[], a: Span, b: Span): AlignmentNote[] {
  const [first, last] = [map[0]!, map.at(-1)!];
  const lastA = a.first + a.frames - 1;
  const lastB = b.first + b.frames - 1;
  const all = [
    { what: 'cut at the front', from: a.first, to: a.first + first[0] - 1 },
    { what: 'cut at the end', from: a.first + last[0] + 1, to: lastA },
    { what: 'put in front', from: b.first, to: b.first + Math.floor(first[1]) - 1 },
    { what: 'put behind', from: b.first + Math.ceil(last[1]) + 1, to: lastB },
  ] as const;
  return all.filter(({ from, to }) => to - from + 1 >= WORTH_A_WORD);
}
