import { measureBreakdown, FAVOUR as FAVOURED } from '../measure/breakdown/breakdown.ts';
import { exponential, logarithm } from '../motion/joint-turn.ts';
import { conjugate, multiply, type Quat, quatAt } from '../motion/quaternion.ts';
import { add, scale, subtract } from '../motion/vector.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import type { Given } from './given.ts';
import { keepFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { inParts } from './proposals.ts';
import { type Remedy, RemedyError } from './remedy.ts';
import type { Subject } from './subject.ts';

/**
 * Brings a breakdown nearer to one of the poses it lies between, along the way from one to the other; what it has of its own stays.
 *
 * @example favour:a=1,at=7,b=13,percent=75 // at frame 7 it is three quarters frame 1 and a quarter frame 13
 */
export const FAVOUR: Remedy = {
  id: 'favour',
  name: 'Favour',
  does: 'a breakdown lies nearer to one of its two poses',
  needs: 'two poses that differ, and one between them',
  works: 'poses',
  parameters: {
    a: { is: 'frame', say: 'the pose before' },
    at: { is: 'frame', say: 'the breakdown' },
    b: { is: 'frame', say: 'the pose behind' },
    percent: { is: 'number', unit: '%', range: [-50, 150], say: 'how much of it is the pose before' },
    parts: { is: 'parts', say: 'what is changed; all of it where it is left out' },
  },
  marks: ['breakdown'],
  mends: {
    'breakdown.favour': ({ finding: { reading }, target }) => {
      const { a, at, b } = (reading.detail ?? {}) as { a?: number; at?: number; b?: number };
      if (a === undefined || at === undefined || b === undefined || target === undefined) return [];
      return [{ steps: [{ remedy: 'favour', parameters: { a, at, b, percent: target, ...inParts(reading) } }] }];
    },
  },
  strength: (given, subject) => ({ parameter: 'percent', none: asked(subject, given).now }),
  make(subject, given) {
    const { a, at, b, now, percent, names } = asked(subject, given);
    const way = (now - percent) / 100;
    const editor = new MotionEditor(subject.motion);
    if (Math.abs(way) < 1e-9) return { motion: editor.motion };
    const joints = names === undefined ? subject.motion.joints.map((_, j) => j) : subject.joints(names);
    for (let f = a + 1; f < b; f++) {
      const share = way * (f <= at ? smoothStep((f - a) / (at - a)) : smoothStep((b - f) / (b - at)));
      for (const j of joints) {
        const first = quatOf(subject, a, j);
        const [x, y, z] = logarithm(multiply(conjugate(first), quatOf(subject, b, j)));
        const own = logarithm(multiply(conjugate(first), quatOf(subject, f, j)));
        if (x !== 0 || y !== 0 || z !== 0)
          editor.setLocal(
            f,
            j,
            multiply(first, exponential([own[0] + share * x, own[1] + share * y, own[2] + share * z])),
          );
        if (!editor.moves(j)) continue;
        const gone = scale(subtract(editor.ownPlace(b, j), editor.ownPlace(a, j)), share);
        editor.setOwnPlace(f, j, add(editor.ownPlace(f, j), gone));
      }
    }
    // Feet keep their places, unless they are what is changed.
    const feet = names === undefined || names.includes('leg');
    return { motion: editor.motion, notes: feet ? [] : keepFeet(subject, editor) };
  },
};

const quatOf = ({ motion }: Subject, sample: number, joint: number): Quat =>
  quatAt(motion.rotations, sample * motion.joints.length + joint);

/** The breakdown and its two poses, as samples; how much of it the pose before is now, and how much it should be. */
function asked(subject: Subject, given: Given) {
  const [labelA, labelAt, labelB] = ['a', 'at', 'b'].map((name) => given.number(name));
  const percent = given.number('percent');
  if (labelA === undefined || labelAt === undefined || labelB === undefined || percent === undefined)
    throw new RemedyError('favour needs a, at, b and percent');
  const [a, at, b] = [labelA, labelAt, labelB].map((label) => subject.sample(label)) as [number, number, number];
  if (!(a < at && at < b)) throw new RemedyError('favour: the breakdown lies between the two poses');
  const names = given.text('parts');
  const told = FAVOURED.among(measureBreakdown(subject.shot, { a: labelA, at: labelAt, b: labelB }).readings).find(
    ({ part }) => part === names,
  );
  if (!told)
    throw new RemedyError(`favour: the poses at ${labelA} and ${labelB} do not differ${names ? ` in ${names}` : ''}`);
  return { a, at, b, now: told.value, percent, names };
}
