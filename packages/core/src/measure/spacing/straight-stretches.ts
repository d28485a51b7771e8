import { logarithm } from '../../motion/joint-turn.ts';
import { KINDS } from '../../motion/kinds.ts';
import { jointWeights } from '../../motion/pose-distance.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { conjugate, multiply, quatAt } from '../../motion/quaternion.ts';
import { length, subtract, type Vec3 } from '../../motion/vector.ts';
import { figures } from '../../say/words.ts';
import { median } from '../../signal/statistics.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4 } from '../reading.ts';

const CORNERS = describeReading({
  id: 'spacing.corners',
  holds: holding<number, { every?: number; corners: number }>(),
  name: 'straight stretches between keys',
  unit: '%',
  needs: 'something that moves, over 12 poses or more',
  kinds: KINDS,
  mark: 'spacing',
  ofShot: true,
  about: 'timing',
  // What turns corners jolts at each of them.
  explains: {
    'arc.pop': 'always',
    'arc.off': 'always',
    'spacing.off': 'always',
    'shake.size': 'always',
    'cycle.jerk': 'always',
    'ease.in': 'always',
    'ease.out': 'always',
  },
  say: ({ value, detail: { every } }) =>
    value === 0
      ? 'parts speed up and slow down between keys'
      : `in ${figures(value, 2)} % of the frames every part goes on evenly: straight from key to key, about every ${figures(every ?? 0, 2)} frames, with a corner at each`,
});

export const STRAIGHT_STRETCHES = [CORNERS] as const;

export const STRAIGHT_DEFAULTS = Object.freeze({
  /** A joint goes on evenly where its step differs from the one before by at most this share … */
  even: 0.03,
  /** … and turns a corner where it differs by at least this share. */
  corner: 0.12,
  /** Steps under this share of the joint's largest, or under so many degrees, are rest. */
  rest: 0.04,
  least: 0.01,
  /** So large a share of what moves does it at once. */
  together: 0.85,
  /** Corners are this many at least: what only turns evenly is a wheel. */
  corners: 3,
  /** Fewer of the frames than this go on evenly in a smooth motion as well, percent. */
  chance: 15,
});

/**
 * `spacing.corners`: share of the frames at which everything that moves goes on exactly evenly, between corners that everything turns at
 * once: keys that were joined by straight lines. A smooth motion has hardly any.
 */
export function measureStraightStretches(shot: PreparedShot): Measured {
  const { unsmoothed: motion, exposures, period: T } = shot;
  if (exposures.blocking) return refuse(STRAIGHT_STRETCHES, 'poses are held: there is no motion between them');
  if (T < 12) return refuse(STRAIGHT_STRETCHES, `it needs 12 poses or more, the shot has ${T}`);
  const { even, corner, rest, least, together, corners: fewest, chance } = STRAIGHT_DEFAULTS;
  const n = motion.joints.length;
  const weights = jointWeights(motion);
  const turns = motion.joints.map((_, j) =>
    Array.from({ length: T - 1 }, (_s, s): Vec3 =>
      logarithm(multiply(quatAt(motion.rotations, (s + 1) * n + j), conjugate(quatAt(motion.rotations, s * n + j)))),
    ),
  );
  const largest = turns.map((own) => Math.max(...own.map(length)));
  let [moving, straight] = [0, 0];
  const corners: number[] = [];
  for (let s = 1; s < T - 1; s++) {
    let [all, evenly, bent] = [0, 0, 0];
    turns.forEach((own, j) => {
      const size = Math.max(length(own[s]!), length(own[s - 1]!));
      if (size < Math.max(least, rest * largest[j]!)) return;
      const change = length(subtract(own[s]!, own[s - 1]!)) / size;
      all += weights[j]!;
      if (change <= even) evenly += weights[j]!;
      if (change >= corner) bent += weights[j]!;
    });
    if (all === 0) continue;
    moving++;
    if (evenly >= together * all) straight++;
    else if (bent >= 0.5 * all) corners.push(s);
  }
  const share = moving > 0 ? (100 * straight) / moving : 0;
  const value = corners.length >= fewest && share >= chance ? roundTo4(share) : 0;
  const gaps = corners.slice(1).map((s, k) => s - corners[k]!);
  return made(
    CORNERS.of(value, {
      ...(value > 0 && { frames: corners.slice(0, 24).map((s) => Math.round(labelOf(shot, s))) }),
      detail: { corners: corners.length, ...(value > 0 && { every: roundTo4(framesIn(shot, median(gaps))) }) },
    }),
  );
}
