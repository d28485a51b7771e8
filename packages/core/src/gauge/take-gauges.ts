import { STANDING_FEET, STEADY_BODY, STANDING_BODY } from './body-gauges.ts';
import { ALIVE_GAUGE, ARMS_GAUGE } from './common-gauges.ts';
import type { Gauge } from './gauge.ts';

/** What is expected of a take. Rules of thumb of the trade (common practice), each with its reason. Times are frames at 24 fps. */
export const TAKE_GAUGES: readonly Gauge[] = [
  {
    reading: 'take.anticipation',
    from: 'blocking',
    band: [3, 12],
    near: [0.5, 2],
    weight: 30,
    why: 'The body goes down before it goes up: without it the accent comes from nowhere.',
  },
  {
    reading: 'take.accent',
    from: 'blocking',
    band: [1.5, 7],
    near: [0.3, 1],
    weight: 45,
    why: 'The accent is the stretch: over neutral, or the take has no peak.',
  },
  {
    reading: 'look.frames',
    from: 'blocking',
    band: [8, 30],
    near: [1, 4],
    weight: 24,
    why: 'A look held two frames is invisible; around a dozen reads.',
  },
  {
    reading: 'take.accentHold',
    from: 'blocking',
    band: [10, 24],
    near: [1, 4],
    weight: 24,
    why: 'The accent must be held long enough to read.',
  },
  { ...ALIVE_GAUGE, weight: 8 },
  {
    reading: 'twin.arms',
    from: 'breakdowns',
    band: [0, 65],
    near: 10,
    weight: 7,
    why: 'Arms that do the same at the same time read as one arm, twice.',
  },
  {
    reading: 'starts.together',
    from: 'breakdowns',
    band: [0, 0.79],
    // Of a figure that carries nothing one part of seven that is late is little, but it is not none.
    near: 0.07,
    weight: 6,
    why: 'The body starts, the rest follows: parts that all start on one frame move as one piece.',
  },
  {
    reading: 'move.frames',
    part: 'none',
    over: 'spread',
    from: 'breakdowns',
    band: [1.5, 1000],
    near: 1.5,
    weight: 4,
    why: 'Moves that all take as long as each other are mechanical: a take goes down slowly and up fast.',
  },
  ARMS_GAUGE,
  ...STEADY_BODY,
  ...STANDING_BODY,
  ...STANDING_FEET,
];
