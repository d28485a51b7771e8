import type { Gauge } from './gauge.ts';

/** What is expected of every exercise. Common practice of the trade. */
export const POP_GAUGE: Gauge = {
  reading: 'arc.pop',
  from: 'smoothing',
  band: [0, 0],
  weight: 10,
  why: 'One frame out of place is seen as a flicker.',
};

export const HELD_GAUGE: Gauge = {
  reading: 'exposure.held',
  from: 'blocking',
  band: [0, 0],
  weight: 11,
  why: 'A pose that stands longer than its neighbours in the midst of motion is seen as a hitch.',
};

export const SEAM_GAUGE: Gauge = {
  reading: 'cycle.seam',
  from: 'blocking',
  band: [0.4, 1.9],
  near: [0.06, 0.2],
  weight: 18,
  why: 'The loop must go on over its end as if there were none: near 0 a frame is there twice, over 2 the pose jumps.',
};

/** A rest must be alive; a slow drift through it may pass where the whole body is looked at. */
export const ALIVE_GAUGE: Gauge = {
  reading: 'hold.kind',
  part: 'none',
  from: 'smoothing',
  allowed: ['moving', 'creeping'],
  weight: 10,
  why: 'A rest is not a freeze: a slight drift keeps it alive.',
};
