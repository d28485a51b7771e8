import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { type Measured, unmade } from '../reading.ts';

/**
 * `keys.partial`: at a frame where at least half the channels have a key, those that have none. A motion that was read as samples has a
 * value for every channel at every frame, and nothing in it tells a key from an inbetween.
 */
export const measureSparseKeys = (shot: PreparedShot): Measured =>
  unmade(
    'keys.partial',
    `the file has a value for every joint at each of its ${shot.motion.frames} frames, so keys can’t be told from inbetweens`,
  );
