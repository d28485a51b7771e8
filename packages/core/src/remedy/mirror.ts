import { judgeShot } from '../gauge/findings.ts';
import { defaultGauges } from '../gauge/gauges.ts';
import { partners, reflect } from '../measure/cycle/mirror.ts';
import { measureShot } from '../measure/registry.ts';
import type { Motion } from '../motion/motion.ts';
import { prepareShot } from '../motion/prepare-shot.ts';
import { wholeCycles } from '../measure/cycle/whole-cycles.ts';
import { jointParts } from '../measure/parts.ts';
import { exponential } from '../motion/joint-turn.ts';
import { conjugate, multiply, type Quat, slerp } from '../motion/quaternion.ts';
import { add, dot, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { figureAxes } from '../motion/way.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { MotionEditor } from './motion-editor.ts';
import { sideOfPart } from './proposals.ts';
import { type Proposal, type Remedy, RemedyError } from './remedy.ts';
import { Sampler } from './resample.ts';
import type { Subject } from './subject.ts';

/** What meets at the middle of a cycle is joined over this share of it. */
const JOINED = 1 / 12;

const halves: Proposal[] = [
  { steps: [{ remedy: 'mirror', parameters: { half: 1 } }] },
  { steps: [{ remedy: 'mirror', parameters: { half: 2 } }] },
];

/**
 * Makes one half of a cycle from the other, mirrored and half a cycle later; or one side of the body from the other.
 *
 * @example mirror:half=1 // the second half is the first one's mirror
 * @example mirror:from=R,parts=arm.L // the left arm does half a cycle later what the right one does
 */
export const MIRROR: Remedy = {
  id: 'mirror',
  name: 'Mirror',
  does: 'one half of a cycle is made from the other, or one side from the other',
  needs: 'a whole cycle of steps, and joints that have a partner on the other side',
  works: 'poses',
  parameters: {
    half: {
      is: 'number',
      unit: 'half',
      range: [1, 2],
      say: 'the half that the other is made from; the better one where it is left out',
    },
    from: { is: 'one of', words: ['L', 'R'], say: 'the side that the other is made from' },
    parts: { is: 'parts', say: 'what is made; all of it where it is left out' },
  },
  marks: ['breakdown'],
  mends: {
    'mirror.off': ({ finding: { reading } }) =>
      reading.part === undefined
        ? halves
        : [
            { steps: [{ remedy: 'mirror', parameters: { half: 1, parts: reading.part } }] },
            { steps: [{ remedy: 'mirror', parameters: { half: 2, parts: reading.part } }] },
            ...halves,
          ],
    'mirror.height': () => halves,
    'gait.step': () => halves,
    'still.part': ({ finding: { reading } }) => {
      // What never moves takes over what the other side does.
      const still = String(reading.value)
        .split(/,\s*/)
        .filter((part) => /^(arm|leg)\.[LR]$/.test(part));
      return still.map((part) => ({
        steps: [{ remedy: 'mirror', parameters: { from: sideOfPart(part) === 'L' ? 'R' : 'L', parts: part } }],
      }));
    },
    'twin.arms': () => [{ steps: [{ remedy: 'mirror', parameters: { from: 'L', parts: 'arm.R' } }] }],
  },
  make(subject, given) {
    const [half, side] = [given.number('half'), given.text('from')];
    if (half !== undefined && side !== undefined) throw new RemedyError('mirror takes half, or from, not both');
    const names = given.text('parts');
    const joints = names === undefined ? undefined : new Set(subject.joints(names));
    if (side !== undefined) return { motion: fromSide(subject, side, joints) };
    return { motion: half === undefined ? fromBetterHalf(subject, joints) : fromHalf(subject, half, joints) };
  },
};

/** Partners of all joints; what hangs at one side has none. */
const pairs = (subject: Subject): number[] => {
  const partner = partners(subject.shot);
  if (partner.every((other, j) => other < 0 || other === j))
    throw new RemedyError('mirror: no joint has a partner on the other side');
  return partner;
};

/** One side from the other: of a gait half a cycle later, else at the same time. */
function fromSide(subject: Subject, side: string, only: ReadonlySet<number> | undefined) {
  const partner = pairs(subject);
  const parts = jointParts(subject.shot);
  const [cycle] = wholeCycles(subject.shot);
  const later = cycle ? cycle.length / 2 : 0;
  const sampler = new Sampler(subject);
  const editor = new MotionEditor(subject.motion);
  const { left } = subject.shot.axes;
  partner.forEach((other, j) => {
    // The partner of a joint on the wanted side; what lies on the centre line has no side to be made from.
    if (other < 0 || other === j || !parts[other]!.endsWith(`.${side}`)) return;
    if (only && !only.has(j)) return;
    for (let f = 0; f < subject.samples; f++) {
      const back = f - later;
      const moment = subject.wraps || back >= 0 ? back : f + later;
      editor.setLocal(f, j, reflect(sampler.rotation(other, moment), left));
    }
  });
  return editor.motion;
}

/** Where nobody says which half is made from which: the way that leaves fewer findings of the usual gauges. */
function fromBetterHalf(subject: Subject, only: ReadonlySet<number> | undefined): Motion {
  const { shot } = subject;
  const gauges = defaultGauges([...shot.kinds], shot.fps);
  const [one, other] = [1, 2].map((half) => {
    const motion = fromHalf(subject, half, only);
    const made = prepareShot(motion, { kind: shot.kind, loop: shot.loop });
    const { findings } = judgeShot(gauges, { ...measureShot(made), fps: made.played.motion.fps }, 'polish');
    return { motion, count: findings.filter(({ judgement }) => judgement === 'outside').length };
  }) as [{ motion: Motion; count: number }, { motion: Motion; count: number }];
  return other.count < one.count ? other.motion : one.motion;
}

/** One half of every cycle from its other half. */
function fromHalf(subject: Subject, half: number, only: ReadonlySet<number> | undefined) {
  if (half !== 1 && half !== 2) throw new RemedyError('mirror: half is 1 or 2');
  const cycles = wholeCycles(subject.shot).filter(({ length }) => length >= 4);
  if (cycles.length === 0) throw new RemedyError('mirror: there is no whole cycle, so no other half');
  const partner = pairs(subject);
  const sampler = new Sampler(subject);
  const editor = new MotionEditor(subject.motion);
  for (const { from, length } of cycles) {
    const start = half === 1 ? from + length / 2 : from;
    const shift = half === 1 ? -length / 2 : length / 2;
    const end = start + length / 2;
    const join = Math.max(1, JOINED * length);
    for (let s = Math.ceil(start - 1e-9); s < end - 1e-9; s++) {
      // What was there at both ends goes over into what is made.
      const mix = Math.min(smoothStep((s - start + 0.5) / join), smoothStep((end - s - 0.5) / join));
      for (let f = subject.within(s); f < subject.samples; f += subject.period) {
        poseFrom(subject, sampler, editor, partner, f, s, s + shift, only, mix);
        if (!subject.wraps) break;
      }
    }
  }
  return editor.motion;
}

function poseFrom(
  subject: Subject,
  sampler: Sampler,
  editor: MotionEditor,
  partner: readonly number[],
  f: number,
  s: number,
  moment: number,
  only: ReadonlySet<number> | undefined,
  mix: number,
): void {
  const { shot, motion } = subject;
  const { left } = shot.axes;
  motion.joints.forEach(({ parent }, j) => {
    const other = partner[j]!;
    if (other < 0 || (only && !only.has(j))) return;
    const source = sampler.rotation(other, moment);
    const made = parent < 0 ? turnedAbout(subject, source, moment, s) : reflect(source, left);
    editor.setLocal(f, j, mix === 1 ? made : slerp(editor.local(f, j), made, mix));
    if (!editor.moves(j)) return;
    const place =
      parent < 0
        ? placeFrom(subject, sampler, j, moment, s)
        : mirroredPlace(sampler, motion.moving.indexOf(other), moment, left);
    const own = editor.ownPlace(f, j);
    editor.setOwnPlace(f, j, add(own, scale(subtract(place, own), mix)));
  });
}

/** A root's rotation mirrored in the plane of the way the figure goes at each of the two moments. */
function turnedAbout(subject: Subject, source: Quat, from: number, to: number): Quat {
  const { up } = subject.shot.axes;
  const [there, here] = [from, to].map((moment) => headingAt(subject, moment, up)) as [Quat, Quat];
  return multiply(here, reflect(multiply(conjugate(there), source), subject.shot.axes.left));
}

/** The turn about up that brings the figure's forward at rest to its way at a moment. */
function headingAt(subject: Subject, moment: number, up: Vec3): Quat {
  const { forward, left } = subject.shot.axes;
  const [ahead] = figureAxes(subject.shot, subject.within(Math.round(moment)));
  const degrees = (Math.atan2(dot(ahead, left), dot(ahead, forward)) * 180) / Math.PI;
  return exponential(scale(up, degrees));
}

/** A root's place: as high as half a cycle before, as far on the other side of the middle of its way, and as far along as it is itself. */
function placeFrom(subject: Subject, sampler: Sampler, joint: number, moment: number, s: number): Vec3 {
  const slot = subject.motion.moving.indexOf(joint);
  const { up } = subject.shot.axes;
  const [ahead, left] = figureAxes(subject.shot, subject.within(s));
  const [here, there] = [sampler.translation(slot, s), sampler.translation(slot, moment)];
  const middle = middleOf(subject, sampler, slot, s, left);
  const [, leftThere] = figureAxes(subject.shot, subject.within(Math.round(moment)));
  const side = -(dot(there, leftThere) - middleOf(subject, sampler, slot, moment, leftThere));
  return add(add(scale(ahead, dot(here, ahead)), scale(left, middle + side)), scale(up, dot(there, up)));
}

/** The middle of a root's way from side to side about a moment: its mean over a cycle. */
function middleOf(subject: Subject, sampler: Sampler, slot: number, moment: number, left: Vec3): number {
  const [cycle] = wholeCycles(subject.shot);
  const count = Math.max(2, Math.round(cycle!.length));
  let sum = 0;
  for (let k = 0; k < count; k++) sum += dot(sampler.translation(slot, moment - count / 2 + k), left);
  return sum / count;
}

function mirroredPlace(sampler: Sampler, slot: number, moment: number, left: Vec3): Vec3 {
  const place = sampler.translation(slot, moment);
  return subtract(place, scale(left, 2 * dot(place, left)));
}
