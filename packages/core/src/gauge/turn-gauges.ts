import { STEADY_BODY } from './body-gauges.ts';
import { HELD_GAUGE, POP_GAUGE } from './common-gauges.ts';
import type { Gauge } from './gauge.ts';

/** What is expected of head turns with moving holds. Rules of thumb of the trade (common practice). Times are frames at 24 fps. */
export const TURN_GAUGES: readonly Gauge[] = [
  HELD_GAUGE,
  POP_GAUGE,
  {
    reading: 'hold.kind',
    part: 'head',
    from: 'smoothing',
    allowed: ['moving'],
    weight: 10,
    why: 'A rest is neither a freeze nor a slow move: a slight drift keeps it alive, and equal keys with flat tangents keep it a rest.',
  },
  {
    reading: 'hold.frames',
    part: 'head',
    except: 'cut',
    from: 'blocking',
    band: [8, 32],
    near: [1, 8],
    weight: 40,
    why: 'A hold must be long enough to read: about 12 frames between two turns.',
  },
  {
    reading: 'move.frames',
    part: 'head',
    from: 'blocking',
    band: [4, 13],
    near: 1,
    weight: 20,
    why: 'A head turn takes about 8 frames; slower it reads as deliberate, not as smooth.',
  },
  {
    reading: 'arc.rise',
    part: 'head',
    from: 'breakdowns',
    band: [-40, -4],
    near: [5, 1],
    weight: 20,
    why: 'The chin dips in the middle of a turn; on a straight line the turn is dull.',
  },
  {
    reading: 'ease.in',
    part: 'head',
    of: 'evenness',
    from: 'smoothing',
    band: [0, 0.75],
    near: 0.03,
    weight: 12,
    why: 'A head turn starts slowly and stops slowly: even steps from end to end are mechanical.',
  },
  {
    reading: 'anticipation.depth',
    part: 'head',
    from: 'polish',
    band: [0, 40],
    near: 4,
    weight: 6,
    why: 'A small move the other way prepares the eye for the turn; a large one is a move of its own.',
  },
  {
    reading: 'overshoot.depth',
    part: 'head',
    from: 'polish',
    band: [0, 40],
    near: 4,
    weight: 6,
    why: 'A turn that goes a little past its end and comes back has weight; far past it swings.',
  },
  ...STEADY_BODY,
];
