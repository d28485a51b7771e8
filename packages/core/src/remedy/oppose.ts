import { wholeCycles } from '../measure/cycle/whole-cycles.ts';
import { viewGait } from '../measure/gait/gait-view.ts';
import { LoosePose } from '../posing/loose-pose.ts';
import { quantityTurner } from '../posing/turn-quantity.ts';
import { quantitySignal } from '../quantity/measure-quantity.ts';
import { angleBetween } from '../motion/quaternion.ts';
import { mean } from '../signal/statistics.ts';
import { correlation } from '../signal/correlation.ts';
import { MotionEditor } from './motion-editor.ts';
import { partsOf, sideOfPart } from './proposals.ts';
import { type Asked, type Proposal, type Remedy, RemedyError } from './remedy.ts';
import { Sampler } from './resample.ts';
import type { Subject } from './subject.ts';

const sides = (asked: Asked): Proposal[] => [
  { steps: partsOf(asked).map((part) => ({ remedy: 'oppose', parameters: { arm: sideOfPart(part) } })) },
  { steps: (['L', 'R'] as const).map((arm) => ({ remedy: 'oppose', parameters: { arm } })) },
];

/**
 * An arm against the leg of its side: it does what it does, at another time of the cycle.
 *
 * @example oppose:arm=L // the left arm is farthest forward when the left leg is farthest back
 */
export const OPPOSE: Remedy = {
  id: 'oppose',
  name: 'Oppose',
  does: 'an arm swings against the leg of its side',
  needs: 'whole cycles of steps, a hand and a foot of one side',
  works: 'poses',
  parameters: {
    arm: { is: 'one of', words: ['L', 'R'], say: 'which arm' },
    lag: { is: 'number', unit: 'frames', range: [-48, 48], default: 0, say: 'so many frames later than that' },
  },
  marks: [],
  mends: {
    'gait.opposition': sides,
    'still.part': ({ finding: { reading } }) => {
      const arms = (['L', 'R'] as const).filter((arm) => String(reading.value).includes(`arm.${arm}`));
      const swing = arms.map((arm) => ({ remedy: 'oppose', parameters: { arm } }));
      return arms.length > 0 ? [{ steps: swing }] : [];
    },
    'twin.arms': () => (['R', 'L'] as const).map((arm) => ({ steps: [{ remedy: 'oppose', parameters: { arm } }] })),
  },
  make(subject, given) {
    const arm = given.text('arm');
    if (arm !== 'L' && arm !== 'R') throw new RemedyError('oppose needs an arm: L or R');
    const { shot } = subject;
    const view = viewGait(shot);
    if (typeof view === 'string') throw new RemedyError(`oppose: ${view}`);
    const [cycle] = wholeCycles(shot);
    const [hand, foot] = [shot.roles[`hand.${arm}`] ?? shot.roles[`foreArm.${arm}`], shot.roles[`foot.${arm}`]];
    if (hand === undefined || foot === undefined)
      throw new RemedyError('oppose: the hand or the foot is not known; set the roles');
    if (!cycle) throw new RemedyError('oppose: there is no whole cycle of steps');
    if (isStill(subject, arm)) return { motion: swungAsTheLeg(subject, arm) };
    const shift = bestShift(subject, hand, foot, cycle.length) + given.number('lag')! / shot.exposures.stride;
    const editor = new MotionEditor(subject.motion);
    if (Math.abs(shift) < 0.05) return { motion: editor.motion };
    const sampler = new Sampler(subject);
    for (const joint of subject.joints(`arm.${arm}`))
      for (let f = 0; f < subject.samples; f++)
        editor.setLocal(f, joint, sampler.rotation(joint, moment(subject, f - shift, cycle.length)));
    return { motion: editor.motion };
  },
};

/** An arm whose joints turn less than this, degrees, swings with nothing. */
const STILL = 1;
/** An arm swings about so many times as far as the thigh of its side. Common practice. */
const AS_FAR = 0.8;

function isStill(subject: Subject, arm: 'L' | 'R'): boolean {
  const own = new MotionEditor(subject.motion);
  return subject
    .joints(`arm.${arm}`)
    .every((joint) =>
      Array.from({ length: subject.period }, (_, f) => angleBetween(own.local(0, joint), own.local(f, joint))).every(
        (angle) => angle < STILL,
      ),
    );
}

/** What follows an arm’s swing: the elbow bends as it comes forward, the wrist after it. Share of the swing, and frames of 24 behind it. */
const FOLLOWS = [
  { quantity: 'swing', of: 'upperArm', share: 1, late: 0 },
  { quantity: 'bend', of: 'elbow', share: 0.4, late: 1 },
  { quantity: 'bend', of: 'wrist', share: 0.25, late: 2 },
] as const;

/** An arm that has no swing of its own takes the thigh’s, the other way and a little smaller; forearm and hand follow. */
function swungAsTheLeg(subject: Subject, arm: 'L' | 'R') {
  const { shot, motion, world } = subject;
  const [own, other] = [arm, arm === 'L' ? 'R' : 'L'].map((side) => quantitySignal(shot, 'lean', `thigh.${side}`));
  if (typeof own !== 'object' || typeof other !== 'object')
    throw new RemedyError('oppose: the arm never moves, and the thighs are not known; set the roles');
  // Legs are farthest apart at the contact, and so are arms.
  const thigh = own.map((lean, f) => (lean - other[f]!) / 2);
  const editor = new MotionEditor(motion);
  const middle = mean(thigh.subarray(0, subject.period));
  const swing = (f: number): number => AS_FAR * (middle - thigh[Math.max(0, subject.within(f))]!);
  for (const { quantity, of, share, late } of FOLLOWS) {
    const turn = quantityTurner({ ...shot, motion, world }, { quantity, of: `${of}.${arm}` });
    if (!turn && late === 0) throw new RemedyError('oppose: nothing turns the arm');
    const behind = Math.round((late * shot.fps) / 24);
    for (let f = 0; f < subject.samples; f++) {
      const turned = turn?.(f, LoosePose.at(editor.motion, f), share * swing(f - behind));
      if (turned) editor.put(f, turned.pose);
    }
  }
  return editor.motion;
}

/** Without a loop an arm before its first frame does what it does a cycle later. */
function moment({ wraps, samples }: Subject, at: number, length: number): number {
  if (wraps) return at;
  let own = at;
  while (own < 0) own += length;
  while (own > samples - 1) own -= length;
  return Math.max(0, own);
}

/** By how many samples the hand's way must come later to go most against the foot's, both beside the hips; the nearest of those that are as good. */
function bestShift(subject: Subject, hand: number, foot: number, length: number): number {
  const view = viewGait(subject.shot);
  if (typeof view === 'string') return 0;
  const { hips } = subject.shot.roles;
  const count = Math.max(4, Math.round(length));
  const [cycle] = view.cycles;
  const from = cycle?.from ?? 0;
  const ahead = (joint: number, s: number): number => view.forward(joint, s) - view.forward(hips!, s);
  const at = (joint: number): Float64Array =>
    Float64Array.from({ length: count }, (_, k) =>
      ahead(joint, subject.wraps ? from + k : Math.min(subject.samples - 1, from + k)),
    );
  const [arm, leg] = [at(hand), at(foot)];
  let best = { shift: 0, value: Infinity };
  for (let k = 0; k < count; k++) {
    const moved = arm.map((_, f) => arm[(((f - k) % count) + count) % count]!);
    const shift = k > count / 2 ? k - count : k;
    // Of two that are alike the one that changes less.
    const value = correlation(moved, leg) + 0.002 * Math.abs(shift);
    if (value < best.value) best = { shift, value };
  }
  // Arms that go with their leg are half a cycle off, and arms against it are not off: a little more or less is what they drag by.
  const near = length / 8;
  if (Math.abs(best.shift) <= near) return 0;
  return Math.abs(Math.abs(best.shift) - length / 2) <= near ? length / 2 : best.shift;
}
