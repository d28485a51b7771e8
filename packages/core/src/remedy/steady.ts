import { trend } from '../motion/heading.ts';
import { exponential, logarithm } from '../motion/joint-turn.ts';
import { conjugate, multiply, type Quat, quatAt, slerp } from '../motion/quaternion.ts';
import { add, scale, subtract } from '../motion/vector.ts';
import { mean } from '../signal/statistics.ts';
import { wholeCycles } from '../measure/cycle/whole-cycles.ts';
import { MotionEditor } from './motion-editor.ts';
import { type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import type { Subject } from './subject.ts';

const more = (joint: string) => [
  { steps: [{ remedy: 'steady', parameters: { joint, share: SOUGHT } }], seek: { from: 0, to: 1 } },
];

/**
 * Counter-turns a joint against what carries it, so that it keeps still while they move; what the joint does of its own stays. What hangs from nothing, such as
 * the base of a rig, is kept where it was at first.
 *
 * @example steady:joint=head,share=0.8 // four fifths of what trunk and neck turn the head by is taken back
 */
export const STEADY: Remedy = {
  id: 'steady',
  name: 'Steady',
  does: 'a joint is counter-turned against what carries it',
  needs: 'a joint that something carries',
  works: 'poses',
  parameters: {
    joint: { is: 'joint', say: 'what is steadied' },
    share: {
      is: 'number',
      unit: 'share',
      range: [0, 1],
      default: 1,
      say: 'how much of what it is carried by is taken back',
    },
  },
  marks: ['amount'],
  mends: {
    'head.steady': () => more('head'),
    'head.counter': () => more('head'),
    'size.head': () => more('head'),
    'stray.motion': ({ finding: { reading } }) => more(reading.part ?? 'master'),
  },
  strength: () => ({ parameter: 'share', none: 0 }),
  make(subject, given) {
    const name = given.text('joint');
    if (name === undefined) throw new RemedyError('steady needs a joint');
    const joint = subject.joint(name);
    const share = given.number('share')!;
    const editor = new MotionEditor(subject.motion);
    if (share === 0) return { motion: editor.motion };
    const { parent } = subject.motion.joints[joint]!;
    if (parent < 0) keptInPlace(subject, editor, joint, share);
    else counterTurned(subject, editor, joint, parent, share);
    return { motion: editor.motion };
  },
};

function keptInPlace({ samples }: Subject, editor: MotionEditor, joint: number, share: number): void {
  const [turn, place] = [editor.local(0, joint), editor.ownPlace(0, joint)];
  for (let f = 1; f < samples; f++) {
    editor.setLocal(f, joint, slerp(editor.local(f, joint), turn, share));
    if (!editor.moves(joint)) continue;
    const own = editor.ownPlace(f, joint);
    editor.setOwnPlace(f, joint, add(own, scale(subtract(place, own), share)));
  }
}

function counterTurned(subject: Subject, editor: MotionEditor, joint: number, parent: number, share: number): void {
  const { samples, period, world } = subject;
  const n = subject.motion.joints.length;
  const carried = (f: number): Quat => quatAt(world.rotations, f * n + parent);
  // What carries it may turn a corner: only what it does about its way over a cycle is taken back.
  const base = carried(0);
  const vectors = [0, 1, 2].map((c) =>
    Float64Array.from({ length: period }, (_, f) => logarithm(multiply(conjugate(base), carried(f)))[c]!),
  );
  const [cycle] = wholeCycles(subject.shot);
  const calm = vectors.map((own) =>
    subject.wraps
      ? new Float64Array(own.length).fill(mean(own))
      : trend(own, Math.min(samples - 1, Math.round(cycle?.length ?? subject.shot.fps))),
  );
  for (let f = 0; f < samples; f++) {
    const k = subject.within(f);
    const still = multiply(base, exponential([calm[0]![k]!, calm[1]![k]!, calm[2]![k]!]));
    const own = editor.local(f, joint);
    editor.face(f, joint, multiply(slerp(carried(f), still, share), own));
  }
}
