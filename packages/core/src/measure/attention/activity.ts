import { KINDS } from '../../motion/kinds.ts';
import { jointIndex, translationAt, type Motion } from '../../motion/motion.ts';
import { angleAt } from '../../motion/pose-distance.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { ancestors } from '../../motion/roles.ts';
import { largestOf } from '../../signal/statistics.ts';
import { partName } from '../../say/part-names.ts';
import { atFrames, degrees, list, percent, share } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { isMove, stretchesOf } from '../moves/stretches.ts';
import { jointParts } from '../parts.ts';
import { made, type Measured, refuse, roundTo4, together } from '../reading.ts';

const ACTIVITY_READING = describeReading({
  id: 'activity',
  holds: holding<number, { liveliest: string; parts: Record<string, number[]> }>(),
  name: 'liveliest part',
  unit: '°/frame',
  needs: '2 frames or more',
  kinds: KINDS,
  mark: 'note',
  isSize: true,
  say: ({ value, detail }) =>
    `the liveliest part is ${partName(detail.liveliest)}, ${degrees(value)} a frame at its peak`,
});
const STARTS = describeReading({
  id: 'starts.together',
  about: 'timing',
  holds: holding<number, { parts: string[]; moving: string[] }>(),
  name: 'parts that start together',
  unit: 'share',
  needs: 'two parts or more that start from rest',
  kinds: KINDS,
  mark: 'timing',

  say: ({ value, frames, detail }) =>
    `${share(value)} of the moving parts start together${atFrames(frames)}: ${list(detail.parts.map(partName))}`,
});
const CLASH = describeReading({
  id: 'attention.clash',
  holds: holding<number, { groups: string[] }>(),
  name: 'two that act at once',
  unit: '%',
  needs: 'two characters, or two groups that the brief names',
  kinds: ['take', 'turn', 'idle', 'any'],
  mark: 'timing',
  ofShot: true,
  say: ({ value, detail }) =>
    `“${detail.groups[0]}” and “${detail.groups[1]}” act at once in ${percent(value)} of the frames`,
});

export const ACTIVITY = [ACTIVITY_READING, STARTS] as const;
export const ATTENTION = [CLASH] as const;

/** `attention.clash` as whatever tells it tells it: of joints, or of points on pictures. */
export const clashReading = {
  kind: CLASH,
  /** @param share of the frames, %; @param frames their labels; @param groups names of the two */
  made: (share: number, frames: readonly number[], groups: readonly string[]): Measured =>
    made(
      CLASH.of(roundTo4(share), { ...(frames.length > 0 && { frames: [...frames] }), detail: { groups: [...groups] } }),
    ),
} as const;

export const ACTIVITY_DEFAULTS = Object.freeze({
  /** A part takes part in starts when its peak is over this share of the liveliest part's, and over so many ° a frame at 24 fps. */
  partakes: 0.1,
  least: 0.2,
  /** Parts that start this near to each other start together, frames at 24 fps. */
  together: 1,
  /** Both act at once while both are over this share of their own peak. */
  acts: 0.5,
});

const DEGREES = 180 / Math.PI;

/**
 * How much each part moves from every frame to the next: the root mean square over its joints of the local angular step, degrees. The hips'
 * translation counts as the angle it makes at the end of a leg.
 *
 * @param groups joints of each row
 * @returns one row a group, N − 1 values
 */
export function activityRows(shot: PreparedShot, groups: readonly (readonly number[])[]): Float64Array[] {
  const { motion, scale } = shot;
  const n = motion.joints.length;
  const moving = new Set(motion.moving);
  return groups.map((joints) => {
    const row = new Float64Array(Math.max(0, motion.frames - 1));
    for (let f = 0; f < row.length; f++) {
      let sum = 0;
      for (const j of joints) {
        sum += angleAt(motion.rotations, 4 * (f * n + j), motion.rotations, 4 * ((f + 1) * n + j)) ** 2;
        if (!moving.has(j)) continue;
        const [a, b] = [translationAt(motion, f, j), translationAt(motion, f + 1, j)];
        sum += ((DEGREES * Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2])) / scale.legLength) ** 2;
      }
      row[f] = Math.sqrt(sum / joints.length);
    }
    return row;
  });
}

/** How much each part of a shot moves from every sample to the next. */
export interface PartActivity {
  readonly parts: readonly string[];
  readonly rows: readonly Float64Array[];
}
const known = new WeakMap<Motion, PartActivity>();

/**
 * {@link activityRows} of every part. Worked out once a motion.
 * @param motion the shot's own, or what it was before it was smoothed
 */
export function partActivity(shot: PreparedShot, motion: Motion = shot.motion): PartActivity {
  const told = known.get(motion);
  if (told) return told;
  const { parts, groups } = partGroups(shot);
  const own = { parts, rows: activityRows({ ...shot, motion }, groups) };
  known.set(motion, own);
  return own;
}

/** Joints by part, in the order of the skeleton. */
function partGroups(shot: PreparedShot): { parts: string[]; groups: number[][] } {
  const byPart = new Map<string, number[]>();
  jointParts(shot).forEach((part, j) => byPart.set(part, [...(byPart.get(part) ?? []), j]));
  return { parts: [...byPart.keys()], groups: [...byPart.values()] };
}

/** `activity` and `starts.together`: how much each part moves when, and how many parts start at once. */
export function measureActivity(shot: PreparedShot): Measured {
  if (shot.motion.frames < 2) return refuse(ACTIVITY, `it needs 2 poses or more, the shot has ${shot.motion.frames}`);
  const { parts, rows } = partActivity(shot);
  const peaks = rows.map((row) => row.reduce((a, b) => Math.max(a, b), 0));
  const largest = largestOf(peaks);
  // Of parts that are alike but for rounding the first.
  const liveliest = parts[peaks.findIndex((peak) => peak > largest * (1 - 1e-9) - 1e-12)]!;
  const perPart = Object.fromEntries(parts.map((part, k) => [part, Array.from(rows[k]!, hundredths)]));
  return together(
    made(ACTIVITY_READING.of(roundTo4(largest), { detail: { liveliest, parts: perPart } })),
    startsTogether(shot, parts, rows, peaks),
  );
}

const hundredths = (value: number): number => Math.round(100 * value) / 100;

function startsTogether(
  shot: PreparedShot,
  parts: readonly string[],
  rows: readonly Float64Array[],
  peaks: readonly number[],
): Measured {
  const least = Math.max(ACTIVITY_DEFAULTS.partakes * largestOf(peaks), ACTIVITY_DEFAULTS.least * (24 / shot.fps));
  const partaking = parts.map((_, k) => k).filter((k) => peaks[k]! >= least);
  if (partaking.length < 2) return refuse([STARTS], 'fewer than two parts move');
  const starts = partaking.flatMap((k) =>
    stretchesOf({ steps: rows[k]!, distance: () => 0 }, shot.fps, { shortest: 4 })
      .filter(isMove)
      .filter(({ from }) => from > 0)
      .map(({ from }) => ({ part: parts[k]!, at: from })),
  );
  if (starts.length === 0) return refuse([STARTS], 'no part starts from rest');
  starts.sort((a, b) => a.at - b.at);
  const reach = ACTIVITY_DEFAULTS.together * (shot.fps / 24);
  let best: { at: number; parts: string[] } = { at: 0, parts: [] };
  starts.forEach(({ at }, k) => {
    let end = k;
    while (end < starts.length && starts[end]!.at <= at + reach) end++;
    const together = [...new Set(starts.slice(k, end).map(({ part }) => part))];
    if (together.length > best.parts.length) best = { at, parts: together };
  });
  return made(
    STARTS.of(roundTo4(best.parts.length / partaking.length), {
      frames: [labelOf(shot, best.at)],
      detail: { parts: best.parts, moving: partaking.map((k) => parts[k]!) },
    }),
  );
}

/**
 * `attention.clash`: of two characters, or two groups of joints, the share of frames in which both act at once. Two skeletons in one file
 * are two characters; else the brief names the joint at the top of each group.
 */
export function measureAttention(shot: PreparedShot): Measured {
  const { joints } = shot.motion;
  const tops = shot.groups.length > 0 ? shot.groups.map((name) => jointIndex(shot.motion, name)) : rootsOf(shot);
  const missing = tops.findIndex((joint) => joint < 0);
  if (missing >= 0) return refuse(ATTENTION, `there is no joint called “${shot.groups[missing]}”`);
  if (tops.length < 2) return refuse(ATTENTION, 'there is one character only; the brief can name two groups');
  if (shot.motion.frames < 6) return refuse(ATTENTION, `it needs 6 poses or more, the shot has ${shot.motion.frames}`);
  const below = (top: number): number[] =>
    joints.map((_, j) => j).filter((j) => j === top || ancestors(joints, j).includes(top));
  const rows = activityRows(shot, tops.slice(0, 2).map(below));
  const peaks = rows.map((row) => largestOf(row));
  if (peaks.some((peak) => !(peak > 1e-6))) return refuse(ATTENTION, 'one of the two does not move');
  const both = Array.from({ length: rows[0]!.length }, (_, f) => f).filter((f) =>
    rows.every((row, k) => row[f]! > ACTIVITY_DEFAULTS.acts * peaks[k]!),
  );
  return clashReading.made(
    (100 * both.length) / rows[0]!.length,
    both.map((f) => labelOf(shot, f)),
    tops.slice(0, 2).map((j) => joints[j]!.name),
  );
}

/** Roots that carry a figure: three joints or more. */
function rootsOf({ motion }: PreparedShot): number[] {
  const sizes = new Map<number, number>();
  const root: number[] = [];
  motion.joints.forEach(({ parent }, j) => {
    root[j] = parent < 0 ? j : root[parent]!;
    sizes.set(root[j], (sizes.get(root[j]) ?? 0) + 1);
  });
  return [...sizes].filter(([, size]) => size >= 3).map(([joint]) => joint);
}
