import { defaultGauges } from '../src/gauge/gauges.ts';
import type { Kind } from '../src/motion/kinds.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { Patient } from '../src/remedy/cure.ts';

/** A shot that is to be put right, held against the usual gauges of its kind. */
export const patientOf = (motion: Motion, kind: Kind): Patient => ({
  shot: prepareShot(motion, { kind }),
  options: { kind },
  gauges: defaultGauges(kind, motion.fps),
  stage: 'polish',
});
