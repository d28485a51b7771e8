import type { Gauge } from './gauge.ts';

/** What is expected of head turns with moving holds. Rules of thumb of the trade (common practice), each with its reason. */
export const TURN_GAUGES: readonly Gauge[] = [
  {
    reading: 'hold.kind',
    part: 'head',
    from: 'smoothing',
    allowed: ['moving'],
    weight: 10,
    why: 'A rest is neither a freeze nor a slow move: a slight drift keeps it alive, and equal keys with flat tangents keep it a rest.',
  },
  {
    reading: 'arc.pop',
    from: 'smoothing',
    band: [0, 0],
    weight: 11,
    why: 'One frame out of place is seen as a flicker.',
  },
  {
    reading: 'hold.frames',
    part: 'head',
    from: 'blocking',
    band: [8, 32],
    weight: 9,
    why: 'A hold must be long enough to read: about 12 frames between two turns.',
  },
  {
    reading: 'move.frames',
    part: 'head',
    from: 'blocking',
    band: [5, 13],
    weight: 8,
    why: 'A head turn takes about 8 frames; slower it reads as deliberate, not as smooth.',
  },
  {
    reading: 'arc.rise',
    part: 'head',
    from: 'breakdowns',
    band: [-40, -4],
    weight: 7,
    why: 'The chin dips in the middle of a turn; on a straight line the turn is dull.',
  },
];
