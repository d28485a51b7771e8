import { type Heading, headingOf } from '../../motion/heading.ts';
import { loopPeriod } from '../../motion/loop.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate } from '../../motion/quaternion.ts';
import { footTracks, stepOf } from '../../motion/feet/standing-feet.ts';
import { mean, median } from '../../signal/statistics.ts';
import { add, dot, length, reject, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { type Contacts, findContacts } from '../../motion/feet/contacts.ts';
import { sampled } from '../../signal/sampled.ts';

export const SIDES = ['L', 'R'] as const;
export type FootSide = (typeof SIDES)[number];

/** One landing of one foot, in order of time. Samples; of a loop within the period, its planted time may go on past it. */
export interface Landing {
  readonly side: FootSide;
  readonly at: number;
  readonly until: number;
  /** It did not land within the shot: the figure stands on it when the shot begins, or is about to leave it. */
  readonly standing: boolean;
}

/** From one landing of a foot to its next, the other having landed once between. Samples; `to` may lie past a loop's period. */
export interface Cycle {
  readonly from: number;
  readonly to: number;
}

/** A walk as its measures look at it: along the way the figure faces at each moment, on the ground it was found on. */
export interface GaitView {
  readonly shot: PreparedShot;
  /** Samples that count: a loop's period. */
  readonly frames: number;
  readonly wraps: boolean;
  readonly contacts: Contacts;
  readonly landings: readonly Landing[];
  /** How far the ground has gone by from a sample to another: of cycles on the spot that are not alike each at its own pace. */
  groundGone(from: number, to: number): Vec3;
  /** Whole cycles, told by the footfalls. */
  readonly cycles: readonly Cycle[];
  readonly heading: Heading;
  /** 1 forward, −1 backward. */
  readonly direction: 1 | -1;
  /** Place of a joint at a sample along the heading there: forward, up, left; units. Samples wrap on a loop. */
  place(joint: number, sample: number): { forward: number; up: number; left: number };
  /** The same, one of the three: without an object a sample. */
  forward(joint: number, sample: number): number;
  up(joint: number, sample: number): number;
  left(joint: number, sample: number): number;
  /** Height of the hips at a sample, less the climb where the figure goes up or down steps. */
  hipsUp(sample: number): number;
  /** How far a looping figure that travels has come at a sample past its period. */
  travelled(sample: number): Vec3;
  /** Turn of a joint about up, degrees, positive to the left, against the heading at that moment. */
  turn(joint: number, sample: number): number;
  /** Sample within the shot; of a loop, within its period. */
  index(sample: number): number;
  /** Label of a sample; on a loop, of where it falls in the period. */
  label(sample: number): number;
}

const known = new WeakMap<PreparedShot, GaitView | string>();

/** The walk in a shot, or why there is none to measure. Worked out once a shot. */
export function viewGait(shot: PreparedShot): GaitView | string {
  const view = known.get(shot) ?? workOut(shot);
  known.set(shot, view);
  return view;
}

function workOut(shot: PreparedShot): GaitView | string {
  const { roles, motion, axes, world, loop } = shot;
  if (shot.fourLegs) return 'the figure stands on four legs, and only two-legged gaits are measured';
  const missing = (['hips', 'foot.L', 'foot.R'] as const).filter((role) => roles[role] === undefined);
  if (missing.length > 0) return `it needs ${missing.join(', ')}, which are not known; set the roles`;
  const frames = loopPeriod(loop, motion.frames);
  if (frames < 6) return `it needs 6 poses or more, the shot has ${frames}`;
  const contacts = findContacts(shot);
  const landings = landingsOf(shot, contacts);
  if (landings.length === 0) return 'no foot is ever planted on the ground';
  const wraps = loop !== 'none';
  const cycles = cyclesOf(landings, wraps, frames);
  const usual = cycles.length > 0 ? Math.round(mean(cycles.map(({ from, to }) => to - from))) : undefined;
  const heading = headingOf(shot, frames, usual);
  const n = motion.joints.length;
  const index = (sample: number): number => (wraps ? ((sample % frames) + frames) % frames : sample);
  const travelled = (sample: number): Vec3 =>
    wraps ? scale(contacts.advance, Math.floor(sample / frames)) : [0, 0, 0];
  const point = (joint: number, sample: number): Vec3 => {
    const k = 3 * (index(sample) * n + joint);
    const p: Vec3 = [world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!];
    return wraps && (sample < 0 || sample >= frames) ? add(p, travelled(sample)) : p;
  };
  const up = axes.up;
  const along = (joint: number, sample: number, axis: Vec3): number => {
    const at = index(sample);
    const k = 3 * (at * n + joint);
    const own = world.positions[k]! * axis[0] + world.positions[k + 1]! * axis[1] + world.positions[k + 2]! * axis[2];
    return at === sample ? own : own + dot(travelled(sample), axis);
  };
  const ahead = (joint: number, sample: number): number => along(joint, sample, heading.forward(index(sample)));
  const above = (joint: number, sample: number): number => along(joint, sample, up);
  const aside = (joint: number, sample: number): number => along(joint, sample, heading.left(index(sample)));
  const place: GaitView['place'] = (joint, sample) => ({
    forward: ahead(joint, sample),
    up: above(joint, sample),
    left: aside(joint, sample),
  });
  const hipsHeight = (sample: number): number => above(roles.hips!, sample);
  const climbs = contacts.kind === 'steps';
  const climb = climbs
    ? wraps
      ? dot(contacts.advance, axes.up) / frames
      : (hipsHeight(frames - 1) - hipsHeight(0)) / (frames - 1)
    : 0;
  const belts = beltsOf(shot, contacts, cycles, heading, index);
  // On the spot the ground goes back under who walks forward.
  let gone = -frames * dot(contacts.groundVelocity, heading.forward(0));
  if (length(contacts.groundVelocity) === 0)
    for (let f = 0; f + 1 < frames; f++)
      gone += dot(subtract(point(roles.hips!, f + 1), point(roles.hips!, f)), heading.forward(f));
  return {
    shot,
    frames,
    wraps,
    contacts,
    landings,
    cycles,
    groundGone: (from, to) => {
      let gone: Vec3 = [0, 0, 0];
      for (let s = from; s < to; s++) gone = add(gone, belts?.[index(s)] ?? contacts.groundVelocity);
      return gone;
    },
    heading,
    direction: gone < 0 ? -1 : 1,
    place,
    forward: ahead,
    up: above,
    left: aside,
    travelled,
    hipsUp: (sample) => hipsHeight(sample) - climb * sample,
    turn: (joint, sample) => {
      const at = index(sample);
      const facing = rotate(quatAt(world.rotations, at * n + joint), axes.forward);
      return (Math.atan2(dot(facing, heading.left(at)), dot(facing, heading.forward(at))) * 180) / Math.PI;
    },
    index,
    label: (sample) => labelOf(shot, index(sample)),
  };
}

/**
 * How the ground goes by at each sample where a figure on the spot has several cycles: the median way of the planted feet's lowest points
 * in that cycle. Undefined where there is one pace for all.
 */
function beltsOf(
  shot: PreparedShot,
  contacts: Contacts,
  cycles: readonly Cycle[],
  heading: Heading,
  index: (sample: number) => number,
): Vec3[] | undefined {
  if (cycles.length < 2 || length(contacts.groundVelocity) === 0) return undefined;
  const belts: Vec3[] = [];
  const tracks = footTracks(shot);
  for (const { from, to } of cycles) {
    const steps: number[] = [];
    for (const track of tracks)
      for (const contact of contacts.feet[track.side] ?? [])
        // A stand that goes on past a loop's end goes on at its beginning.
        for (const shift of shot.loop === 'none' ? [0] : [-track.height.length, 0, track.height.length])
          for (let s = Math.max(from, contact.from + shift); s < Math.min(to, contact.to + shift); s++) {
            const step = stepOf(track.points[track.lowest[index(s)]!]!, index(s), index(s + 1));
            steps.push(dot(step, heading.forward(index(s))));
          }
    if (steps.length < 4) continue;
    const pace = median(steps);
    for (let s = from; s < to; s++) belts[index(s)] = scale(heading.forward(index(s)), pace);
  }
  return belts;
}

function landingsOf(shot: PreparedShot, contacts: Contacts): Landing[] {
  return SIDES.flatMap((side) =>
    (contacts.feet[side] ?? []).map(({ from, to }): Landing => {
      const standing =
        shot.loop === 'none' &&
        from === 0 &&
        (stands(shot) || isLeaving(contacts, side, to) || isCut(shot, contacts, side, to));
      return { side, at: from, until: to, standing };
    }),
  ).sort((a, b) => a.at - b.at || a.until - b.until);
}

/** Whole cycles: each from a landing to the next of the same foot, where the other landed once between. */
function cyclesOf(landings: readonly Landing[], wraps: boolean, frames: number): Cycle[] {
  const own = landings.filter(({ standing }) => !standing);
  const [first] = own;
  if (!first) return [];
  // A loop goes on with its own first landings.
  const all = wraps ? [...own, ...own.slice(0, 2).map((landing) => ({ ...landing, at: landing.at + frames }))] : own;
  if (!all.every(({ side }, k) => k === 0 || side !== all[k - 1]!.side))
    return alternating(all, wraps ? frames : undefined);
  const cycles: Cycle[] = [];
  for (let k = 0; k + 2 < all.length; k += 2) cycles.push({ from: all[k]!.at, to: all[k + 2]!.at });
  return wraps ? cycles.filter(({ from }) => from < first.at + frames) : cycles;
}

/** Of landings that do not take turns everywhere, the cycles where they do; of a loop none, since its steps can't be counted. */
function alternating(all: readonly Landing[], period: number | undefined): Cycle[] {
  if (period !== undefined) return [];
  const cycles: Cycle[] = [];
  for (let k = 0; k + 2 < all.length; k++) {
    if (all[k]!.side === all[k + 1]!.side || all[k]!.side !== all[k + 2]!.side) continue;
    cycles.push({ from: all[k]!.at, to: all[k + 2]!.at });
    k++;
  }
  return cycles;
}

/** Of two feet that are planted when the shot begins, the one that leaves first landed before it. */
const isLeaving = ({ feet }: Contacts, side: FootSide, until: number): boolean =>
  (feet[side === 'L' ? 'R' : 'L'] ?? []).some(({ from, to }) => from === 0 && to > until);

/** A stand that is shorter than the whole ones by more than this share, and by more than a frame at each end, is a part of one. */
const CUT = 0.15;

/** Whether a foot that stands alone when the shot begins had landed before it: it leaves sooner than after a whole stand. */
function isCut({ fps, motion }: PreparedShot, { feet }: Contacts, side: FootSide, until: number): boolean {
  const other = feet[side === 'L' ? 'R' : 'L'] ?? [];
  if (other.some(({ from }) => from === 0)) return false;
  const wholes = (of: readonly { from: number; to: number }[]): number[] =>
    of.filter(({ from, to }) => from > 0 && to < motion.frames - 1).map(({ from, to }) => to - from);
  const own = wholes(feet[side] ?? []);
  const usual = own.length > 0 ? own : wholes(other);
  if (usual.length === 0) return false;
  return until < (1 - CUT) * median(usual) && median(usual) - until > 2 * Math.max(1, Math.round(fps / 24));
}

/** Hips slower than this share of their usual speed stand. */
const STANDS = 0.3;

/** Whether a figure that goes somewhere stands when the shot begins. */
function stands({ motion, world, roles, axes, fps }: PreparedShot): boolean {
  const n = motion.joints.length;
  const at = (f: number): Vec3 => {
    const k = 3 * (f * n + roles.hips!);
    return [world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!];
  };
  const last = motion.frames - 1;
  const reach = Math.min(last, Math.max(1, Math.round(fps / 12)));
  const first = length(reject(subtract(at(reach), at(0)), axes.up)) / reach;
  const speeds = sampled(last, (f) => length(reject(subtract(at(f + 1), at(f)), axes.up))).sort();
  return first < STANDS * speeds[Math.floor(0.75 * (last - 1))]!;
}

/** A sample list 0 … frames − 1 turned into a signal. */
export function signal(view: GaitView, value: (sample: number) => number): Float64Array {
  const values = new Float64Array(view.frames);
  for (let f = 0; f < view.frames; f++) values[f] = value(f);
  return values;
}

/** A step: from one foot's landing to the other's. `to` may lie past a loop's period. */
export interface Step {
  readonly side: FootSide;
  readonly from: number;
  readonly to: number;
}

/** Steps in order: each landing that is followed by one of the other foot. */
export function findSteps({ landings, wraps, frames }: GaitView): Step[] {
  const steps: Step[] = [];
  landings.forEach((landing, i) => {
    if (landing.standing) return;
    const next = landings[i + 1] ?? (wraps ? { ...landings[0]!, at: landings[0]!.at + frames } : undefined);
    if (next && next.side !== landing.side && next.at > landing.at)
      steps.push({ side: landing.side, from: landing.at, to: next.at });
  });
  return steps;
}

export const opposite = (side: FootSide): FootSide => (side === 'L' ? 'R' : 'L');

/** What a foot's place is off by where every joint trembled and was smoothed: about so many %L. */
export const footJitter = ({ jitter }: PreparedShot): number =>
  // A leg, a shin and the hips above tremble together at its end; smoothing over seven frames leaves 0.58 of it.
  100 * 1.6 * 0.58 * ((jitter * Math.PI) / 180);
