import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { atFrames } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { type Measured, refuse } from '../reading.ts';

const PARTIAL = describeReading({
  id: 'keys.partial',
  holds: holding<string>(),
  name: 'keys left out',
  unit: 'list',
  needs: 'a format that keeps keys',
  kinds: ['any'],
  fromPoses: true,
  mark: 'breakdown',
  ofShot: true,
  say: ({ frames }) => `some channels have no key where most have one${atFrames(frames)}`,
});

export const SPARSE_KEYS = [PARTIAL] as const;

/**
 * `keys.partial`: at a frame where at least half the channels have a key, those that have none. A motion that was read as samples has a
 * value for every channel at every frame, and nothing in it tells a key from an inbetween.
 */
export const measureSparseKeys = ({ played }: PreparedShot): Measured =>
  refuse(
    SPARSE_KEYS,
    `the file has a value for every joint at each of its ${played.motion.frames} frames, so keys can’t be told from inbetweens`,
  );
