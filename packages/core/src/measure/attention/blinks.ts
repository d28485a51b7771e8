import type { BlendShape } from '../../motion/motion.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { count, frames as inFrames } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { type Closing, closingsOf } from '../pictures/pairs-and-shapes.ts';
import { made, type Measured, refuse } from '../reading.ts';

/** Both eyes that begin to close within so many frames of each other, at 24 fps, are one blink. */
export const TOGETHER = 2;

const shared = {
  needs: 'blend shapes of the eyelids',
  kinds: [],
  mark: 'timing',
  shows: 'head',
  ofShot: true,
} as const;

const BLINK = describeReading({
  ...shared,
  id: 'blink.frames',
  holds: holding<number, Omit<Closing, 'from'>>(),
  name: 'blink',
  unit: 'frames',
  time: true,
  about: 'head',
  say: ({ value, detail: { closing, closed, opening } }) =>
    `a blink takes ${inFrames(value)}: closing ${closing}, closed ${closed}, opening ${opening}`,
});
const COUNT = describeReading({
  ...shared,
  id: 'blink.count',
  holds: holding<number>(),
  name: 'blinks',
  unit: 'blinks',
  about: 'head',
  say: ({ value }) => (value === 0 ? 'it does not blink' : `it blinks ${count(value, 'time')}`),
});

export const BLINKS = [BLINK, COUNT] as const;

/** Names that the lids of an eye go by. */
const LID = /blink|lid|(eye|wink).*(clos|shut)|(clos|shut).*eye/i;

/** Names that points of an eye go by, where they are followed on pictures. */
const OF_AN_EYE = /blink|lid|lash|\beye(?!brow)/i;

/** Whether a pair of points is an eye that closes. */
export const isEye = (pair: readonly string[]): boolean => pair.every((name) => OF_AN_EYE.test(name));

/** The blend shapes of a shot that close an eye. */
export const lidsOf = ({ played }: PreparedShot): readonly BlendShape[] =>
  (played.motion.weights ?? []).filter(({ name }) => LID.test(name));

/**
 * `blink.frames`: each blink from where the lids begin to close until they are open again, with its closing, closed and opening frames (3, 3 and 3,
 * *common practice*). `blink.count`: how many there are; both eyes within two frames are one.
 */
export function measureBlinks(shot: PreparedShot): Measured {
  if (lidsOf(shot).length === 0) return refuse(BLINKS, 'no blend shape is named for a lid or a blink');
  const blinks = blinksOf(shot);
  return made(
    ...blinks.map(({ from, ...detail }) =>
      BLINK.of(detail.closing + detail.closed + detail.opening, { frames: [from], detail }),
    ),
    COUNT.of(blinks.length, { ...(blinks.length > 0 && { frames: blinks.map(({ from }) => from) }) }),
  );
}

/** Each blink of a figure whose lids close by blend shapes. */
export function blinksOf(shot: PreparedShot): Closing[] {
  const lids = lidsOf(shot);
  const label = (f: number): number => shot.firstFrame + f;
  const closings = lids
    .flatMap(({ values }) =>
      closingsOf(
        values.map((value) => 1 - Math.min(1, Math.max(0, value))),
        label,
      ),
    )
    .sort((a, b) => a.from - b.from);
  const within = TOGETHER * (shot.played.motion.fps / 24);
  return closings.filter(({ from }, k) => k === 0 || from - closings[k - 1]!.from > within);
}
