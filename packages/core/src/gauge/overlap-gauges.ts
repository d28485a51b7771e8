import { STEADY_BODY, SOUND_JOINTS } from './body-gauges.ts';
import type { Gauge } from './gauge.ts';

const FOLLOWS =
  'A chain does not move all at once: each joint starts and stops a little after the one before it, by 1 to 3 frames; of a long move by up to a third of it.';
const PAST = 'What moves and stops goes past its end and comes back; without that it has no weight.';

/** What is expected of an overlap drill, or of a lean. Rules of thumb of the trade (common practice). Times are frames at 24 fps. */
export const OVERLAP_GAUGES: readonly Gauge[] = [
  {
    reading: 'stray.motion',
    from: 'blocking',
    band: [0, 0.2],
    near: 0.1,
    weight: 11,
    why: 'The base of the rig is not animated unless the brief says so.',
  },
  ...(['spine', 'chain:*'] as const).flatMap((part): Gauge[] => [
    { reading: 'lag.together', part, from: 'breakdowns', allowed: [false], weight: 14, why: FOLLOWS },
    {
      reading: 'lag.frames',
      part,
      from: 'smoothing',
      // What takes its time starts part by part in thirds of its move.
      band: [6, 34],
      per: 'move',
      near: 0.25,
      weight: 12,
      why: FOLLOWS,
    },
    { reading: 'overshoot.depth', part, from: 'smoothing', band: [3, 60], near: [1, 10], weight: 8, why: PAST },
  ]),
  {
    reading: 'anticipation.depth',
    part: 'spine',
    except: 'small',
    from: 'blocking',
    band: [6, 40],
    near: [1.5, 5],
    weight: 10,
    why: 'A lean starts with a small move the other way: of 20 degrees, 4 to 5.',
  },
  {
    reading: 'hold.kind',
    part: 'spine',
    from: 'smoothing',
    allowed: ['moving'],
    weight: 8.2,
    why: 'A rest is neither a freeze nor a slow move: a slight drift keeps it alive.',
  },
  ...STEADY_BODY,
  ...SOUND_JOINTS,
];
