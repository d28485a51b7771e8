import { jointIndex } from '../motion/motion.ts';
import { type Quat, slerp, unit } from '../motion/quaternion.ts';
import { add, scale, subtract, type Vec3 } from '../motion/vector.ts';
import type { WantedPose } from '../posing/wanted-pose.ts';
import { MotionEditor } from './motion-editor.ts';
import { type Parameters, type Remedy, RemedyError } from './remedy.ts';

/** What is wanted of a pose as parameters of its remedy: `head:x y z w;hand.L:…`. */
export const poseParameters = ({ turns, moved }: Pick<WantedPose, 'turns' | 'moved'>, at: number): Parameters => {
  const written = (all: Readonly<Record<string, readonly number[]>>): string =>
    Object.entries(all)
      .map(([name, own]) => `${name}:${own.map((value) => Number(value.toFixed(5))).join(' ')}`)
      .join(';');
  return {
    at,
    ...(Object.keys(turns).length > 0 && { turns: written(turns) }),
    ...(Object.keys(moved).length > 0 && { moved: written(moved) }),
  };
};

/** Numbers by joint. @throws RemedyError that says which can't be read */
function numbersIn(text: string | undefined, count: number): [name: string, numbers: number[]][] {
  return (text ?? '')
    .split(';')
    .filter((own) => own.trim() !== '')
    .map((own) => {
      const colon = own.lastIndexOf(':');
      const numbers = own
        .slice(colon + 1)
        .trim()
        .split(/\s+/)
        .map(Number);
      if (colon < 1 || numbers.length !== count || !numbers.every(Number.isFinite))
        throw new RemedyError(`pose: “${own.slice(0, 60)}” is no joint with ${count} numbers`);
      return [own.slice(0, colon).trim(), numbers];
    });
}

/**
 * Puts a pose at a frame, in the joints that it names, and eases in and out of it.
 *
 * @example pose:at=7,turns=head:0.17 0 0 0.98,falloff=5 // the head is bent 20 degrees at frame 7
 */
export const POSE: Remedy = {
  id: 'pose',
  name: 'Pose',
  does: 'some joints take a wanted pose at a frame, easing in and out',
  needs: 'the joints that the pose is told by',
  works: 'poses',
  parameters: {
    at: { is: 'frame', say: 'the frame of the pose' },
    turns: { is: 'joint', say: 'local rotations, NAME:x y z w with ; between them' },
    moved: { is: 'joint', say: 'local places of joints that move by themselves, NAME:x y z' },
    falloff: {
      is: 'number',
      unit: 'frames',
      range: [0, 100],
      default: 5,
      say: 'frames over which it eases in and out',
    },
  },
  marks: ['pose'],
  mends: {},
  make(subject, given) {
    const range = subject.range(given);
    if (!range) throw new RemedyError('pose needs a frame: at');
    const turns = numbersIn(given.text('turns'), 4);
    const moved = numbersIn(given.text('moved'), 3);
    const weights = subject.weights(range, given.number('falloff')!);
    const editor = new MotionEditor(subject.motion);
    const joint = (name: string): number => {
      const own = jointIndex(subject.motion, name);
      if (own < 0) throw new RemedyError(`pose: there is no joint “${name}” in this figure`);
      return own;
    };
    for (const [name, numbers] of turns) {
      const j = joint(name);
      const wanted = unit(numbers as unknown as Quat);
      for (let f = 0; f < subject.samples; f++)
        if (weights[f]! > 0) editor.setLocal(f, j, slerp(editor.local(f, j), wanted, weights[f]!));
    }
    const at = subject.within(range.from);
    for (const [name, numbers] of moved) {
      const j = joint(name);
      if (!editor.moves(j)) throw new RemedyError(`pose: “${name}” does not move by itself`);
      // What is put on it at the frame is put on it about the frame: the way it goes stays.
      const by = subtract(numbers as unknown as Vec3, editor.ownPlace(at, j));
      for (let f = 0; f < subject.samples; f++)
        if (weights[f]! > 0) editor.setOwnPlace(f, j, add(editor.ownPlace(f, j), scale(by, weights[f]!)));
    }
    return { motion: editor.motion };
  },
};
