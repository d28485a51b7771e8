import { findFlights } from '../measure/jump/flights.ts';
import { GAITS } from '../motion/kinds.ts';
import { type Quat, quatAt, rotate, slerp, vec3At } from '../motion/quaternion.ts';
import { add, dot, length, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { isAncestor } from '../motion/roles.ts';
import { smooth } from '../signal/savitzky-golay.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { largestOf } from '../signal/statistics.ts';
import type { Limb } from '../posing/two-bone.ts';
import { Body } from '../quantity/body.ts';
import { figures } from '../say/words.ts';
import type { MotionEditor } from './motion-editor.ts';
import type { Subject } from './subject.ts';

export const SIDES = ['L', 'R'] as const;
export type Side = (typeof SIDES)[number];

/** A leg of two bones with its side. */
export interface Leg extends Limb {
  readonly side: Side;
}

/** The legs of a figure that has hip, knee and ankle in a row. */
export function legsOf({ shot: { roles, motion, fourLegs, isFlat } }: Subject): Leg[] {
  if (fourLegs || isFlat) return [];
  return SIDES.flatMap((side) => {
    const [upper, middle, end] = [roles[`thigh.${side}`], roles[`shin.${side}`], roles[`foot.${side}`]];
    if (upper === undefined || middle === undefined || end === undefined) return [];
    const inRow = isAncestor(motion.joints, upper, middle) && isAncestor(motion.joints, middle, end);
    return inRow ? [{ side, upper, middle, end }] : [];
  });
}

/** The way a leg bends that is straight. */
export function kneesTowards(subject: Subject, editor: MotionEditor, leg: Leg): (frame: number) => Vec3 {
  const own = new Body(subject.shot).bendsTowards(`knee.${leg.side}`);
  return (frame) =>
    own && 'joint' in own
      ? rotate(editor.turn(frame, own.joint), own.local)
      : rotate(editor.turn(frame, leg.upper), subject.shot.axes.forward);
}

/** Nearer than this share of a leg a foot is where it was. */
const SAME = 1e-9;
/** A foot that stays farther away than this share of a leg could not be kept. */
const LEFT = 2e-3;
/** Around a flight the feet are let go of over so many samples. */
const LET_GO = 3;

/** How much of where it was a foot keeps at each sample: all of it, but in a jump's flight, where it goes with the body. */
function heldAt(subject: Subject): Float64Array {
  const held = new Float64Array(subject.samples).fill(1);
  if (subject.shot.kinds.some((kind) => GAITS.includes(kind) && kind !== 'any')) return held;
  const flights = findFlights(subject.shot);
  if (typeof flights === 'string') return held;
  for (const { takeoff = -LET_GO, landing = subject.samples + LET_GO } of flights)
    for (let f = 0; f < subject.samples; f++) {
      const inside = Math.min(f - takeoff, landing - f);
      if (inside > 0) held[f] = Math.min(held[f]!, 1 - smoothStep(Math.min(1, inside / LET_GO)));
    }
  return held;
}

/** A knee is never straightened beyond this bend, degrees, unless the shot does so itself: a straighter one snaps. */
const STRAIGHT = 12;
/** A body is lowered over its feet by at most this, %L, where a leg is too short. */
const LOWERED = 8;
/** … and by what is less than this it is not. */
const LOWERS = 0.1;

/** Where feet are put: the place and the turn of each at every sample; undefined where it stays as it is. */
export type Footing = ReadonlyMap<Leg, readonly ({ readonly place: Vec3; readonly turn: Quat } | undefined)[]>;

/**
 * Puts feet where they should be by bending the legs; where a leg does not reach, the body comes down a little, softly, as somebody's would.
 * @returns what could not be done, in words
 */
export function putFeet(subject: Subject, editor: MotionEditor, footing: Footing): string[] {
  const L = subject.shot.scale.legLength;
  lower(subject, editor, footing);
  let farthest = 0;
  for (const [leg, places] of footing) {
    const towards = kneesTowards(subject, editor, leg);
    places.forEach((wanted, f) => {
      if (!wanted) return;
      if (length(subtract(wanted.place, editor.place(f, leg.end))) > SAME * L)
        farthest = Math.max(farthest, editor.reach(f, leg, wanted.place, towards(f)));
      editor.face(f, leg.end, wanted.turn);
    });
  }
  return farthest > LEFT * L
    ? [`a leg is too short for its foot: it stays ${figures((100 * farthest) / L)} % of a leg away`]
    : [];
}

/** Brings the body down where a leg is too short for where its foot should be. */
function lower(subject: Subject, editor: MotionEditor, footing: Footing): void {
  const { motion, samples, period, wraps, shot } = subject;
  const L = shot.scale.legLength;
  const { up } = shot.axes;
  const root = motion.moving.find((joint) => motion.joints[joint]!.parent < 0);
  if (root === undefined) return;
  const need = new Float64Array(period);
  for (const [leg, places] of footing) {
    const longest = reachOf(subject, leg);
    places.forEach((wanted, f) => {
      if (!wanted) return;
      const way = subtract(editor.place(f, leg.upper), wanted.place);
      const over = dot(way, up);
      const beyond = dot(way, way) - longest * longest;
      const drop = beyond <= 0 ? 0 : over - Math.sqrt(Math.max(0, over * over - beyond));
      const k = subject.within(f);
      need[k] = Math.max(need[k]!, Math.min(drop, (LOWERED / 100) * L));
    });
  }
  if (largestOf(need) < (LOWERS / 100) * L) return;
  const about = (f: number): number =>
    wraps ? ((f % period) + period) % period : Math.min(period - 1, Math.max(0, f));
  // As low as any sample beside it needs, and softly there and back.
  const deepest = need.map((_, f) => Math.max(...[-3, -2, -1, 0, 1, 2, 3].map((by) => need[about(f + by)]!)));
  const soft = smooth(smooth(deepest, 2, 1, wraps), 1, 1, wraps);
  for (let f = 0; f < samples; f++) {
    const by = soft[subject.within(f)]!;
    if (by > 0) editor.shift(f, root, scale(up, -by));
  }
}

/** How far a leg may be stretched: to a knee that is hardly bent, or as far as the shot does it. */
function reachOf({ motion, world, samples }: Subject, { upper, middle, end }: Leg): number {
  const n = motion.joints.length;
  const distance = (f: number, a: number, b: number): number =>
    length(subtract(vec3At(world.positions, f * n + a), vec3At(world.positions, f * n + b)));
  const [a, b] = [distance(0, upper, middle), distance(0, middle, end)];
  const bent = Math.sqrt(a * a + b * b + 2 * a * b * Math.cos((STRAIGHT * Math.PI) / 180));
  return largestOf(
    Float64Array.from({ length: samples + 1 }, (_, f) => (f < samples ? distance(f, upper, end) : bent)),
  );
}

/**
 * Puts the feet back where they were before the body was moved: what stands goes on standing, what swings goes on its way.
 * @returns what could not be kept, in words
 */
export function keepFeet(subject: Subject, editor: MotionEditor): string[] {
  const n = subject.motion.joints.length;
  const L = subject.shot.scale.legLength;
  const held = heldAt(subject);
  const footing = new Map(
    legsOf(subject).map((leg) => [
      leg,
      Array.from({ length: subject.samples }, (_, f) => {
        const was = vec3At(subject.world.positions, f * n + leg.end);
        const is = editor.place(f, leg.end);
        const way = subtract(was, is);
        const turned = quatAt(subject.world.rotations, f * n + leg.end);
        if (length(way) <= SAME * L && sameTurn(editor, f, leg.end, turned)) return undefined;
        const turn = held[f]! === 1 ? turned : slerp(editor.turn(f, leg.end), turned, held[f]!);
        return { place: add(is, scale(way, held[f]!)), turn };
      }),
    ]),
  );
  return putFeet(subject, editor, footing);
}

function sameTurn(editor: MotionEditor, frame: number, joint: number, was: readonly number[]): boolean {
  const is = editor.turn(frame, joint);
  return Math.abs(is[0] * was[0]! + is[1] * was[1]! + is[2] * was[2]! + is[3] * was[3]!) > 1 - 1e-15;
}
