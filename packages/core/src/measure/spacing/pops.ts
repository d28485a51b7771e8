import { CUBIC_WEIGHTS } from '../../signal/neighbours.ts';
import { childrenOf, type Joint } from '../../motion/motion.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { ancestors, chainJoints } from '../../motion/roles.ts';
import { aroundContactsOf, findContacts } from '../../motion/feet/contacts.ts';
import { gapsInCycles } from '../cycle/gaps-in-cycles.ts';
import { partners } from '../cycle/mirror.ts';
import { everyFor } from './point-path.ts';
import { findFlights } from '../jump/flights.ts';
import { CUBIC, displaced, QUINTIC, roomFor } from './displaced-sample.ts';
import { legPops } from './pops-of-legs.ts';

/** Thresholds of a pose that is out of place for one frame. */
export const POP_DEFAULTS = Object.freeze({
  /** What hangs from the joint is thrown by at least this, %L. */
  least: 1.4,
  /** Within two frames of where a foot lands or leaves a knee may give by less than this, %L. */
  leastAtContact: 14,
});

/** One joint's rotation or position out of place at one sample. */
export interface Pop {
  readonly joint: number;
  readonly sample: number;
  /** How far what hangs from it is thrown, %L. */
  readonly reach: number;
  /** Degrees it is turned by; 0 where it is moved. */
  readonly degrees: number;
  /** Joints under it that are off at the same sample. */
  readonly also: readonly number[];
}

const DEGREES = 180 / Math.PI;

const known = new WeakMap<PreparedShot, readonly Pop[]>();

/**
 * Every joint whose own rotation or position is out of place at a single sample, once: of several that are off together the one nearest the
 * root is named. Looked for on each joint's own channels and not on the paths of points, where a swing of the whole limb would hide it.
 */
export function findPops(shot: PreparedShot): readonly Pop[] {
  const pops =
    known.get(shot) ??
    together(shot, amidFrames(shot, [...oneSided(shot, rotationPops(shot)), ...translationPops(shot)]));
  known.set(shot, pops);
  return pops;
}

type Single = Omit<Pop, 'also'>;

/** Where frames were cut out everything leaps, and nothing of it is out of place by itself. */
function amidFrames(shot: PreparedShot, pops: readonly Single[]): readonly Single[] {
  if (pops.length === 0) return pops;
  const gaps = gapsInCycles(shot);
  return pops.filter((pop) => !gaps.some(({ sample }) => pop.sample - sample === 0 || pop.sample - sample === 1));
}

/** What both sides do by as much, one at the other's sample or beside it, is the accent of an action, where poses are held and a sample is all there is of it. */
function oneSided(shot: PreparedShot, pops: readonly Single[]): readonly Single[] {
  if (shot.exposures.stride < 2) return pops;
  const partner = partners(shot);
  return pops.filter(
    (pop) =>
      !pops.some(
        (other) =>
          Math.abs(other.sample - pop.sample) <= 1 &&
          other.joint !== pop.joint &&
          partner[pop.joint] === other.joint &&
          Math.abs(other.degrees - pop.degrees) <= BOTH_ALIKE * Math.max(other.degrees, pop.degrees),
      ),
  );
}

/** Of the larger one. */
const BOTH_ALIKE = 0.3;

function together({ motion }: PreparedShot, singles: readonly Single[]): Pop[] {
  const at = new Map<number, Single[]>();
  for (const single of singles) at.set(single.sample, [...(at.get(single.sample) ?? []), single]);
  return [...at.values()]
    .flatMap((same) =>
      same
        .filter(
          (pop, k) =>
            !same.some((other) => ancestors(motion.joints, pop.joint).includes(other.joint)) &&
            same.findIndex(({ joint }) => joint === pop.joint) === k,
        )
        .map((pop): Pop => {
          const below = same.filter(({ joint }) => ancestors(motion.joints, joint).includes(pop.joint));
          return { ...pop, also: [...new Set(below.map(({ joint }) => joint))] };
        }),
    )
    .sort((a, b) => a.sample - b.sample || a.joint - b.joint);
}

function rotationPops(shot: PreparedShot): Single[] {
  const motion = shot.unsmoothed;
  const n = motion.joints.length;
  const wraps = shot.loop !== 'none';
  const count = wraps ? shot.period : motion.frames;
  const reaches = reachOf(motion.joints);
  const skip = new Map<number, ReadonlySet<number>>();
  for (const side of ['L', 'R'] as const) {
    const around = shot.fourLegs ? undefined : aroundContactsOf(shot, side);
    for (const role of ['foot', 'toe'] as const) {
      const joint = shot.roles[`${role}.${side}`];
      if (joint !== undefined && around) skip.set(joint, around);
    }
  }
  const L = shot.scale.legLength;
  const q = motion.rotations;
  const every = everyFor(shot.fps);
  const room = roomFor(4, count);
  const values = new Float64Array(4 * count);
  const atContact = legsAtContacts(shot, 2);
  const legs = outOfSwing(shot);
  const pops: Single[] = [];
  const largest = largestResiduals(q, n, count, wraps);
  for (let joint = 0; joint < n; joint++) {
    const reach = reaches[joint]!;
    if (!(reach > 0)) continue;
    // A turn by a throws what lies a reach away by a × reach; a quaternion moves by half of a.
    const least = ((POP_DEFAULTS.least / 100) * L) / (2 * reach);
    const swings = legs.get(joint);
    // Most joints of most shots are never out of place: nothing more is worked out for them.
    if (!swings && largest[joint]! < 0.8 * least) continue;
    let turns = false;
    const x0 = q[4 * joint]!;
    const y0 = q[4 * joint + 1]!;
    const z0 = q[4 * joint + 2]!;
    const w0 = q[4 * joint + 3]!;
    let [px, py, pz, pw] = [x0, y0, z0, w0];
    for (let f = 0; f < count; f++) {
      const from = 4 * (f * n + joint);
      const to = 4 * f;
      const x = q[from]!;
      const y = q[from + 1]!;
      const z = q[from + 2]!;
      const w = q[from + 3]!;
      turns ||= x !== x0 || y !== y0 || z !== z0 || w !== w0;
      // One rotation has two quaternions: the one nearer to the sample before.
      const sign = x * px + y * py + z * pz + w * pw < 0 ? -1 : 1;
      values[to] = px = sign * x;
      values[to + 1] = py = sign * y;
      values[to + 2] = pz = sign * z;
      values[to + 3] = pw = sign * w;
    }
    if (!turns) continue;
    for (const { sample, size } of [
      ...displaced({ values, width: 4, count, wraps, every }, CUBIC, least, room, skip.get(joint)),
      ...(swings ? displaced({ values, width: 4, count, wraps, every }, QUINTIC, least, room, swings) : []),
    ]) {
      const thrown = (100 * 2 * size * reach) / L;
      if (thrown < POP_DEFAULTS.leastAtContact && atContact.get(joint)?.has(sample)) continue;
      pops.push({ joint, sample, reach: thrown, degrees: 2 * size * DEGREES });
    }
  }
  for (const pop of legPops(shot, reaches))
    pops.push({ ...pop, reach: ((100 * reaches[pop.joint]!) / L) * (pop.degrees / DEGREES) });
  return pops;
}

/**
 * Of each joint the farthest that its rotation, as a quaternion, lies off what its four neighbours predict. Sample by sample, as the rotations lie
 * in memory: joint by joint it takes several times as long.
 */
function largestResiduals(q: Float64Array, joints: number, count: number, wraps: boolean): Float64Array {
  const largest = new Float64Array(joints);
  if (count < 8) return largest.fill(Infinity);
  const row = 4 * joints;
  const [near, far] = CUBIC_WEIGHTS;
  const first = wraps ? 0 : 2;
  for (let s = first; s < count - first; s++) {
    const here = s * row;
    const b2 = ((s - 2 + count) % count) * row;
    const b1 = ((s - 1 + count) % count) * row;
    const a1 = ((s + 1) % count) * row;
    const a2 = ((s + 2) % count) * row;
    for (let c = 0; c < row; c += 4) {
      const x = q[here + c]!;
      const y = q[here + c + 1]!;
      const z = q[here + c + 2]!;
      const w = q[here + c + 3]!;
      // One rotation has two quaternions: of each neighbour the one nearer to this sample's.
      const u2 = x * q[b2 + c]! + y * q[b2 + c + 1]! + z * q[b2 + c + 2]! + w * q[b2 + c + 3]! < 0 ? -far : far;
      const u1 = x * q[b1 + c]! + y * q[b1 + c + 1]! + z * q[b1 + c + 2]! + w * q[b1 + c + 3]! < 0 ? -near : near;
      const v1 = x * q[a1 + c]! + y * q[a1 + c + 1]! + z * q[a1 + c + 2]! + w * q[a1 + c + 3]! < 0 ? -near : near;
      const v2 = x * q[a2 + c]! + y * q[a2 + c + 1]! + z * q[a2 + c + 2]! + w * q[a2 + c + 3]! < 0 ? -far : far;
      let square = 0;
      for (let k = c; k < c + 4; k++) {
        const off = q[here + k]! - u2 * q[b2 + k]! - u1 * q[b1 + k]! - v1 * q[a1 + k]! - v2 * q[a2 + k]!;
        square += off * off;
      }
      const joint = c >> 2;
      if (square > largest[joint]!) largest[joint] = square;
    }
  }
  return largest.map(Math.sqrt);
}

/** Of a walk or run, for thighs and shins, the samples at which their foot stands, and two beside. */
function outOfSwing(shot: PreparedShot): Map<number, Set<number>> {
  const legs = new Map<number, Set<number>>();
  if (shot.kind !== 'walk' && shot.kind !== 'run') return legs;
  for (const side of ['L', 'R'] as const) {
    const out = new Set<number>();
    for (const { from, to } of findContacts(shot).feet[side] ?? [])
      for (let s = from - 2; s <= to + 2; s++) out.add(shot.loop === 'none' ? s : (s + 2 * shot.period) % shot.period);
    for (const role of ['thigh', 'shin'] as const) {
      const joint = shot.roles[`${role}.${side}`];
      if (joint !== undefined) legs.set(joint, out);
    }
  }
  return legs;
}

/** For thighs and shins the samples at which their foot lands or leaves, or the body does, and those so near to it. */
function legsAtContacts(shot: PreparedShot, reach: number): Map<number, Set<number>> {
  const legs = new Map<number, Set<number>>();
  if (shot.fourLegs) return legs;
  const hanging = Object.entries(shot.roles).filter(([role]) => role.startsWith('chain:'));
  const flights = shot.kind === 'jump' || shot.kind === 'any' ? findFlights(shot) : [];
  const ends = typeof flights === 'string' ? [] : flights.flatMap(({ takeoff, landing }) => [takeoff, landing]);
  // What is attached is thrown by a landing as well, and swings on behind it.
  const atFlights = new Set(ends.flatMap((at) => (at === undefined ? [] : [-2, -1, 0, 1, 2, 3, 4].map((k) => at + k))));
  for (const [, first] of hanging)
    for (const joint of chainJoints(shot.motion.joints, first!)) legs.set(joint, atFlights);
  for (const side of ['L', 'R'] as const) {
    const contacts = (findContacts(shot).feet[side] ?? []).flatMap(({ from, to }) => [from, to]);
    const around = new Set<number>();
    for (const at of [...contacts, ...ends]) {
      if (at === undefined) continue;
      for (let k = -reach; k <= reach; k++)
        around.add(shot.loop === 'none' ? at + k : (at + k + 2 * shot.period) % shot.period);
    }
    for (const role of ['thigh', 'shin'] as const) {
      const joint = shot.roles[`${role}.${side}`];
      if (joint !== undefined) legs.set(joint, around);
    }
  }
  return legs;
}

function translationPops(shot: PreparedShot): Single[] {
  const motion = shot.unsmoothed;
  const wraps = shot.loop !== 'none';
  const count = wraps ? shot.period : motion.frames;
  const L = shot.scale.legLength;
  return motion.moving.flatMap((joint, slot) => {
    const values = new Float64Array(3 * count);
    for (let f = 0; f < count; f++)
      for (let c = 0; c < 3; c++) values[3 * f + c] = motion.translations[3 * (f * motion.moving.length + slot) + c]!;
    // Where a figure travels its way does not come back over the seam.
    const returns = Math.hypot(...[0, 1, 2].map((c) => values[3 * (count - 1) + c]! - values[c]!)) < 0.5 * L;
    return displaced(
      { values, width: 3, count, wraps: wraps && returns, every: everyFor(shot.fps) },
      CUBIC,
      (POP_DEFAULTS.least / 100) * L,
      roomFor(3, count),
    ).map(({ sample, size }): Single => ({ joint, sample, reach: (100 * size) / L, degrees: 0 }));
  });
}

/** How far what hangs from each joint reaches from it at rest, end sites included; units. */
function reachOf(joints: readonly Joint[]): Float64Array {
  const children = childrenOf(joints);
  const reach = new Float64Array(joints.length);
  joints.forEach((_, top) => {
    const look = (j: number, at: readonly [number, number, number]): void => {
      for (const end of [[0, 0, 0] as const, ...joints[j]!.ends])
        reach[top] = Math.max(reach[top]!, Math.hypot(at[0] + end[0], at[1] + end[1], at[2] + end[2]));
      for (const child of children[j]!) {
        const { offset } = joints[child]!;
        look(child, [at[0] + offset[0], at[1] + offset[1], at[2] + offset[2]]);
      }
    };
    look(top, [0, 0, 0]);
  });
  return reach;
}

/** Samples about the pops that throw a point of this joint: its path is off there because of them. */
export function besidePops(shot: PreparedShot, joint: number): Set<number> {
  const line = new Set([joint, ...ancestors(shot.motion.joints, joint)]);
  const beside = new Set<number>();
  const period = shot.loop === 'none' ? undefined : shot.period;
  for (const pop of findPops(shot)) {
    if (!line.has(pop.joint) && !pop.also.some((other) => line.has(other))) continue;
    for (let k = -2; k <= 2; k++) {
      const at = pop.sample + k;
      beside.add(period ? ((at % period) + period) % period : at);
      if (period && at === 0 && shot.loop === 'repeat') beside.add(period);
    }
  }
  return beside;
}
