import { findFlights } from '../measure/jump/flights.ts';
import { GAITS } from '../motion/kinds.ts';
import { quatAt, rotate, slerp, vec3At } from '../motion/quaternion.ts';
import { add, length, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { isAncestor } from '../motion/roles.ts';
import { smoothStep } from '../signal/smooth-step.ts';
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

/**
 * Puts the feet back where they were before the body was moved, by bending the legs: what stands goes on standing, what swings goes on its way.
 * @returns what could not be kept, in words
 */
export function keepFeet(subject: Subject, editor: MotionEditor): string[] {
  const n = subject.motion.joints.length;
  const L = subject.shot.scale.legLength;
  const held = heldAt(subject);
  let farthest = 0;
  for (const leg of legsOf(subject)) {
    const towards = kneesTowards(subject, editor, leg);
    for (let f = 0; f < subject.samples; f++) {
      const was = vec3At(subject.world.positions, f * n + leg.end);
      const is = editor.place(f, leg.end);
      const way = subtract(was, is);
      const turned = quatAt(subject.world.rotations, f * n + leg.end);
      if (length(way) > SAME * L) {
        const target = add(is, scale(way, held[f]!));
        farthest = Math.max(farthest, editor.reach(f, leg, target, towards(f)));
      } else if (sameTurn(editor, f, leg.end, turned)) continue;
      editor.face(f, leg.end, held[f]! === 1 ? turned : slerp(editor.turn(f, leg.end), turned, held[f]!));
    }
  }
  return farthest > LEFT * L
    ? [`a leg is too short to keep its foot where it was: it stays ${figures((100 * farthest) / L)} % of a leg away`]
    : [];
}

function sameTurn(editor: MotionEditor, frame: number, joint: number, was: readonly number[]): boolean {
  const is = editor.turn(frame, joint);
  return Math.abs(is[0] * was[0]! + is[1] * was[1]! + is[2] * was[2]! + is[3] * was[3]!) > 1 - 1e-15;
}
