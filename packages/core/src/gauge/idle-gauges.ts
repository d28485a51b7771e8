import type { Gauge } from './gauge.ts';

/** What is expected of an idle. Rules of thumb of the trade (common practice), each with its reason. */
export const IDLE_GAUGES: readonly Gauge[] = [
  {
    reading: 'cycle.seam',
    from: 'blocking',
    band: [0.5, 1.9],
    weight: 12,
    why: 'The loop must go on over its end as if there were none: near 0 a frame is there twice, over 2 the pose jumps.',
  },
  {
    reading: 'hold.kind',
    from: 'smoothing',
    allowed: ['moving', 'creeping'],
    weight: 10,
    why: 'Waiting is not a freeze: something in the body is always alive.',
  },
  {
    reading: 'arc.pop',
    from: 'smoothing',
    band: [0, 0],
    weight: 9,
    why: 'One frame out of place is seen as a flicker.',
  },
  {
    reading: 'breath.cycle',
    from: 'breakdowns',
    band: [26, 70],
    weight: 8,
    why: 'Calm breathing takes about 20 frames in and 15 out; faster looks out of breath.',
  },
  {
    reading: 'breath.ratio',
    from: 'smoothing',
    band: [1.02, 2.2],
    weight: 7,
    why: 'Breathing in is slower than out.',
  },
];
