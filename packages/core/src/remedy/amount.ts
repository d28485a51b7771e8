import { findContacts } from '../motion/feet/contacts.ts';
import { footPoints } from '../motion/feet/foot-points.ts';
import { jointIndex } from '../motion/motion.ts';
import { axisAngle, quatAt, vec3At } from '../motion/quaternion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { Role } from '../motion/role.ts';
import { ancestors, isAncestor } from '../motion/roles.ts';
import { add, cross, dot, length, normalise, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { figureAxes } from '../motion/way.ts';
import { LoosePose } from '../posing/loose-pose.ts';
import { quantityTurner, turnerOf } from '../posing/turn-quantity.ts';
import { Body } from '../quantity/body.ts';
import { bendParts, directionAt, type QuantityOf, quantitySignal } from '../quantity/measure-quantity.ts';
import { quantityHandles } from '../quantity/quantity-handle.ts';
import { type Quantity, QUANTITIES, QUANTITY_KINDS } from '../quantity/quantities.ts';
import { mean } from '../signal/statistics.ts';
import type { Given } from './given.ts';
import { keepFeet, kneesTowards, legsOf, type Side } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { AMOUNT_MENDS } from './amount-proposals.ts';
import { scaleOwnTurn } from './own-turn.ts';
import { type Made, type Remedy, RemedyError } from './remedy.ts';
import { SOFTLY, type Subject } from './subject.ts';

/** What is turned besides the quantities that are told: a knee beside its leg, a shoulder joint up. */
const TURNS = ['aside', 'shrug'] as const;
type Turn = (typeof TURNS)[number];
/** What a joint turns against its parent, all of it. */
const OWN = 'own';

/**
 * More or less of a quantity: so much more, up to a value, or so many times as much about its mean.
 *
 * @example amount:quantity=pitch,of=head,by=-20 // the head looks 20 degrees higher, all the time
 * @example amount:quantity=height,of=hips,factor=0.5 // half as much up and down, with the feet where they were
 * @example amount:quantity=own,of=hand.L,factor=0.5 // the hand swings half as far at its wrist
 * @example amount:quantity=bend,of=elbow.L,to=40,at=7,falloff=4 // 40 degrees at frame 7, easing in and out over four frames
 */
export const AMOUNT: Remedy = {
  id: 'amount',
  name: 'Amount',
  does: 'there is more or less of a quantity: at a frame, over some, or throughout',
  needs: 'a figure that shows the quantity',
  works: 'poses',
  parameters: {
    quantity: { is: 'one of', words: [...QUANTITIES, ...TURNS, OWN], say: 'what is changed' },
    of: { is: 'joint', say: 'of which part: trunk, head, elbow.L, foot.R, hips …' },
    by: { is: 'number', unit: '° or % of a leg', range: [-180, 180], say: 'so much more; under 0 less' },
    to: { is: 'number', unit: '° or % of a leg', range: [-360, 360], say: 'to this value' },
    factor: { is: 'number', unit: 'times', range: [-2, 10], say: 'so many times as much about its mean' },
    at: { is: 'frame', say: 'the one frame at which it counts whole' },
    from: { is: 'frame', say: 'first frame' },
    until: { is: 'frame', say: 'last frame' },
    falloff: SOFTLY,
  },
  marks: ['amount'],
  mends: AMOUNT_MENDS,
  strength(given, subject) {
    if (given.has('by')) return { parameter: 'by', none: 0 };
    if (given.has('factor')) return { parameter: 'factor', none: 1 };
    const signal = quantitySignal(subject.shot, given.text('quantity') as Quantity, given.text('of') ?? '');
    if (!given.has('to') || typeof signal === 'string') return undefined;
    const { from, to } = subject.range(given, 'until') ?? { from: 0, to: subject.samples - 1 };
    return { parameter: 'to', none: mean(signal.subarray(from, Math.min(to, subject.samples - 1) + 1)) };
  },
  make(subject, given) {
    const [quantity, of] = [given.text('quantity'), given.text('of')];
    if (quantity === undefined || of === undefined) throw new RemedyError('amount needs quantity and of');
    const ways = ['by', 'to', 'factor'].filter((name) => given.has(name));
    if (ways.length !== 1) throw new RemedyError('amount needs one of by, to and factor');
    const weights = subject.weights(subject.range(given, 'until'), given.number('falloff')!);
    if (quantity === OWN) {
      const factor = given.number('factor');
      if (factor === undefined) throw new RemedyError(`amount: of what ${of} turns by itself only factor is known`);
      return scaleOwnTurn(subject, of, factor, weights);
    }
    const isTurn = (TURNS as readonly string[]).includes(quantity) || (quantity === 'turn' && of.startsWith('foot'));
    if (isTurn) return turned(subject, quantity as Turn | 'turn', of, given, weights);
    return changed(subject, { quantity: quantity as Quantity, of }, given, weights);
  },
};

function changed(subject: Subject, asked: QuantityOf, given: Given, weights: Float64Array): Made {
  const { shot, motion } = subject;
  const signal = quantitySignal(shot, asked.quantity, asked.of);
  if (typeof signal === 'string')
    throw new RemedyError(
      `amount: the figure shows no ${QUANTITY_KINDS[asked.quantity].name} of “${asked.of}”: ${signal}`,
    );
  const posed = posedShot(subject);
  const handles = quantityHandles(posed, asked)!;
  const now = Float64Array.from({ length: subject.samples }, (_, f) => {
    const handle = weights[f] === 0 ? undefined : handles(f);
    return handle ? handle.valueAt(handle.at) : 0;
  });
  const [by, to, factor] = ['by', 'to', 'factor'].map((name) => given.number(name));
  const climb = asked.quantity === 'height' ? climbOf(subject) : 0;
  const beside = now.map((value, f) => value - climb * f);
  const middle = factor === undefined ? 0 : weightedMean(beside, weights, subject.period);
  const wanted = (f: number): number =>
    weights[f]! * (by ?? (to !== undefined ? to - now[f]! : (factor! - 1) * (beside[f]! - middle)));
  const editor = new MotionEditor(motion);
  if (asked.quantity === 'bend' && now.some((value) => value < 0)) {
    bentAsItBends(posed, editor, asked, wanted);
    return { motion: editor.motion };
  }
  const hips = carrierOf(subject, asked);
  const turn = hips === undefined ? quantityTurner(posed, asked) : undefined;
  if (hips === undefined && !turn) throw new RemedyError(`amount: nothing turns the ${asked.of}`);
  let nothing = true;
  for (let f = 0; f < subject.samples; f++) {
    const more = wanted(f);
    if (more === 0) continue;
    nothing = false;
    if (hips !== undefined) {
      const axis = figureAxes(shot, f)[{ ahead: 0, shift: 1, height: 2 }[asked.quantity as 'height']]!;
      editor.shift(f, hips, scale(axis, (more * shot.scale.legLength) / 100));
      continue;
    }
    const own = turn!(f, LoosePose.at(editor.motion, f), more);
    if (!own) throw new RemedyError(`amount: nothing turns the ${asked.of}`);
    editor.put(f, own.pose);
  }
  if (nothing) return { motion: editor.motion };
  return { motion: editor.motion, notes: keepTheRest(subject, editor, asked, hips !== undefined, wanted) };
}

/** A joint that is bent the wrong way somewhere is turned about its own hinge, the way such a joint bends, so that it goes through straight without a jump. */
function bentAsItBends(
  shot: PreparedShot,
  editor: MotionEditor,
  asked: QuantityOf,
  wanted: (frame: number) => number,
): void {
  const parts = bendParts(new Body(shot), asked.of);
  const joint = turnerOf(shot, asked);
  if (typeof parts === 'string' || !parts.towards || joint === undefined)
    throw new RemedyError(`amount: nothing turns the ${asked.of}`);
  const [along, towards] = [directionAt(shot, parts.upper), directionAt(shot, parts.towards)];
  const vector = (own: readonly number[]): Vec3 => [own[0]!, own[1]!, own[2]!];
  for (let f = 0; f < shot.motion.frames; f++) {
    const more = wanted(f);
    const hinge = cross(vector(along(f)), vector(towards(f)));
    if (more !== 0 && length(hinge) > 1e-9) editor.turnBy(f, joint, axisAngle(normalise(hinge), more));
  }
}

/** The shot with the motion that is changed in it: not smoothed. */
const posedShot = ({ shot, motion, world }: Subject): PreparedShot =>
  motion === shot.motion ? shot : { ...shot, motion, world };

/** How much higher the body comes with each sample on steps, %L: what it does beside that is its own. */
function climbOf({ shot, samples, wraps, period, world }: Subject): number {
  const { kind, advance } = findContacts(shot);
  if (kind !== 'steps') return 0;
  const percent = 100 / shot.scale.legLength;
  if (wraps) return (percent * dot(advance, shot.axes.up)) / period;
  const hips = shot.roles.hips ?? 0;
  const last = (samples - 1) * shot.motion.joints.length;
  const gone = subtract(vec3At(world.positions, last + hips), vec3At(world.positions, hips));
  return (percent * dot(gone, shot.axes.up)) / Math.max(1, samples - 1);
}

function weightedMean(values: Float64Array, weights: Float64Array, period: number): number {
  let [sum, all] = [0, 0];
  for (let f = 0; f < period; f++) {
    sum += weights[f]! * values[f]!;
    all += weights[f]!;
  }
  return all > 0 ? sum / all : 0;
}

/** What moves by itself and carries the hips, where the quantity is a place of theirs. */
function carrierOf({ shot: { roles }, motion }: Subject, { quantity, of }: QuantityOf): number | undefined {
  if (quantity !== 'height' && quantity !== 'shift' && quantity !== 'ahead') return undefined;
  const joint = roles[of as Role] ?? jointIndex(motion, of);
  if (joint !== roles.hips && motion.joints[joint]!.parent >= 0) return undefined;
  return [joint, ...ancestors(motion.joints, joint)].find((own) => motion.moving.includes(own));
}

/** What a change of one part does not mean stays: feet that stand, the trunk over hips that tilt, the heel a foot is lifted from. */
function keepTheRest(
  subject: Subject,
  editor: MotionEditor,
  { quantity, of }: QuantityOf,
  movesHips: boolean,
  wanted: (frame: number) => number,
): string[] {
  const { shot, motion, world } = subject;
  const n = motion.joints.length;
  const { hips } = shot.roles;
  if (of === 'pelvis' && hips !== undefined) {
    const legs = legsOf(subject).map(({ upper }) => upper);
    const above = motion.joints.flatMap(({ parent }, j) =>
      parent === hips && !legs.some((leg) => leg === j || isAncestor(motion.joints, j, leg)) ? [j] : [],
    );
    for (let f = 0; f < subject.samples; f++)
      if (wanted(f) !== 0) for (const j of above) editor.face(f, j, quatAt(world.rotations, f * n + j));
    return keepFeet(subject, editor);
  }
  if (movesHips) return keepFeet(subject, editor);
  if (quantity === 'pitch' && of.startsWith('foot')) {
    const side = of.slice(-1) as Side;
    const leg = legsOf(subject).find((own) => own.side === side);
    const foot = footPoints(shot, side);
    if (!leg || !foot) return [];
    const towards = kneesTowards(subject, editor, leg);
    const before = new MotionEditor(motion);
    for (let f = 0; f < subject.samples; f++) {
      const more = wanted(f);
      if (more === 0) continue;
      // Toes go up about the heel, and down about the ball.
      const pivot = more > 0 ? foot.heel : (foot.front[0] ?? foot.heel);
      const turned = editor.turn(f, leg.end);
      const way = subtract(before.pointAt(f, pivot), editor.pointAt(f, pivot));
      editor.reach(f, leg, add(editor.place(f, leg.end), way), towards(f));
      editor.face(f, leg.end, turned);
    }
  }
  return [];
}

/** The joint that each of these turns. */
const TURNER = { shrug: 'clavicle', turn: 'foot', aside: 'thigh' } as const;

/** Turns that are not told as quantities: a foot about up, a knee about the line from hip to ankle, a shoulder joint about forward; degrees, out and up over 0. */
function turned(subject: Subject, quantity: Turn | 'turn', of: string, given: Given, weights: Float64Array): Made {
  const by = given.number('by');
  if (by === undefined) throw new RemedyError(`amount: of ${of} only by is known`);
  const side = of.slice(-1);
  if (side !== 'L' && side !== 'R') throw new RemedyError(`amount: “${of}” has no side`);
  const out = side === 'L' ? 1 : -1;
  const { shot, motion, world } = subject;
  const n = motion.joints.length;
  const leg = legsOf(subject).find((own) => own.side === side);
  const joint = shot.roles[`${TURNER[quantity]}.${side}`];
  if (joint === undefined || (quantity === 'aside' && !leg))
    throw new RemedyError(`amount: “${of}” is not known; set the roles`);
  const editor = new MotionEditor(motion);
  for (let f = 0; f < subject.samples; f++) {
    const degrees = weights[f]! * by;
    if (degrees === 0) continue;
    const [forward, , up] = figureAxes(shot, f);
    if (quantity === 'aside') {
      const line = normalise(
        subtract(vec3At(world.positions, f * n + leg!.end), vec3At(world.positions, f * n + leg!.upper)),
      );
      editor.turnBy(f, joint, axisAngle(line, -out * degrees));
      editor.face(f, leg!.end, quatAt(world.rotations, f * n + leg!.end));
    } else if (quantity === 'turn') editor.turnBy(f, joint, axisAngle(up, out * degrees));
    else {
      editor.turnBy(f, joint, axisAngle(forward, out * degrees));
      const arm = shot.roles[`upperArm.${side}`];
      if (arm !== undefined) editor.face(f, arm, quatAt(world.rotations, f * n + arm));
    }
  }
  return { motion: editor.motion };
}
