import { KINDS } from '../../motion/kinds.ts';
import type { Motion } from '../../motion/motion.ts';
import { jointWeights } from '../../motion/pose-distance.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
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
  const found = straightStretches(shot);
  if (typeof found === 'string') return refuse(STRAIGHT_STRETCHES, found);
  const { share, corners } = found;
  const { corners: fewest, chance } = STRAIGHT_DEFAULTS;
  const value = corners.length >= fewest && share >= chance ? roundTo4(share) : 0;
  const gaps = corners.slice(1).map((s, k) => s - corners[k]!);
  return made(
    CORNERS.of(value, {
      ...(value > 0 && { frames: corners.slice(0, 24).map((s) => Math.round(labelOf(shot, s))) }),
      detail: { corners: corners.length, ...(value > 0 && { every: roundTo4(framesIn(shot, median(gaps))) }) },
    }),
  );
}

/** Where a shot goes on evenly from corner to corner: the share of its frames at which it does, percent, and the samples at which everything turns a corner at once. */
export function straightStretches(
  shot: PreparedShot,
): { readonly share: number; readonly corners: readonly number[] } | string {
  const { unsmoothed: motion, exposures, period: T } = shot;
  if (exposures.blocking) return 'poses are held: there is no motion between them';
  if (T < 12) return `it needs 12 poses or more, the shot has ${T}`;
  const { even, corner, rest, least, together } = STRAIGHT_DEFAULTS;
  const weights = jointWeights(motion);
  const n = motion.joints.length;
  const { sizes, changes, largest } = stepsOf(motion, T);
  let [moving, straight] = [0, 0];
  const isEven = new Uint8Array(T).fill(1);
  const bends: number[] = [];
  for (let s = 1; s < T - 1; s++) {
    let [all, evenly, bent] = [0, 0, 0];
    for (let j = 0; j < n; j++) {
      const at = s * n + j;
      const size = Math.max(sizes[at]!, sizes[at - n]!);
      if (size < least || size < rest * largest[j]!) continue;
      const weight = weights[j]!;
      all += weight;
      if (changes[at]! <= even * size) evenly += weight;
      if (changes[at]! >= corner * size) bent += weight;
    }
    if (all === 0) continue;
    moving++;
    if (evenly >= together * all) straight++;
    else {
      isEven[s] = 0;
      if (bent >= 0.5 * all) bends.push(s);
    }
  }
  // Where a slow motion turns round it bends for several frames; a corner has nothing but evenness, or rest, on both sides.
  const corners = bends.filter((s) => isEven[s - 1] && isEven[s + 1]);
  return { share: moving > 0 ? (100 * straight) / moving : 0, corners };
}

/** How far joints turn from each sample to the next, degrees, and by how much each step differs from the one before; one number a joint, sample by sample. */
interface Turns {
  readonly sizes: Float64Array;
  readonly changes: Float64Array;
  /** Of each joint. */
  readonly largest: Float64Array;
}

/** Sample by sample, as the rotations lie in memory: joint by joint it takes three times as long. */
function stepsOf({ joints, rotations: q }: Motion, samples: number): Turns {
  const n = joints.length;
  const sizes = new Float64Array(n * (samples - 1));
  const changes = new Float64Array(n * (samples - 1));
  const largest = new Float64Array(n);
  const before = new Float64Array(3 * n);
  for (let s = 0; s + 1 < samples; s++) {
    for (let j = 0; j < n; j++) {
      const at = s * n + j;
      const a = 4 * at;
      const b = 4 * (at + n);
      const p = 3 * j;
      const ax = q[a]!;
      const ay = q[a + 1]!;
      const az = q[a + 2]!;
      const aw = q[a + 3]!;
      const bx = q[b]!;
      const by = q[b + 1]!;
      const bz = q[b + 2]!;
      const bw = q[b + 3]!;
      const w = bw * aw + bx * ax + by * ay + bz * az;
      // next · here⁻¹: of a small turn twice the axis is the rotation vector.
      const k = w < 0 ? -DEGREES : DEGREES;
      const x = k * (-bw * ax + bx * aw - by * az + bz * ay);
      const y = k * (-bw * ay + bx * az + by * aw - bz * ax);
      const z = k * (-bw * az - bx * ay + by * ax + bz * aw);
      const size = Math.sqrt(x * x + y * y + z * z);
      const dx = x - before[p]!;
      const dy = y - before[p + 1]!;
      const dz = z - before[p + 2]!;
      sizes[at] = size;
      if (size > largest[j]!) largest[j] = size;
      changes[at] = Math.sqrt(dx * dx + dy * dy + dz * dz);
      before[p] = x;
      before[p + 1] = y;
      before[p + 2] = z;
    }
  }
  return { sizes, changes, largest };
}
const DEGREES = 360 / Math.PI;
