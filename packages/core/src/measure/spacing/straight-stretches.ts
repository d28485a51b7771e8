import { KINDS } from '../../motion/kinds.ts';
import type { Motion } from '../../motion/motion.ts';
import { jointWeights } from '../../motion/pose-distance.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { figures } from '../../say/words.ts';
import { largestOf, median } from '../../signal/statistics.ts';
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
  const weights = jointWeights(motion);
  const turns = stepsOf(motion, T);
  const largest = turns.map(({ sizes }) => largestOf(sizes));
  let [moving, straight] = [0, 0];
  const corners: number[] = [];
  for (let s = 1; s < T - 1; s++) {
    let [all, evenly, bent] = [0, 0, 0];
    for (let j = 0; j < turns.length; j++) {
      const { sizes, changes } = turns[j]!;
      const size = Math.max(sizes[s]!, sizes[s - 1]!);
      if (size < least || size < rest * largest[j]!) continue;
      const weight = weights[j]!;
      all += weight;
      if (changes[s]! <= even * size) evenly += weight;
      if (changes[s]! >= corner * size) bent += weight;
    }
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

/** Of each joint how far it turns from each sample to the next, degrees, and by how much each step differs from the one before. */
function stepsOf({ joints, rotations: q }: Motion, samples: number): { sizes: Float64Array; changes: Float64Array }[] {
  const n = joints.length;
  return joints.map((_, j) => {
    const sizes = new Float64Array(samples - 1);
    const changes = new Float64Array(samples - 1);
    let [px, py, pz] = [0, 0, 0];
    for (let s = 0; s + 1 < samples; s++) {
      const a = 4 * (s * n + j);
      const b = a + 4 * n;
      // next · here⁻¹: of a small turn twice the axis is the rotation vector.
      const x = q[b + 3]! * -q[a]! + q[b]! * q[a + 3]! - q[b + 1]! * q[a + 2]! + q[b + 2]! * q[a + 1]!;
      const y = q[b + 3]! * -q[a + 1]! + q[b]! * q[a + 2]! + q[b + 1]! * q[a + 3]! - q[b + 2]! * q[a]!;
      const z = q[b + 3]! * -q[a + 2]! - q[b]! * q[a + 1]! + q[b + 1]! * q[a]! + q[b + 2]! * q[a + 3]!;
      const w = q[b + 3]! * q[a + 3]! + q[b]! * q[a]! + q[b + 1]! * q[a + 1]! + q[b + 2]! * q[a + 2]!;
      const k = (w < 0 ? -1 : 1) * DEGREES;
      sizes[s] = k * (w < 0 ? -1 : 1) * Math.sqrt(x * x + y * y + z * z);
      const [dx, dy, dz] = [k * x - px, k * y - py, k * z - pz];
      changes[s] = Math.sqrt(dx * dx + dy * dy + dz * dz);
      [px, py, pz] = [k * x, k * y, k * z];
    }
    return { sizes, changes };
  });
}
const DEGREES = 360 / Math.PI;
