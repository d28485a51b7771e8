import type { Gauge } from './gauge.ts';

/** What is expected of a take. Rules of thumb of the trade (common practice), each with its reason. */
export const TAKE_GAUGES: readonly Gauge[] = [
  {
    reading: 'take.anticipation',
    from: 'blocking',
    band: [3, 12],
    weight: 10,
    why: 'The body goes down before it goes up: without it the accent comes from nowhere.',
  },
  {
    reading: 'take.accent',
    from: 'blocking',
    band: [1.5, 7],
    weight: 10,
    why: 'The accent is the stretch: over neutral, or the take has no peak.',
  },
  {
    reading: 'arc.pop',
    from: 'smoothing',
    band: [0, 0],
    weight: 9.5,
    why: 'One frame out of place is seen as a flicker.',
  },
  {
    reading: 'look.frames',
    from: 'blocking',
    band: [8, 30],
    weight: 9,
    why: 'A look held two frames is invisible; around a dozen reads.',
  },
  {
    reading: 'take.accentHold',
    from: 'blocking',
    band: [10, 24],
    weight: 9,
    why: 'The accent must be held long enough to read.',
  },
  {
    reading: 'hold.kind',
    from: 'smoothing',
    allowed: ['moving', 'creeping'],
    weight: 8,
    why: 'A rest is not a freeze: a slight drift keeps it alive.',
  },
  {
    reading: 'twin.arms',
    from: 'breakdowns',
    band: [0, 65],
    weight: 7,
    why: 'Arms that do the same at the same time read as one arm, twice.',
  },
  {
    reading: 'starts.together',
    from: 'breakdowns',
    band: [0, 0.79],
    weight: 6,
    why: 'The body starts, the rest follows: parts that all start on one frame move as one piece.',
  },
];
