import { restPositions } from '../../motion/motion.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, mean } from '../../signal/statistics.ts';
import { dot } from '../../motion/vector.ts';
import { atFrames, frames, percent } from '../../say/words.ts';
import { runsOf } from '../../signal/runs.ts';
import { describeReading, holding } from '../describe.ts';
import { scalarSignal } from '../moves/moving-signal.ts';
import { stretchesOf } from '../moves/stretches.ts';
import { type Measured, type Reading, refuse, roundTo4 } from '../reading.ts';
import { sampled } from '../../signal/sampled.ts';

const shared = { needs: 'a head', kinds: ['take', 'any'], fromPoses: true, shows: 'head' } as const;

const ANTICIPATION = describeReading({
  ...shared,
  id: 'take.anticipation',
  holds: holding<number>(),
  name: 'anticipation of the accent',
  unit: '%',
  mark: 'timing',
  keyPose: 'anticipation',
  thrownBy: { strayFrame: true },
  say: ({ value, frames: at }) =>
    value === 0
      ? 'the head does not go down before the accent'
      : `before the accent the head goes down by ${percent(value)} of the figure’s height${atFrames(at)}`,
});
const ACCENT = describeReading({
  ...shared,
  id: 'take.accent',
  holds: holding<number>(),
  name: 'accent',
  unit: '%',
  mark: 'timing',
  keyPose: 'accent',
  explains: { 'take.accentHold': 'always' },
  thrownBy: { strayFrame: true },
  say: ({ value, frames: at }) =>
    value === 0
      ? 'the head does not rise to an accent'
      : `on the accent the head rises by ${percent(value)} of the figure’s height${atFrames(at)}`,
});
const ACCENT_HOLD = describeReading({
  ...shared,
  id: 'take.accentHold',
  holds: holding<number, { from?: number; to?: number }>(),
  name: 'hold of the accent',
  unit: 'frames',
  time: true,
  mark: 'moving hold',
  thrownBy: { strayFrame: true },
  say: ({ value, detail: { from } }) =>
    value === 0 ? 'the accent is not held' : `the accent is held for ${frames(value)} from frame ${from}`,
});

export const TAKE = [ANTICIPATION, ACCENT, ACCENT_HOLD] as const;

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
  const none = (why: string): Measured => refuse(TAKE, why);
  if (roles.head === undefined) return none('the head is not known; set the roles');
  const n = motion.frames;
  if (n < 6) return none(`it needs 6 poses or more, the shot has ${n}`);
  const tall = standingHeight(shot);
  if (!(tall > 0)) return none('the figure has no height at rest');
  const count = motion.joints.length;
  const height = sampled(n, (f) => {
    const k = 3 * (f * count + roles.head!);
    return dot([world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!], axes.up);
  });
  const signal = scalarSignal(height);
  const stretches = stretchesOf(signal, fps, { shortest: 4 });
  if (stretches.length === 0) return none('the head does not go up or down');
  const first = stretches[0]!;
  const neutral = first.kind === 'hold' ? mean(height.subarray(first.from, first.to + 1)) : height[0]!;
  const y = height.map((value) => (100 * (value - neutral)) / tall);
  const accents = runsOf(n, (f) => y[f]! > TAKE_DEFAULTS.share * largestOf(y));
  if (!(largestOf(y) >= TAKE_DEFAULTS.least)) return { readings: withoutAccent(shot, y), unmade: [] };
  const holds = stretchesOf(signal, fps, { shortest: TAKE_DEFAULTS.shortestHold, turns: true }).filter(
    ({ kind }) => kind === 'hold',
  );
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
    const held = hold && { from: labelOf(shot, hold.from), to: labelOf(shot, hold.to) };
    readings.push(
      ANTICIPATION.of(roundTo4(depth), depth > 0 ? { frames: [labelOf(shot, low)] } : {}),
      ACCENT.of(roundTo4(y[peak]!), { frames: [labelOf(shot, peak)] }),
      held
        ? ACCENT_HOLD.of(held.to - held.from, { frames: [held.from, held.to], detail: held })
        : ACCENT_HOLD.of(0, { detail: {} }),
    );
    since = to;
  }
  return { readings, unmade: [] };
}

/** A head that never rises: no accent, and what it goes down by is told all the same. */
function withoutAccent(shot: PreparedShot, y: Float64Array): Reading[] {
  const low = extreme(y, 0, y.length - 1, -1);
  const depth = Math.max(0, -y[low]!);
  return [
    ANTICIPATION.of(roundTo4(depth), depth > 0 ? { frames: [labelOf(shot, low)] } : {}),
    ACCENT.of(0),
    ACCENT_HOLD.of(0, { detail: {} }),
  ];
}

function extreme(y: Float64Array, from: number, to: number, sign: 1 | -1): number {
  let best = from;
  for (let f = from; f <= to; f++) if (sign * y[f]! > sign * y[best]!) best = f;
  return best;
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
