import { restPositions } from '../../motion/motion.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { dot, largestOf, mean } from '../../motion/vector.ts';
import { movesAndHolds, scalarSignal } from '../moves/moves-and-holds.ts';
import { type Measured, type Reading, tidy } from '../reading.ts';

export const TAKE_IDS = ['take.anticipation', 'take.accent', 'take.accentHold'] as const;

export const TAKE_DEFAULTS = Object.freeze({
  /** A head that rises by less than this over neutral, percent of standing height, has no accent. */
  least: 0.5,
  /** An accent lasts while the head is over this share of the highest. */
  share: 0.5,
  /** Shortest hold of an accent, frames at 24 fps. */
  shortestHold: 2,
});

/**
 * `take.accent`, `take.anticipation`, `take.accentHold`: how far the head goes over, and before it under, its neutral height, in percent
 * of standing height, and how long the top is held. One of each for every accent.
 */
export function measureTake(shot: PreparedShot): Measured {
  const { motion, world, roles, axes, fps } = shot;
  const none = (why: string): Measured => ({ readings: [], unmade: TAKE_IDS.map((id) => ({ id, why })) });
  if (roles.head === undefined) return none('the head is not known; set the roles');
  const n = motion.frames;
  if (n < 6) return none(`it needs 6 frames or more, the shot has ${n}`);
  const tall = standingHeight(shot);
  if (!(tall > 0)) return none('the figure has no height at rest');
  const count = motion.joints.length;
  const height = Float64Array.from({ length: n }, (_, f) => {
    const k = 3 * (f * count + roles.head!);
    return dot([world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!], axes.up);
  });
  const signal = scalarSignal(height);
  const stretches = movesAndHolds(signal, fps);
  if (stretches.length === 0) return none('the head does not go up or down');
  const first = stretches[0]!;
  const neutral = first.kind === 'hold' ? mean(height.subarray(first.from, first.to + 1)) : height[0]!;
  const y = height.map((value) => (100 * (value - neutral)) / tall);
  const accents = runsOver(y, TAKE_DEFAULTS.share * largestOf(y));
  if (!(largestOf(y) >= TAKE_DEFAULTS.least)) return { readings: withoutAccent(shot, y), unmade: [] };
  const holds = movesAndHolds(signal, fps, TAKE_DEFAULTS.shortestHold).filter(({ kind }) => kind === 'hold');
  const readings: Reading[] = [];
  let since = 0;
  for (const { from, to } of accents) {
    const peak = extreme(y, from, to, 1);
    const low = extreme(y, since, from, -1);
    const hold = holds
      .map((h) => ({ from: Math.max(h.from, from), to: Math.min(h.to, to) }))
      .filter((h) => h.to > h.from)
      .sort((a, b) => b.to - b.from - (a.to - a.from))[0];
    const depth = Math.max(0, -y[low]!);
    readings.push(
      percent('take.anticipation', shot, depth, depth > 0 ? low : undefined),
      percent('take.accent', shot, y[peak]!, peak),
      {
        id: 'take.accentHold',
        value: hold ? hold.to - hold.from : 0,
        unit: 'frames',
        ...(hold && {
          frames: [labelOf(shot, hold.from), labelOf(shot, hold.to)],
          detail: { from: labelOf(shot, hold.from), to: labelOf(shot, hold.to) },
        }),
      },
    );
    since = to;
  }
  return { readings, unmade: [] };
}

const percent = (id: string, shot: PreparedShot, value: number, sample?: number): Reading => ({
  id,
  value: tidy(value),
  unit: '%',
  ...(sample !== undefined && { frames: [labelOf(shot, sample)] }),
});

/** A head that never rises: no accent, and what it goes down by is told all the same. */
function withoutAccent(shot: PreparedShot, y: Float64Array): Reading[] {
  const low = extreme(y, 0, y.length - 1, -1);
  return [
    percent('take.anticipation', shot, Math.max(0, -y[low]!), y[low]! < 0 ? low : undefined),
    percent('take.accent', shot, 0),
    { id: 'take.accentHold', value: 0, unit: 'frames' },
  ];
}

function extreme(y: Float64Array, from: number, to: number, sign: 1 | -1): number {
  let best = from;
  for (let f = from; f <= to; f++) if (sign * y[f]! > sign * y[best]!) best = f;
  return best;
}

function runsOver(y: Float64Array, level: number): { from: number; to: number }[] {
  const runs: { from: number; to: number }[] = [];
  y.forEach((value, f) => {
    if (!(value > level)) return;
    const last = runs.at(-1);
    if (last && last.to === f - 1) last.to = f;
    else runs.push({ from: f, to: f });
  });
  return runs;
}

/** From the lowest point of the rest pose to the top of the head. */
function standingHeight({ motion, roles, axes }: PreparedShot): number {
  const rest = restPositions(motion.joints);
  const up = (j: number, end: readonly number[] = [0, 0, 0]): number =>
    dot([rest[3 * j]! + end[0]!, rest[3 * j + 1]! + end[1]!, rest[3 * j + 2]! + end[2]!], axes.up);
  const lowest = Math.min(...motion.joints.flatMap(({ ends }, j) => [up(j), ...ends.map((end) => up(j, end))]));
  const head = roles.head!;
  return Math.max(up(head), ...motion.joints[head]!.ends.map((end) => up(head, end))) - lowest;
}
