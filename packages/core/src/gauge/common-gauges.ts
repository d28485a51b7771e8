import type { Gauge } from './gauge.ts';

/** What is expected of every exercise, from frame to frame. Common practice of the trade. */
export const FRAME_GAUGES: readonly Gauge[] = [
  {
    reading: 'exposure.held',
    from: 'blocking',
    band: [0, 0],
    weight: 11,
    why: 'A pose that stands longer than its neighbours in the midst of motion is seen as a hitch.',
  },
  {
    reading: 'exposure.missing',
    from: 'breakdowns',
    band: [0, 0],
    weight: 11,
    why: 'Where frames were cut out everything leaps on at once, and the eye sees the hole.',
  },
  {
    reading: 'exposure.pattern',
    from: 'blocking',
    allowed: ['ones', 'twos', 'threes', 'mixed', 'stepped'],
    weight: 90,
    why: 'A shot in which nothing moves is a drawing: there is nothing to time.',
  },
  {
    reading: 'spacing.corners',
    from: 'smoothing',
    band: [0, 25],
    near: 10,
    weight: 10,
    why: 'Nothing alive goes evenly from key to key and turns a corner at each: speeds grow and fade.',
  },
  {
    reading: 'arc.pop',
    from: 'smoothing',
    band: [0, 0],
    weight: 10,
    why: 'One frame out of place is seen as a flicker.',
  },
];

export const ARMS_GAUGE: Gauge = {
  reading: 'still.part',
  from: 'breakdowns',
  allowed: ['none'],
  weight: 8,
  why: 'The whole body takes part: arms that hang through it all are forgotten.',
};

export const SEAM_GAUGE: Gauge = {
  reading: 'cycle.seam',
  from: 'blocking',
  band: [0.4, 1.9],
  near: [0.06, 0.2],
  weight: 18,
  why: 'The loop must go on over its end as if there were none: near 0 a frame is there twice, over 2 the pose jumps.',
};

export const DRIFT_GAUGE: Gauge = {
  reading: 'cycle.drift',
  from: 'breakdowns',
  band: [0, 2],
  near: 1,
  weight: 14,
  why: 'A loop in place ends where it began; what has drifted jumps back each time it is played again.',
};

/** What is expected of hands that hold something, and of what stands about, where a format has it. */
export const PROP_GAUGES: readonly Gauge[] = [
  {
    reading: 'prop.slip',
    from: 'breakdowns',
    band: [0, 4],
    near: 2,
    weight: 6,
    why: 'What a hand carries stays in the hand: a grip that slides has no weight in it.',
  },
  {
    reading: 'prop.through',
    from: 'smoothing',
    band: [0, 0],
    near: 1,
    weight: 6,
    why: 'Nothing goes through what stands in the way.',
  },
];

/** What is expected of keys, where a format keeps them. */
export const KEY_GAUGES: readonly Gauge[] = [
  {
    reading: 'keys.partial',
    from: 'blocking',
    allowed: ['no part'],
    weight: 9,
    why: 'A part that is left out of a pose drifts through it.',
  },
  {
    reading: 'keys.lone',
    from: 'blocking',
    allowed: ['no part'],
    weight: 3,
    why: 'A key that belongs to no pose is lost when the timing is changed, unless it is a breakdown that is meant.',
  },
  {
    reading: 'keys.flat',
    from: 'smoothing',
    band: [0, 0],
    near: 1,
    weight: 5,
    why: 'Where every curve lies flat at one key, everything stops and starts at once.',
  },
  {
    reading: 'keys.between',
    from: 'blocking',
    band: [0, 0],
    weight: 4,
    why: 'A key between two frames is a pose that nobody sees.',
  },
];

/** A rest must be alive; a slow drift through it may pass where the whole body is looked at. */
export const ALIVE_GAUGE: Gauge = {
  reading: 'hold.kind',
  part: 'none',
  from: 'smoothing',
  allowed: ['moving', 'creeping'],
  weight: 10,
  why: 'A rest is not a freeze: a slight drift keeps it alive.',
};
