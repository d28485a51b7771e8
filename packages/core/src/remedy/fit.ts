import { findContacts } from '../motion/feet/contacts.ts';
import { STEP_BODY } from '../measure/posture/step-body.ts';
import { measureReading } from '../measure/registry.ts';
import { length, reject, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { MotionEditor } from './motion-editor.ts';
import { PLANT } from './plant.ts';
import { Given } from './given.ts';
import { type Remedy, RemedyError, SOUGHT } from './remedy.ts';

/**
 * Fits the travel of a figure to what its planted feet make, or the feet to the travel.
 *
 * @example fit:what=travel // the hips go as far over the ground as the feet push them
 */
export const FIT: Remedy = {
  id: 'fit',
  name: 'Fit',
  does: 'the travel fits the feet, or the feet the travel',
  needs: 'a figure that travels, and feet that are planted',
  works: 'poses',
  parameters: {
    what: { is: 'one of', words: ['travel', 'feet'], default: 'travel', say: 'what gives way' },
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
    'gait.slide': () => [{ steps: [{ remedy: 'fit', parameters: { what: 'travel' } }] }],
  },
  make(subject, given) {
    const { shot } = subject;
    if (given.text('what') === 'feet') return PLANT.make(subject, Given.of(PLANT, {}));
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
