import { findContacts } from '../motion/feet/contacts.ts';
import { driftOver } from '../measure/cycle/drift.ts';
import { STEP_BODY } from '../measure/posture/step-body.ts';
import { measureReading } from '../measure/registry.ts';
import type { Motion } from '../motion/motion.ts';
import { length, reject, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { MotionEditor } from './motion-editor.ts';
import { PLANT } from './plant.ts';
import { Given } from './given.ts';
import { type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import type { Subject } from './subject.ts';

/**
 * Fits the travel of a figure to what its planted feet make, or the feet to the travel; or brings a loop in place back to where it began.
 *
 * @example fit:what=travel // the hips go as far over the ground as the feet push them
 */
export const FIT: Remedy = {
  id: 'fit',
  name: 'Fit',
  does: 'the travel fits the feet, or the feet the travel; a loop in place ends where it began',
  needs: 'a figure that travels, and feet that are planted; or a loop in place',
  works: 'poses',
  parameters: {
    what: { is: 'one of', words: ['travel', 'feet', 'place'], default: 'travel', say: 'what gives way' },
    times: {
      is: 'number',
      unit: 'times',
      range: [0.2, 5],
      say: 'so many times the travel; found from the feet where it is left out',
    },
  },
  marks: [],
  mends: {
    'travel.fit': () => [
      { steps: [{ remedy: 'fit', parameters: { what: 'travel', times: SOUGHT } }], seek: { from: 1, to: 0.4 } },
      { steps: [{ remedy: 'fit', parameters: { what: 'travel', times: SOUGHT } }], seek: { from: 1, to: 2.5 } },
      { steps: [{ remedy: 'fit', parameters: { what: 'feet' } }] },
    ],
    'cycle.drift': () => [{ steps: [{ remedy: 'fit', parameters: { what: 'place' } }] }],
    'gait.slide': () => [{ steps: [{ remedy: 'fit', parameters: { what: 'travel' } }] }],
  },
  make(subject, given) {
    const { shot } = subject;
    if (given.text('what') === 'feet') return PLANT.make(subject, Given.of(PLANT, {}));
    if (given.text('what') === 'place') return { motion: backInPlace(subject) };
    const [fit] = STEP_BODY[1].among(measureReading(shot, 'travel.fit'));
    const times = given.number('times') ?? (fit ? 1 / fit.value : undefined);
    if (times === undefined || length(findContacts(shot).groundVelocity) > 0)
      throw new RemedyError('fit: the figure does not travel over feet that are planted');
    const root = subject.motion.moving.find((joint) => subject.motion.joints[joint]!.parent < 0)!;
    const editor = new MotionEditor(subject.motion);
    if (Math.abs(times - 1) < 1e-6) return { motion: editor.motion };
    const first = editor.place(0, root);
    const { up } = shot.axes;
    for (let f = 1; f < subject.samples; f++) {
      const gone: Vec3 = reject(subtract(editor.place(f, root), first), up);
      editor.shift(f, root, scale(gone, times - 1));
    }
    return { motion: editor.motion };
  },
};

/** The body without what it drifts by over its loop, taken out evenly. */
function backInPlace({ shot, motion, samples }: Subject): Motion {
  const drift = driftOver(shot);
  if ('why' in drift) throw new RemedyError(`fit: ${drift.why}`);
  const editor = new MotionEditor(motion);
  const root = motion.moving.find((joint) => motion.joints[joint]!.parent < 0);
  if (root === undefined) throw new RemedyError('fit: the figure does not move from its place');
  for (let f = 1; f < samples; f++) editor.shift(f, root, scale(drift.away, -f / shot.period));
  return editor.motion;
}
