import { GAITS } from '../../motion/kinds.ts';
import { headingOf } from '../../motion/heading.ts';
import { nameParts } from '../../motion/joint-names.ts';
import { restPositions } from '../../motion/motion.ts';
import { jointWeights } from '../../motion/pose-distance.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { logarithm } from '../../motion/joint-turn.ts';
import { angleBetween, conjugate, multiply, type Quat } from '../../motion/quaternion.ts';
import { smallestOf } from '../../signal/statistics.ts';
import { chainJoints } from '../../motion/roles.ts';
import { dot, type Vec3 } from '../../motion/vector.ts';
import { atFrames, degrees, ofLeg } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { findContacts } from '../../motion/feet/contacts.ts';
import { jointParts } from '../parts.ts';
import { made, type Measured, type Reading, refuse, roundTo4, together } from '../reading.ts';
import { figurePoses, type FigurePoses } from './figure-pose.ts';
import { type WholeCycle, wholeCycles } from './whole-cycles.ts';

const OFF = describeReading({
  id: 'mirror.off',
  holds: holding<number, { largest?: number }>(),
  name: 'difference from the mirror',
  unit: '°',
  needs: 'a whole cycle with left and right legs',
  kinds: GAITS,
  fromPoses: true,
  mark: 'breakdown',
  explains: { 'mirror.off': (cause, effect) => cause.part === undefined && effect.part !== undefined },
  thrownBy: { cutLoop: 'anywhere', strayFrame: true },
  say: ({ value, part, frames }, name) =>
    part === undefined
      ? `the second half is ${degrees(value)} off the first one’s mirror${frames ? `, most${atFrames(frames)}` : ''}`
      : `the second half of ${name} is ${degrees(value)} off the first one’s mirror`,
});
const HEIGHT = describeReading({
  id: 'mirror.height',
  holds: holding<number, { units: number }>(),
  name: 'height of the two halves',
  unit: '%L',
  needs: 'a whole cycle with hips and both feet',
  kinds: GAITS,
  fromPoses: true,
  mark: 'breakdown',
  shows: 'hips',
  explains: { 'mirror.off': 'always' },
  thrownBy: { cutLoop: 'anywhere', strayFrame: true },
  say: ({ value, frames }) =>
    value === 0
      ? 'the hips are as high in both halves'
      : `the hips’ height differs by ${ofLeg(value)} between the halves${atFrames(frames)}`,
});

export const MIRROR = [OFF, HEIGHT] as const;

/** A chain farther from the centre line than this share of the leg length hangs at one side. */
const OFF_CENTRE = 0.05;

/** Degrees under which a cycle is its own mirror, and no frame of it is worse than another. */
const NOTHING_OFF = 0.01;

/** Of more cycles than this, so many are looked at, evenly chosen. */
const MOST_CYCLES = 12;

/**
 * `mirror.off`, whole body and per part, and `mirror.height`: the pose at i against the mirrored pose half a cycle later, each cycle by
 * itself. Left and right are swapped and what is on the centre line is reflected, in the figure's own plane of symmetry: the one its
 * heading makes at that moment, so that a walk across the screen or round a corner is judged as one along it.
 */
export function measureMirror(shot: PreparedShot): Measured {
  const all = wholeCycles(shot).filter((cycle) => cycle.length >= 4);
  const why = shot.fourLegs
    ? 'the figure stands on four legs, and only two-legged gaits are measured'
    : shot.roles['thigh.L'] === undefined || shot.roles['thigh.R'] === undefined
      ? 'left and right legs are not known; set the roles'
      : all.length === 0
        ? 'there is no whole cycle, so no second half to mirror'
        : !shot.axes.forwardKnown
          ? 'at rest the figure has no left and right'
          : turnsAside(shot, all[0]!)
            ? 'the path turns, so the step on the inside is not the mirror of the one on the outside'
            : undefined;
  if (why) return refuse(MIRROR, why);
  const every = Math.ceil(all.length / MOST_CYCLES);
  const cycles = all.filter((_, k) => k % every === 0);
  const pairs = cycles.map((cycle) => halves(shot, cycle));
  if (pairs.every((list) => list.length === 0)) return refuse(MIRROR, 'no pose stands half a cycle behind another');
  return together(mirrorOff(shot, cycles, pairs), mirrorHeight(shot, cycles, pairs));
}

/** A path that turns by more than this in a cycle, degrees, has an inside and an outside. */
const TURNS_ASIDE = 8;

function turnsAside(shot: PreparedShot, { length }: WholeCycle): boolean {
  const samples = shot.loop === 'none' ? shot.motion.frames : shot.period;
  const { turn } = headingOf(shot, samples, Math.round(length));
  return (length * Math.abs(turn[samples - 1]! - turn[0]!)) / Math.max(1, samples - 1) > TURNS_ASIDE;
}

/** Shares of a cycle at which there is a pose, and one half a cycle later: each sample, or where poses are held where both begin. */
function halves(shot: PreparedShot, { from, length }: WholeCycle): number[] {
  const count = Math.round(length);
  const each = Array.from({ length: count }, (_, i) => i / count);
  if (!shot.exposures.blocking) return each;
  const starts = new Set<number>();
  shot.exposures.lengths.reduce((at, own) => (starts.add(at % shot.period), at + own), 0);
  const begins = (sample: number): boolean => Number.isInteger(sample) && starts.has(sample % shot.period);
  return each.filter((u) => begins(from + u * length) && begins(from + u * length + length / 2));
}

/** Within a cycle, half of it later: over its end it begins again. */
const later = (u: number): number => (u < 0.5 ? u + 0.5 : u - 0.5);

function mirrorOff(shot: PreparedShot, cycles: readonly WholeCycle[], pairs: readonly number[][]): Measured {
  const { motion } = shot;
  const partner = partners(shot);
  const weights = jointWeights(motion);
  const parts = jointParts(shot);
  const poses = figurePoses(shot, Math.round(cycles[0]!.length));
  const joints = motion.joints.map((_, j) => j).filter((j) => partner[j]! >= 0 && !poses.skipped.has(j));
  const sums = new Map(joints.map((j) => [parts[j]!, { error: 0, weight: 0 }]));
  const sumOf = joints.map((j) => sums.get(parts[j]!)!);
  const ofHead = joints.filter((j) => parts[j] === HEAD_PART);
  const heads: number[] = [];
  let whole = 0;
  let count = 0;
  let worst = { value: -1, at: 0, other: 0 };
  cycles.forEach((cycle, c) => {
    const { from, length } =
      shot.loop === 'none' && cycles.length <= 4 ? refined(shot, cycle, poses, joints, partner, weights) : cycle;
    heads.push(headOff({ shot, poses, partner, weights }, ofHead, { from, length }, pairs[c]!));
    for (const u of pairs[c]!) {
      const [at, other] = [from + u * length, from + later(u) * length];
      let pose = 0;
      joints.forEach((j, k) => {
        const angle = angleBetween(poses.at(at, j), reflect(poses.at(other, partner[j]!), shot.axes.left));
        const error = weights[j]! * angle * angle;
        pose += error;
        sumOf[k]!.error += error;
        sumOf[k]!.weight += weights[j]!;
      });
      whole += pose;
      count++;
      if (pose > worst.value) worst = { value: pose, at, other };
    }
  });
  const readings: Reading[] = [
    OFF.of(roundTo4(Math.sqrt(whole / count)), {
      ...(whole / count > NOTHING_OFF ** 2 && { frames: labels(shot, worst.at, worst.other) }),
      detail: { largest: roundTo4(Math.sqrt(worst.value)) },
    }),
  ];
  for (const [part, { error, weight }] of sums) {
    const off = part === HEAD_PART ? smallestOf(heads) : Math.sqrt(error / weight);
    readings.push(OFF.of(roundTo4(off), { part, detail: {} }));
  }
  return made(...readings);
}

const HEAD_PART = 'head';

interface Mirrored {
  readonly shot: PreparedShot;
  readonly poses: FigurePoses;
  readonly partner: ArrayLike<number>;
  readonly weights: Float64Array;
}

/**
 * How far a head is off the mirror of itself within a cycle, besides what it is all along: one that faces aside is told by where it faces, and one that
 * looks somewhere for a while does so in no other cycle.
 */
function headOff(
  { shot, poses, partner, weights }: Mirrored,
  joints: readonly number[],
  { from, length }: WholeCycle,
  pairs: readonly number[],
): number {
  let [error, weight] = [0, 0];
  for (const j of joints) {
    let [x, y, z, square] = [0, 0, 0, 0];
    for (const u of pairs) {
      const mirror = reflect(poses.at(from + later(u) * length, partner[j]!), shot.axes.left);
      const turn = logarithm(multiply(conjugate(mirror), poses.at(from + u * length, j)));
      x += turn[0];
      y += turn[1];
      z += turn[2];
      square += turn[0] ** 2 + turn[1] ** 2 + turn[2] ** 2;
    }
    const count = Math.max(1, pairs.length);
    error += weights[j]! * Math.max(0, square / count - (x * x + y * y + z * z) / count ** 2);
    weight += weights[j]!;
  }
  return weight > 0 ? Math.sqrt(error / weight) : 0;
}

/**
 * Footfalls are right to a frame: of a cycle that does not loop the length, to a quarter of a frame, at which its last pose is its first
 * again.
 */
function refined(
  shot: PreparedShot,
  cycle: WholeCycle,
  poses: FigurePoses,
  joints: readonly number[],
  partner: readonly number[],
  weights: Float64Array,
): WholeCycle {
  let best = { error: Infinity, length: cycle.length };
  for (let change = -1; change <= 1; change += 0.25) {
    const length = cycle.length + change;
    if (cycle.from + length > shot.motion.frames - 1 && change > 0) continue;
    let error = 0;
    for (const u of [0.1, 0.25, 0.4, 0.6, 0.75, 0.9])
      for (const j of joints)
        error +=
          weights[j]! *
          angleBetween(
            poses.at(cycle.from + u * length, j),
            reflect(poses.at(cycle.from + later(u) * length, partner[j]!), shot.axes.left),
          ) **
            2;
    if (error < best.error * 0.999) best = { error, length };
  }
  return { from: cycle.from, length: best.length };
}

/** Two samples as labels of the shot, in order. */
function labels(shot: PreparedShot, ...samples: number[]): number[] {
  const last = shot.loop === 'none' ? shot.motion.frames : shot.period;
  return samples.map((s) => labelOf(shot, Math.floor(s) % last)).sort((a, b) => a - b);
}

function mirrorHeight(shot: PreparedShot, cycles: readonly WholeCycle[], pairs: readonly number[][]): Measured {
  const { motion, world, axes } = shot;
  const hips = shot.roles.hips;
  if (!shot.scale.fromLegs) return refuse([HEIGHT], 'the legs have no length to measure it by');
  if (hips === undefined) return refuse([HEIGHT], 'the hips are not known; set the roles');
  const wraps = shot.loop !== 'none';
  const samples = wraps ? shot.period : motion.frames;
  const raw = (f: number): number => {
    const s = wraps ? ((f % samples) + samples) % samples : Math.min(samples - 1, f);
    const at = 3 * (s * motion.joints.length + hips);
    return dot([world.positions[at]!, world.positions[at + 1]!, world.positions[at + 2]!], axes.up);
  };
  const between = (height: (f: number) => number, s: number): number => {
    const low = Math.floor(s);
    return height(low) + (s - low) * (height(low + 1) - height(low));
  };
  const steps = findContacts(shot).kind === 'steps';
  let worst = { size: 0, at: cycles[0]!.from, other: cycles[0]!.from + cycles[0]!.length / 2 };
  cycles.forEach(({ from, length }, c) => {
    // Up steps the second half is higher by half the climb, and still the mirror of the first.
    const climb = !steps
      ? 0
      : wraps
        ? dot(findContacts(shot).advance, axes.up) / samples
        : (between(raw, from + length) - between(raw, from)) / length;
    // Past the seam a loop that climbs is higher by a period's climb.
    const level = (f: number): number => raw(f) + (wraps ? Math.floor(f / samples) * samples * climb : 0) - climb * f;
    for (const u of pairs[c]!) {
      const [at, other] = [from + u * length, from + later(u) * length];
      const size = Math.abs(between(level, at) - between(level, other));
      if (size > worst.size) worst = { size, at, other };
    }
  });
  return made(
    HEIGHT.of(roundTo4((100 * worst.size) / shot.scale.legLength), {
      frames: labels(shot, worst.at, worst.other),
      detail: { units: roundTo4(worst.size) },
    }),
  );
}

/**
 * The joint on the other side, by role or by name; itself for a joint on the centre line; −1 for one that has no mirror: a chain
 * that hangs at one side, such as a bag.
 */
export function partners(shot: Pick<PreparedShot, 'motion' | 'roles' | 'axes' | 'scale'>): number[] {
  const { joints } = shot.motion;
  const partner = joints.map((_, j) => j);
  const pair = (a: number, b: number): void => {
    partner[a] = b;
    partner[b] = a;
  };
  const names = nameParts(joints.map((joint) => joint.name));
  names.forEach(({ side, word }, j) => {
    if (side !== 'L') return;
    // Two joints of one limb may share a word (“Finger1”, “Finger2”): the digits tell them apart.
    const digits = joints[j]!.name.replace(/\D/g, '');
    const other = names.findIndex(
      (name, k) => name.side === 'R' && name.word === word && joints[k]!.name.replace(/\D/g, '') === digits,
    );
    if (other >= 0) pair(j, other);
  });
  for (const [role, joint] of Object.entries(shot.roles)) {
    if (!role.endsWith('.L')) continue;
    const other = shot.roles[`${role.slice(0, -2)}.R` as 'hand.R'];
    if (other !== undefined) pair(joint!, other);
  }
  const rest = restPositions(joints);
  for (const [role, first] of Object.entries(shot.roles)) {
    if (!role.startsWith('chain:')) continue;
    const chain = chainJoints(joints, first!);
    const aside = chain.some((j) => {
      const at: Vec3 = [rest[3 * j]!, rest[3 * j + 1]!, rest[3 * j + 2]!];
      return Math.abs(dot(at, shot.axes.left)) > OFF_CENTRE * shot.scale.legLength;
    });
    if (aside) for (const j of chain) if (partner[j] === j) partner[j] = -1;
  }
  return partner;
}

/** A rotation mirrored in the plane square to `across`: an axis of rotation keeps its part along it and turns the rest round. */
export function reflect(q: Quat, across: Vec3): Quat {
  const along = 2 * (q[0] * across[0] + q[1] * across[1] + q[2] * across[2]);
  return [along * across[0] - q[0], along * across[1] - q[1], along * across[2] - q[2], q[3]];
}
