import { exposeOn } from '../exemplar/expose.ts';
import { type Remedy, RemedyError } from './remedy.ts';
import { retimedTo } from './resample.ts';

/**
 * Cuts frames off, puts some in front or behind, holds poses for two or three frames, or renames the first frame.
 *
 * @example trim:from=1,to=24 // only these are kept
 * @example trim:front=6 // the first pose stands six frames longer; everything comes six frames later
 * @example trim:exposure=2 // on twos
 */
export const TRIM: Remedy = {
  id: 'trim',
  name: 'Trim',
  does: 'frames are cut off or put in front or behind, or poses are held on twos or threes',
  needs: 'a frame that is left',
  works: 'frames',
  parameters: {
    from: { is: 'frame', say: 'first frame that is kept' },
    to: { is: 'frame', say: 'last frame that is kept' },
    front: { is: 'number', unit: 'frames', range: [-10000, 500], say: 'frames put in front; under 0 cut off' },
    behind: { is: 'number', unit: 'frames', range: [-10000, 500], say: 'frames put behind; under 0 cut off' },
    exposure: { is: 'number', unit: 'frames', range: [1, 12], say: 'frames that every pose stands' },
    first: { is: 'frame', say: 'what the first frame is called' },
  },
  marks: ['timing'],
  mends: {
    'plan.frame': ({ shot, finding: { reading } }) => {
      // A loop has no front to put frames in.
      const late = typeof reading.value === 'number' ? Math.round(reading.value) : 0;
      return shot.loop === 'none' && late !== 0 ? [{ steps: [{ remedy: 'trim', parameters: { front: -late } }] }] : [];
    },
  },
  make(subject, given) {
    const range = subject.range(given);
    const whole = (name: string): number => Math.round(given.number(name) ?? 0);
    const { from, to } = range ?? { from: 0, to: subject.samples - 1 };
    if (to >= subject.samples) throw new RemedyError('trim: the range goes over the end of the loop');
    const kept = Array.from({ length: to - from + 1 }, (_, k) => from + k);
    const [front, behind] = [whole('front'), whole('behind')];
    const left = kept.slice(Math.max(0, -front), kept.length - Math.max(0, -behind));
    if (left.length === 0) throw new RemedyError('trim: no frame is left');
    const moments = [
      ...Array.from({ length: Math.max(0, front) }, () => left[0]!),
      ...left,
      ...Array.from({ length: Math.max(0, behind) }, () => left.at(-1)!),
    ];
    const first = given.number('first');
    const named = first === undefined ? {} : { firstFrame: first };
    const exposure = given.number('exposure');
    const same = moments.length === subject.samples && moments.every((moment, f) => moment === f);
    const cut = same ? { motion: subject.motion } : retimedTo(subject, moments);
    if (exposure === undefined || exposure <= 1) return { ...cut, ...named };
    return { ...cut, motion: exposeOn(cut.motion, Math.round(exposure)), ...named };
  },
};
