import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { conjugate, multiply, quatAt, rotate } from '../../motion/quaternion.ts';
import { mean, rangeOf, smallestOf } from '../../signal/statistics.ts';
import { dot } from '../../motion/vector.ts';
import { degrees, figures, frames as inFrames, ofLeg } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4 } from '../reading.ts';
import { smooth } from '../../signal/savitzky-golay.ts';
import { sampled } from '../../signal/sampled.ts';

export const BREATH_DEFAULTS = Object.freeze({
  /** Half width of the smoothing window, frames at 24 fps. */
  half: 3,
  /** A chest that swings by less than this against the hips, degrees, does not breathe. */
  least: 0.15,
  /** One that swings by more, or more slowly (seconds a cycle), does something else: bends, turns, leans. */
  most: 15,
  slowest: 8,
  /** A turn of the swing counts once it has come back by this share of the whole swing. */
  turns: 0.3,
});

export interface Breath {
  readonly in: number;
  readonly out: number;
  readonly breaths: number;
  readonly degrees: number;
}

const shared = {
  needs: 'hips and a chest that swings slowly',
  kinds: ['idle', 'any'],
  mark: 'timing',
  shows: 'chest',
} as const;

const CYCLE = describeReading({
  ...shared,
  id: 'breath.cycle',
  holds: holding<number, Breath>(),
  name: 'length of a breath',
  unit: 'frames',
  time: true,
  region: 'body',
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value, detail }) =>
    `a breath takes ${inFrames(value)}, ${Math.round(detail.in)} in and ${Math.round(detail.out)} out, with ${degrees(detail.degrees)} of lean`,
});
const RATIO = describeReading({
  ...shared,
  id: 'breath.ratio',
  holds: holding<number, Breath>(),
  name: 'breathing in against out',
  unit: 'ratio',
  region: 'body',
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value }) =>
    value >= 1
      ? `breathing in takes ${figures(value, 2)} times as long as out`
      : `breathing out is slower than in, ${figures(1 / value, 2)} times as long`,
});

const SIZE = describeReading({
  ...shared,
  id: 'breath.size',
  holds: holding<number, { rise: number }>(),
  name: 'size of a breath',
  unit: '°',
  mark: 'amount',
  region: 'body',
  quantity: { quantity: 'lean', of: () => 'trunk' },
  numbers: {
    rise: {
      name: 'rise of the chest',
      unit: '%L',
      say: ({ detail }) => `in a breath the chest rises by ${ofLeg((detail as { rise: number }).rise)}`,
    },
  },
  say: ({ value }, _, told) =>
    `in a breath the chest bends by ${degrees(value)}${told?.side === 1 ? ': that is panting, not calm' : told?.side === -1 ? ', which nobody sees' : ''}`,
});

export const BREATH = [CYCLE, RATIO, SIZE] as const;

/**
 * `breath.cycle` and `breath.ratio`: the period of the chest's slow swing against the hips, and the frames it fills (leans back) over those
 * it empties.
 */
export function measureBreath(shot: PreparedShot): Measured {
  const { motion, world, roles, axes, fps } = shot;
  const none = (why: string): Measured => refuse(BREATH, why);
  const chest = roles.chest ?? roles.spine;
  if (chest === undefined || roles.hips === undefined) return none('hips and chest must be known; set the roles');
  const wraps = shot.loop !== 'none';
  const frames = wraps ? shot.period : motion.frames;
  if (frames < 12) return none(`it needs 12 poses or more, the shot has ${frames}`);
  const n = motion.joints.length;
  const filled = sampled(frames, (f) => {
    const hips = quatAt(world.rotations, f * n + roles.hips!);
    const up = rotate(multiply(conjugate(hips), quatAt(world.rotations, f * n + chest)), axes.up);
    return (-Math.atan2(dot(up, axes.forward), dot(up, axes.up)) * 180) / Math.PI;
  });
  const air = smooth(filled, Math.max(1, Math.round(BREATH_DEFAULTS.half * (fps / 24))), 2, wraps);
  const range = rangeOf(air);
  if (!(range >= BREATH_DEFAULTS.least)) return none('the chest does not swing');
  if (range > BREATH_DEFAULTS.most) return none(`the chest bends by ${Math.round(range)}°, which is no breath`);
  const turns = turningPoints(air, BREATH_DEFAULTS.turns * range, wraps);
  const spans = turns.slice(1).map((turn, k) => ({ frames: turn.at - turns[k]!.at, fills: turn.top }));
  const ins = spans.filter(({ fills }) => fills).map((span) => span.frames);
  const outs = spans.filter(({ fills }) => !fills).map((span) => span.frames);
  if (ins.length === 0 || outs.length === 0) return none('the chest does not fill and empty once in the shot');
  const [into, out] = [mean(ins), mean(outs)];
  if (into + out > BREATH_DEFAULTS.slowest * fps) return none('the chest swings too slowly to be breathing');
  const tops = turns.filter(({ top }) => top).map(({ at }) => labelOf(shot, at % frames));
  const lasting = (samples: number): number => roundTo4(framesIn(shot, samples));
  const detail = {
    in: lasting(into),
    out: lasting(out),
    breaths: Math.min(ins.length, outs.length),
    degrees: roundTo4(range),
  };
  const rise = sampled(frames, (f) => {
    const [at, from] = [3 * (f * n + chest), 3 * (f * n + roles.hips!)];
    return axes.up.reduce((sum, up, c) => sum + up * (world.positions[at + c]! - world.positions[from + c]!), 0);
  });
  return made(
    CYCLE.of(lasting(into + out), { frames: tops, detail }),
    RATIO.of(roundTo4(into / out), { detail }),
    SIZE.of(roundTo4(range), {
      frames: tops,
      detail: { rise: roundTo4((100 * rangeOf(rise)) / shot.scale.legLength) },
    }),
  );
}

/** Highest and lowest places in turn, each followed by a way back of `least`; on a loop once round and to the first again. */
function turningPoints(y: Float64Array, least: number, wraps: boolean): { at: number; top: boolean }[] {
  const n = y.length;
  // Of a loop the search begins at its lowest place, which is a turn for sure.
  const start = wraps ? y.indexOf(smallestOf(y)) : 0;
  const found: { at: number; top: boolean }[] = wraps ? [{ at: start, top: false }] : [];
  let high = start;
  let low = start;
  let rising: boolean | undefined = wraps ? true : undefined;
  for (let k = 1; k < n; k++) {
    const at = start + k;
    const value = y[at % n]!;
    if (value > y[high % n]!) high = at;
    if (value < y[low % n]!) low = at;
    if (rising !== false && y[high % n]! - value > least) {
      if (rising !== undefined) found.push({ at: high, top: true });
      rising = false;
      low = at;
    } else if (rising !== true && value - y[low % n]! > least) {
      if (rising !== undefined) found.push({ at: low, top: false });
      rising = true;
      high = at;
    }
  }
  if (wraps) found.push({ at: start + n, top: false });
  return found.filter(({ top }, k) => k === 0 || top !== found[k - 1]!.top);
}
