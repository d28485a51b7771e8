import { KINDS } from '../../motion/kinds.ts';
import { loopPeriod } from '../../motion/loop.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate } from '../../motion/quaternion.ts';
import { worldPose } from '../../motion/pose.ts';
import { ancestors } from '../../motion/roles.ts';
import type { Role } from '../../motion/role.ts';
import { mainAxis } from '../../motion/joint-turn.ts';
import { add, dot, type Vec3 } from '../../motion/vector.ts';
import { does, partName } from '../../say/part-names.ts';
import { degrees, figures, share as inShare, span } from '../../say/words.ts';
import { smooth } from '../../signal/savitzky-golay.ts';
import { sampled } from '../../signal/sampled.ts';
import { mean } from '../../signal/statistics.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, type Reading, refuse, roundTo4, type Span, together } from '../reading.ts';
import { noiseOf } from './noise.ts';

/** What shakes, and what makes it shake: the joints whose own shaking adds up to it. */
export interface ShakeDetail {
  readonly from?: number;
  readonly to?: number;
  readonly share?: readonly { readonly joint: string; readonly share: number }[];
  /** The role, or the name, of the joint that makes most of it. */
  readonly source?: string;
}

const shared = { kinds: KINDS, mark: 'spacing', needs: '16 poses or more' } as const;

/** One shake that is carried to several parts is one: told of the part that makes it, or of the one nearest to it. */
const sameSource = (cause: Reading, effect: Reading): boolean => {
  const source = (cause.detail as ShakeDetail).source;
  if (source === undefined || source !== (effect.detail as ShakeDetail).source) return false;
  const order = ASKED.map(([part]) => part);
  return cause.part === source || (effect.part !== source && order.indexOf(cause.part!) < order.indexOf(effect.part!));
};
/** Hips that shake take the feet along. */
const fromTheHips = (cause: Reading): boolean => (cause.detail as ShakeDetail).source === 'hips';

/** Whether what an effect is of is shaken: the part itself, or the frames it shows at. */
const shaken = (cause: Reading, effect: Reading): boolean => {
  const { from, to } = cause.detail as ShakeDetail;
  const at = effect.frames ?? [];
  return (
    at.length === 0 ||
    from === undefined ||
    to === undefined ||
    at.some((label) => label >= from - 1 && label <= to + 1)
  );
};

const SIZE = describeReading({
  ...shared,
  id: 'shake.size',
  holds: holding<number, ShakeDetail>(),
  name: 'shake',
  unit: '°',
  explains: {
    'shake.size': sameSource,
    'arc.off': shaken,
    'arc.pop': shaken,
    'spacing.off': shaken,
    'cycle.jerk': 'always',
    'head.steady': 'always',
    'hold.kind': shaken,
    'hold.frames': shaken,
    'move.frames': shaken,
    'ease.in': shaken,
    'overshoot.depth': shaken,
    'anticipation.depth': shaken,
    'settle.swings': shaken,
    'gait.knee': fromTheHips,
    'gait.slide': fromTheHips,
    'gait.even': fromTheHips,
    'size.head': 'of the same part',
  },
  say: ({ value, part, detail }) => {
    if (value === 0) return does(partName(part), 'does not shake', 'do not shake');
    const [first] = detail.share ?? [];
    const over = detail.from === undefined || detail.to === undefined ? '' : ` ${span(detail as Span)}`;
    const whence =
      detail.source === undefined || detail.source === part || !first
        ? ''
        : `, carried by ${partName(detail.source)}, which ${detail.source === 'hips' ? 'make' : 'makes'} ${inShare(first.share)} of it`;
    return `${does(partName(part), 'shakes', 'shake')} by ${degrees(value)}${over}${whence}`;
  },
});
const PERIOD = describeReading({
  ...shared,
  id: 'shake.period',
  holds: holding<number>(),
  name: 'period of the shake',
  unit: 'frames',
  isSize: true,
  time: true,
  say: ({ value, part }) => `${does(partName(part), 'shakes', 'shake')} to and fro every ${figures(value, 2)} frames`,
});
export const SHAKE = [SIZE, PERIOD] as const;

export const PART_SHAKE_DEFAULTS = Object.freeze({
  /** Half width of the smooth curve that is taken out, frames at 24 fps, and its order: what takes more than about 6 frames to and fro is motion. */
  half: 5,
  order: 3,
  /** A swing of less than this, degrees, is none. */
  least: 0.12,
  /** So many swings one after another, each at most so many frames (at 24 fps) behind the one before and so many times larger or smaller, are a shake. */
  swings: 7,
  apart: 4,
  /** They must last for this share of the shot: in a long recording a hand that trembles once is no fault of the whole. */
  lasts: 0.08,
  alike: 2.5,
  /** What trembles without a pattern by less than this, degrees, is not told. */
  trembles: 0.6,
  /** Where every joint trembles, what so many times their trembling along the chain would make does not count. */
  beyond: 1.6,
});

/** Parts that are asked, and the joint that tells of each. */
const ASKED: readonly (readonly [part: string, ...roles: Role[]])[] = [
  ['hips', 'hips'],
  ['spine', 'chest', 'spine'],
  ['head', 'head'],
  ['arm.L', 'hand.L', 'foreArm.L'],
  ['arm.R', 'hand.R', 'foreArm.R'],
];

/** `shake.size` and `shake.period`: what trembles to and fro in a part, once a smooth curve is taken out, and where it comes from. */
export function measureShake(shot: PreparedShot): Measured {
  if (shot.unsmoothed.frames < 16)
    return refuse(SHAKE, `it needs 16 poses or more, the shot has ${shot.unsmoothed.frames}`);
  const world = shot.unsmoothed === shot.motion ? shot.world : worldPose(shot.unsmoothed);
  const residuals = new Map<number, Float64Array>();
  return together(
    ...ASKED.map(([part, ...roles]) => {
      const joint = roles.map((role) => shot.roles[role]).find((own) => own !== undefined);
      if (joint === undefined) return refuse(SHAKE, 'its joint is not known; set the roles', part);
      return shakeOf(shot, world.rotations, part, joint, residuals);
    }),
  );
}

function shakeOf(
  shot: PreparedShot,
  world: Float64Array,
  part: string,
  joint: number,
  residuals: Map<number, Float64Array>,
): Measured {
  const samples = loopPeriod(shot.loop, shot.unsmoothed.frames);
  const n = shot.unsmoothed.joints.length;
  const own = residualOf(shot, world, joint, samples);
  const axis = mainAxis([own]);
  const e = sampled(samples, (s) => own[3 * s]! * axis[0] + own[3 * s + 1]! * axis[1] + own[3 * s + 2]! * axis[2]);
  const run = longestSwing(e, shot.fps) ?? trembling(world, joint, e, shot);
  const line = [joint, ...ancestors(shot.unsmoothed.joints, joint)];
  // What trembles without a pattern is told over all three axes.
  const axes = run?.size === undefined ? 1 : 3;
  const noise = PART_SHAKE_DEFAULTS.beyond * shot.jitter * Math.sqrt(axes * line.length);
  const size = run
    ? (run.size ?? Math.sqrt(mean(e.subarray(run.from, run.to + 1).map((v) => v * v))) / leftOf(run.period, shot.fps))
    : 0;
  if (!run || size <= noise) return made(SIZE.of(0, { part, detail: {} }), PERIOD.of(0, { part }));
  // What each joint shakes by itself, seen in the world: small rotations add.
  const each = line.map((j) => {
    const local = residuals.get(j) ?? residualOf(shot, shot.unsmoothed.rotations, j, samples);
    residuals.set(j, local);
    const { parent } = shot.unsmoothed.joints[j]!;
    return (s: number): Vec3 => {
      const v: Vec3 = [local[3 * s]!, local[3 * s + 1]!, local[3 * s + 2]!];
      return parent < 0 ? v : rotate(quatAt(world, s * n + parent), v);
    };
  });
  const sums = new Float64Array(line.length);
  let all = 0;
  for (let s = run.from; s <= run.to; s++) {
    const spins = each.map((at) => at(s));
    const total = spins.reduce(add);
    spins.forEach((spin, k) => (sums[k]! += dot(spin, total)));
    all += dot(total, total);
  }
  const share = line
    .map((j, k) => ({ joint: shot.unsmoothed.joints[j]!.name, share: all > 0 ? roundTo4(sums[k]! / all) : 0, j }))
    .sort((a, b) => b.share - a.share);
  const from = Math.round(labelOf(shot, run.from));
  const to = Math.round(labelOf(shot, run.to));
  const source = sourceOf(shot, part, share[0]!.j);
  return made(
    SIZE.of(roundTo4(size), {
      part,
      frames: [from, to],
      detail: {
        from,
        to,
        source,
        share: share.slice(0, 5).map(({ joint: name, share: of }) => ({ joint: name, share: of })),
      },
    }),
    PERIOD.of(roundTo4(framesIn(shot, run.period)), { part, frames: [from, to] }),
  );
}

/**
 * How much a signal shakes, as {@link measureShake} tells it: the root mean square of what is left of it when a smooth curve is taken out, made up for what
 * the curve follows; in the signal's own unit. 0 where it only moves.
 *
 * @example partShake(pitch.subarray(20, 60), 24) // 1.06 of a head that nods to and fro by 1.5° at every other frame
 */
export function partShake(signal: Float64Array, fps: number): number {
  const half = halfWidth(fps);
  if (signal.length < 2 * half + 1) return rest(signal);
  const calm = smooth(signal, half, PART_SHAKE_DEFAULTS.order, false);
  const left = signal.map((value, s) => value - calm[s]!);
  const run = longestSwing(left, fps);
  const size = Math.sqrt(mean(left.map((value) => value * value)));
  return run ? size / leftOf(run.period, fps) : size;
}

/** Of a few samples what a parabola leaves: too few for a smooth curve of its own. */
function rest(signal: Float64Array): number {
  if (signal.length < 5) return 0;
  const half = Math.floor((signal.length - 1) / 2);
  const calm = smooth(signal, half, 2, false);
  return Math.sqrt(mean(signal.map((value, s) => (value - calm[s]!) ** 2)));
}

/** Who makes a shake: the part itself where it is a joint of it, else the joint's role or name. */
function sourceOf(shot: PreparedShot, part: string, joint: number): string {
  const role = Object.entries(shot.roles).find(([, own]) => own === joint)?.[0];
  if (role === undefined) return shot.unsmoothed.joints[joint]!.name;
  return part === 'spine' && (role === 'chest' || role === 'spine') ? 'spine' : role;
}

/**
 * Rotation vectors (degrees) by which a joint's rotation differs from a smooth curve through it, 3 numbers a sample; in the axes that the rotation leads to:
 * its parent's, or the world's.
 */
function residualOf(
  { fps, loop, unsmoothed }: PreparedShot,
  rotations: Float64Array,
  joint: number,
  samples: number,
): Float64Array {
  const n = unsmoothed.joints.length;
  const half = halfWidth(fps);
  const components = componentsOf(rotations, n, joint, samples);
  const wraps = loop !== 'none' && closesOn(components);
  const calm = components.map((values) => smooth(values, half, PART_SHAKE_DEFAULTS.order, wraps));
  const out = new Float64Array(3 * samples);
  const [cx, cy, cz, cw] = components as [Float64Array, Float64Array, Float64Array, Float64Array];
  const [mx, my, mz, mw] = calm as [Float64Array, Float64Array, Float64Array, Float64Array];
  for (let s = 0; s < samples; s++) {
    // here · middle⁻¹, both of any length: the rotation vector of a small turn is twice its axis over its real part.
    const x = cx[s]!;
    const y = cy[s]!;
    const z = cz[s]!;
    const w = cw[s]!;
    const px = -mx[s]!;
    const py = -my[s]!;
    const pz = -mz[s]!;
    const pw = mw[s]!;
    const tx = w * px + x * pw + y * pz - z * py;
    const ty = w * py - x * pz + y * pw + z * px;
    const tz = w * pz + x * py - y * px + z * pw;
    const stays = w * pw - x * px - y * py - z * pz;
    const size = Math.sqrt(tx * tx + ty * ty + tz * tz);
    if (size < 1e-12) continue;
    const degrees = (2 * Math.atan2(size, Math.abs(stays)) * 180) / Math.PI;
    const k = ((stays < 0 ? -1 : 1) * degrees) / size;
    out[3 * s] = tx * k;
    out[3 * s + 1] = ty * k;
    out[3 * s + 2] = tz * k;
  }
  return out;
}

/** A joint’s rotation as four signals. */
function componentsOf(rotations: Float64Array, n: number, joint: number, samples: number): Float64Array[] {
  const components = [0, 1, 2, 3].map(() => new Float64Array(samples));
  const [x, y, z, w] = components as [Float64Array, Float64Array, Float64Array, Float64Array];
  for (let s = 0; s < samples; s++) {
    const k = 4 * (s * n + joint);
    const a = rotations[k]!;
    const b = rotations[k + 1]!;
    const c = rotations[k + 2]!;
    const d = rotations[k + 3]!;
    // A quaternion and its negative are one rotation: the nearer one goes on.
    const sign = s > 0 && x[s - 1]! * a + y[s - 1]! * b + z[s - 1]! * c + w[s - 1]! * d < 0 ? -1 : 1;
    x[s] = sign * a;
    y[s] = sign * b;
    z[s] = sign * c;
    w[s] = sign * d;
  }
  return components;
}

/** Half width of the smooth curve, samples. */
const halfWidth = (fps: number): number => Math.max(2, Math.floor(PART_SHAKE_DEFAULTS.half * (fps / 24)));

/** How much of a swing of a period, in samples, is left when the smooth curve is taken out: a curve follows a slow one in part. */
function leftOf(period: number, fps: number): number {
  const half = halfWidth(fps);
  const swing = sampled(4 * half + 1, (k) => Math.cos((2 * Math.PI * (k - 2 * half)) / period));
  const followed = smooth(swing, half, PART_SHAKE_DEFAULTS.order, false)[2 * half]!;
  return Math.max(LEAST_LEFT, 1 - followed);
}

/** Of what the curve follows nearly whole nothing is made larger than this. */
const LEAST_LEFT = 0.5;

/** Whether a quaternion's signs go on over the end of a loop. */
const closesOn = (components: readonly Float64Array[]): boolean =>
  components.reduce((sum, values) => sum + values[0]! * values.at(-1)!, 0) > 0;

interface Swings {
  readonly from: number;
  readonly to: number;
  readonly period: number;
  /** How large it is, where the swings do not say so. */
  readonly size?: number;
}

/** A part that trembles nearly everywhere without a pattern: no swing is like the one before. */
function trembling(
  world: Float64Array,
  joint: number,
  e: Float64Array,
  { loop, exposures, unsmoothed }: PreparedShot,
): Swings | undefined {
  const components = componentsOf(world, unsmoothed.joints.length, joint, e.length);
  const size = noiseOf(components, loop !== 'none' && closesOn(components), exposures.stride > 1);
  if (size < PART_SHAKE_DEFAULTS.trembles) return undefined;
  let turns = 0;
  for (let s = 1; s < e.length; s++) if (e[s]! > 0 !== e[s - 1]! > 0) turns++;
  return { from: 0, to: e.length - 1, period: (2 * e.length) / Math.max(1, turns), size };
}

/** The longest stretch in which a signal swings to and fro, one swing like the other; undefined where there are too few. */
function longestSwing(e: Float64Array, fps: number): Swings | undefined {
  const { least, swings, apart, alike } = PART_SHAKE_DEFAULTS;
  const peaks: { at: number; size: number }[] = [];
  for (let s = 0; s < e.length; s++) {
    if (Math.abs(e[s]!) < least) continue;
    const last = peaks.at(-1);
    if (last && last.size > 0 === e[s]! > 0) {
      if (Math.abs(e[s]!) > Math.abs(last.size)) peaks[peaks.length - 1] = { at: s, size: e[s]! };
    } else peaks.push({ at: s, size: e[s]! });
  }
  const reach = apart * (fps / 24);
  const goesOn = (a: { at: number; size: number }, b: { at: number; size: number }): boolean => {
    const ratio = Math.abs(a.size / b.size);
    return b.at - a.at <= reach && ratio <= alike && ratio >= 1 / alike;
  };
  let best: Swings | undefined;
  let first = 0;
  for (let k = 1; k <= peaks.length; k++) {
    if (k < peaks.length && goesOn(peaks[k - 1]!, peaks[k]!)) continue;
    const count = k - first;
    if (count >= swings && peaks[k - 1]!.at - peaks[first]!.at >= PART_SHAKE_DEFAULTS.lasts * e.length) {
      const [from, to] = [peaks[first]!.at, peaks[k - 1]!.at];
      if (!best || to - from > best.to - best.from) best = { from, to, period: (2 * (to - from)) / (count - 1) };
    }
    first = k;
  }
  return best;
}
